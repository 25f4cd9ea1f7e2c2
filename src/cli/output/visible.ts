import { randomBytes } from 'node:crypto';

/** Marks a control sequence as ours, from which no text from outside can be made: it is another one in every run. */
let ours: string | undefined;

/** A control sequence of our own (without the escape character), for {@link visible} to let through. */
export function controlSequence(sequence: string): string {
  ours ??= `\u001b{${randomBytes(12).toString('hex')}}`;
  return ours + sequence;
}

/**
 * Characters that a terminal obeys, or that show text as another than it is: C0 and C1 controls except tab and line feed,
 * and of the format characters (Unicode 16, category Cf) those for direction, joining and width.
 */
const OBEYED =
  // eslint-disable-next-line no-control-regex
  /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u00ad\u061c\u180e\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufeff\ufff9-\ufffb]|[\u{e0000}-\u{e007f}]/gu;

const NAMED: Readonly<Record<string, string>> = { '\r': '\\r', '\0': '␀', '\u007f': '␡' };

/**
 * Text for people as it may be printed: whatever comes from file names, documents, arguments or platform files is shown and
 * not obeyed (`␛[31m`); only our own control sequences are left.
 */
export function visible(text: string): string {
  return (ours === undefined ? [text] : text.split(ours)).map((part) => part.replace(OBEYED, shown)).join('\u001b');
}

/** Like {@link visible}, for what must not begin a new line: a name, a message. */
export function oneLine(text: string): string {
  return text.replace(/\n/g, '\\n');
}

function shown(character: string): string {
  const code = character.codePointAt(0) ?? 0;
  // The pictures of the controls stand in the same order (U+2400 …).
  return NAMED[character] ?? (code < 0x20 ? String.fromCodePoint(0x2400 + code) : `\\u{${code.toString(16)}}`);
}
