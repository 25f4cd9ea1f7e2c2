import { baseOf, UnreadableFileError } from '../../files/file-tree.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** As much of a picture's end as tells whether it is all there; some programs write a little behind it. */
const TAIL_BYTES = 1 << 16;

/**
 * Whether the end of a picture is there, by its format: the IEND chunk of PNG (ISO/IEC 15948, 5.6), the end-of-image marker of
 * JPEG (ITU-T T.81, B.1.1.3), the trailer of GIF (GIF89a, 27).
 */
const HAS_END: Readonly<Record<string, (tail: Buffer) => boolean>> = {
  png: (tail) => tail.includes(Buffer.from('IEND\xae\x42\x60\x82', 'latin1')),
  jpg: (tail) => tail.includes(Buffer.from([0xff, 0xd9])),
  jpeg: (tail) => tail.includes(Buffer.from([0xff, 0xd9])),
  gif: (tail) => tail.includes(0x3b, Math.max(0, tail.length - 64)),
};

const HEADS: Readonly<Record<string, string>> = { png: '\x89PNG', jpg: '\xff\xd8\xff', jpeg: '\xff\xd8\xff', gif: 'GIF8' };

const advise = advices({
  'copy-again': 'copy it again from where it is whole',
});

/** Pictures that break off before their end. */
export const imageCut: Rule = {
  meta: {
    id: 'image/cut',
    severity: 'warning',
    isNameBlind: true,
    isSeen: true,
    summary: 'A picture breaks off',
    why: 'A copy that was interrupted leaves the beginning of the file: browsers show half of the picture, or none.',
    messages: { cut: '{path} breaks off before the end of the picture' },
    example: { none: 'it is about the bytes of a picture' },
  },
  *checkFile(path, { theme }) {
    const format = /\.(\w+)$/.exec(baseOf(path))?.[1]?.toLowerCase() ?? '';
    const hasEnd = Object.hasOwn(HAS_END, format) ? HAS_END[format] : undefined;
    const tail = hasEnd === undefined ? undefined : tailOf(theme, path);
    // A picture of another format inside, or of none, has a finding of its own.
    if (hasEnd === undefined || tail === undefined || !startsLike(theme, path, format) || hasEnd(tail)) return;
    yield { message: 'cut', args: { path }, file: path, hint: advise('copy-again') };
  },
};

function tailOf({ tree }: Theme, path: string): Buffer | undefined {
  try {
    return tree.tail(path, TAIL_BYTES);
  } catch (error) {
    if (error instanceof UnreadableFileError) return undefined;
    throw error;
  }
}

function startsLike({ tree }: Theme, path: string, format: string): boolean {
  const head = HEADS[format] ?? '';
  return (
    tree
      .read(path, () => true)
      .subarray(0, head.length)
      .toString('latin1') === head
  );
}
