import { imageSize } from 'image-size';
import { readBytes, readPictureHead } from '../../files/read-text.ts';
import { wholePattern } from '../../names/shape.ts';
import { advices } from '../advice.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Rule } from '../rule.ts';

/** The format in a file's name, in the words of the file's header. */
const BY_EXTENSION: Readonly<Record<string, string>> = { png: 'png', jpg: 'jpg', jpeg: 'jpg', gif: 'gif', webp: 'webp', bmp: 'bmp' };

const advise = advices({
  'rename-or-save': 'rename it to .{ending}, or save it as {format}',
});

/** Pictures that are another format than their names say. */
export const imageFormat: Rule = {
  meta: {
    id: 'image/format',
    severity: 'warning',
    isSeen: true,
    isNameBlind: true,
    summary: 'A picture is another format than its name says',
    why: 'Servers tell browsers the format by the name; strict browsers and image tools then refuse the picture.',
    messages: { differs: '{path} is a {format} file inside', broken: '{path} is not a picture that can be read' },
    example: { none: 'it is about the bytes of a picture' },
  },
  *checkFile(path, { theme, once }) {
    const wanted = BY_EXTENSION[/\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? ''];
    // The pictures that the platform asks for have a rule of their own.
    if (wanted === undefined || once(wantedPictures).some((role) => role.test(path))) return;
    const head = readBytes(theme.tree, path, () => true);
    if (head === undefined) return;
    const format = formatOf(head) ?? formatOf(readPictureHead(theme.tree, path));
    if (format === wanted) return;
    const hint =
      format === undefined ? advise('save-again', { format: wanted }) : advise('rename-or-save', { ending: format, format: wanted });
    yield { message: format === undefined ? 'broken' : 'differs', args: { path, format }, file: path, hint };
  },
};

function wantedPictures({ platform, names }: Theme): RegExp[] {
  return platform.contract.images.map((image) => wholePattern(image.path, names));
}

function formatOf(bytes: Buffer): string | undefined {
  try {
    return imageSize(bytes).type;
  } catch {
    return undefined;
  }
}
