import type { TextRange } from './edits.ts';

/** The longest stretch around a range whose other characters are all of one class. */
export function stretchAround(text: string, { start, end }: TextRange, allowed: RegExp, reach: number): { text: string; start: number } {
  const plain = plainOf(allowed);
  const isAllowed = (at: number): boolean => {
    const code = text.charCodeAt(at);
    return code < 128 ? plain[code] === true : allowed.test(text.charAt(at));
  };
  let from = start;
  let to = end;
  while (from > 0 && start - from < reach && isAllowed(from - 1)) from--;
  while (to < text.length && to - end < reach && isAllowed(to)) to++;
  return { text: text.slice(from, to), start: from };
}

/** By the source of a class (none ignores case), which characters of ASCII are in it: to ask a table is several times faster. */
const PLAIN = new Map<string, readonly boolean[]>();

function plainOf(allowed: RegExp): readonly boolean[] {
  const known = PLAIN.get(allowed.source);
  if (known !== undefined) return known;
  const table = Array.from({ length: 128 }, (_, code) => allowed.test(String.fromCharCode(code)));
  PLAIN.set(allowed.source, table);
  return table;
}

/** The identifier around a range, as code or a stylesheet sees it. */
export function identifierAround(text: string, { start, end }: TextRange): { name: string; start: number } {
  const stretch = stretchAround(text, { start, end }, /[\p{L}\p{N}\p{M}_-]/u, 80);
  return { name: stretch.text, start: stretch.start };
}

/** The same where a name holds no hyphen. */
export function wordAround(text: string, { start, end }: TextRange): { name: string; start: number } {
  const stretch = stretchAround(text, { start, end }, /[\p{L}\p{N}\p{M}_]/u, 80);
  return { name: stretch.text, start: stretch.start };
}

/** The line around a range, cut where it goes on for more than `reach` characters. */
export function lineAround(text: string, at: TextRange, reach: number): { line: string; start: number; isCut: [boolean, boolean] } {
  const head = text.slice(Math.max(0, at.start - reach), at.start);
  const tail = text.slice(at.end, at.end + reach);
  const lineStart = Math.max(head.lastIndexOf('\n'), head.lastIndexOf('\r'));
  const lineEnd = tail.search(/[\r\n]/);
  const start = at.start - head.length + lineStart + 1;
  const end = at.end + (lineEnd < 0 ? tail.length : lineEnd);
  return { line: text.slice(start, end), start, isCut: [lineStart < 0 && start > 0, lineEnd < 0 && end < text.length] };
}

/** A slice of a text keeps the whole text in memory; a copy does not. */
export function ownCopy(text: string): string {
  return Buffer.from(text, 'utf16le').toString('utf16le');
}

/** Whether a range lies between two tags that code writes: `<Card>Albar</Card>` in a script. */
export function isElementText(text: string, { start, end }: TextRange): boolean {
  const head = text.slice(Math.max(0, start - 120), start);
  return />[^<>{}();=]*$/.test(head) && !/=>[^<>{}();=]*$/.test(head) && /^[^<>{}();=]*<\/?[A-Za-z]/.test(text.slice(end, end + 120));
}
