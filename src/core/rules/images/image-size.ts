import { readPictureHead } from '../../files/read-text.ts';
import { imageSize } from 'image-size';
import { followLinks, UnreadableFileError } from '../../files/file-tree.ts';
import type { ImageContract } from '../../platform/schema.ts';
import { fillShape } from '../../names/shape.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  compress: 'save it with a stronger compression',
  crop: 'crop it to {ratio}',
  'larger-picture': 'take a larger picture',
  'save-as': 'save it as {format}',
  'save-with-pixels': 'save it with {width} × {height} pixels',
});

/** Pictures that the host shows: there, readable, in the wanted format and size. */
export const imageSizeRule: Rule = {
  meta: {
    id: 'image/size',
    severity: 'warning',
    isNameBlind: true,
    summary: 'A picture has another size or format than the host wants',
    why: 'Hosts crop or stretch a picture of another size, and show nothing for one that they cannot decode.',
    messages: {
      size: 'the {role} has {width} × {height} pixels; expected: {wantedWidth} × {wantedHeight}',
      small: 'the {role} has {width} × {height} pixels; expected: {wanted}',
      ratio: 'the {role} has {width} × {height} pixels; expected: {ratio}',
      format: 'the {role} is called {path} but is a {format} file inside',
      broken: 'the {role} is not a picture that can be read',
      bytes: 'the {role} has {bytes} bytes; at most {limit} are allowed',
    },
    example: { none: 'it is about the bytes of a picture' },
  },
  *check({ theme }) {
    for (const image of theme.platform.contract.images) {
      const path = fillShape(image.path, theme.names);
      const entry = followLinks(theme.tree, path);
      if (entry?.kind !== 'file') continue;
      const at = { file: path };
      const limit = image['max-bytes'];
      if (limit !== undefined && entry.size > limit) {
        yield {
          ...at,
          message: 'bytes',
          args: { role: image.role, bytes: entry.size, limit },
          hint: advise('compress'),
        };
      }
      const measured = measure(theme, path);
      if (measured === 'unreadable') continue;
      if (measured === undefined) {
        yield { ...at, message: 'broken', args: { role: image.role }, hint: advise('save-again', { format: image.formats.join(' or ') }) };
        continue;
      }
      const { width, height, format } = measured;
      if (!(image.formats as readonly string[]).includes(format)) {
        yield {
          ...at,
          message: 'format',
          args: { role: image.role, path, format },
          hint: advise('save-as', { format: image.formats.join(' or ') }),
        };
      } else if (hasOtherSize(image, width, height)) {
        yield {
          ...at,
          message: 'size',
          args: { role: image.role, width, height, wantedWidth: image.width ?? width, wantedHeight: image.height ?? height },
          hint: advise('save-with-pixels', { width: image.width ?? width, height: image.height ?? height }),
        };
      } else if (width < (image['min-width'] ?? 0) || height < (image['min-height'] ?? 0)) {
        const wanted = [image['min-width'], image['min-height']].map((least) => least ?? 'any').join(' × ');
        yield {
          ...at,
          message: 'small',
          args: { role: image.role, width, height, wanted: `at least ${wanted}` },
          hint: advise('larger-picture'),
        };
      } else if (image.ratio !== undefined && hasOtherRatio(image.ratio, width, height)) {
        const args = { role: image.role, width, height, ratio: image.ratio };
        yield { ...at, message: 'ratio', args, hint: advise('crop', { ratio: image.ratio }) };
      }
    }
  },
};

function hasOtherSize(image: ImageContract, width: number, height: number): boolean {
  return (image.width !== undefined && image.width !== width) || (image.height !== undefined && image.height !== height);
}

/** Whether the ratio is another one, by more than rounding to whole pixels makes it. */
function hasOtherRatio(ratio: string, width: number, height: number): boolean {
  const [wide = 1, high = 1] = ratio.split(':').map(Number);
  return Math.abs(width * high - height * wide) > Math.max(wide, high);
}

/** Width and height in pixels, read from the file's head; undefined when it is not a picture. */
function measure(theme: Theme, path: string): { width: number; height: number; format: string } | 'unreadable' | undefined {
  try {
    const { width, height, type } = imageSize(readPictureHead(theme.tree, path));
    return { width, height, format: type === 'jpeg' ? 'jpg' : (type ?? '') };
  } catch (error) {
    return error instanceof UnreadableFileError ? 'unreadable' : undefined;
  }
}
