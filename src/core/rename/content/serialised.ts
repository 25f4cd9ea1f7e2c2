import type { TextEdit } from '../../text/edits.ts';
import type { SourceDocument } from '../../text/source-document.ts';

/**
 * The head of a string, class name or custom object as PHP's serialize() writes it: `s:5:"albar";`. The length counts
 * bytes. In a quoted string the quotes themselves are escaped.
 */
const HEAD = /\b[sSOCE]:(\d+):(\\?["'])/g;

/**
 * Corrects the stated lengths of serialized strings that edits make longer or shorter. Strings within strings come out
 * right too, because the inner length is part of the outer string.
 * @param edits of the names, sorted; they do not overlap
 * @returns the edits of the lengths alone
 */
export function lengthEdits(source: SourceDocument, edits: readonly TextEdit[]): TextEdit[] {
  const { text } = source;
  if (edits.length === 0 || !/:\d+:\\?["']/.test(text)) return [];
  const lengths: TextEdit[] = [];
  // From the last to the first: what lies inside is settled before what holds it.
  for (const head of [...text.matchAll(HEAD)].toReversed()) {
    const [whole, digits = '', quote = ''] = head;
    const start = head.index + whole.length;
    const end = endOfBytes(source, start, Number(digits));
    if (end === undefined || !text.startsWith(quote, end) || !/^[;:]/.test(text.slice(end + quote.length))) continue;
    const inside = [...edits, ...lengths].filter((edit) => edit.start >= start && edit.end <= end);
    const change = inside.reduce(
      (sum, edit) => sum + source.byteLength(edit.text) - source.byteLength(text.slice(edit.start, edit.end)),
      0,
    );
    const at = head.index + 2;
    if (change !== 0) lengths.push({ start: at, end: at + digits.length, text: String(Number(digits) + change) });
  }
  return lengths;
}

/** The offset at which so many bytes of the text end; undefined when that is not between two characters. */
function endOfBytes(source: SourceDocument, start: number, bytes: number): number | undefined {
  // Characters have at most three bytes for each UTF-16 unit, so the end lies within so many units.
  const reach = source.text.slice(start, start + bytes);
  if (source.byteLength(reach) === bytes) return start + reach.length;
  let left = bytes;
  let at = start;
  while (left > 0 && at < source.text.length) {
    const character = String.fromCodePoint(source.text.codePointAt(at) ?? 0);
    left -= source.byteLength(character);
    at += character.length;
  }
  return left === 0 ? at : undefined;
}
