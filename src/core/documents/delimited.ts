import { compareRanges, type TextEdit, type TextRange } from '../text/edits.ts';

/** What may stand between two entries besides the comma: white space and the comments of any of our syntaxes. */
const GAP = /(?:\s|\/\*[^]*?\*\/|\/\/[^\n]*|#[^\n]*)*/y;

/** The rest of a line when it holds nothing but a comment. */
const LINE_REST = /[ \t]*(?:\/\*[^\n]*?\*\/[ \t]*|\/\/[^\r\n]*|#[^\r\n]*)?/y;

function matchAt(pattern: RegExp, text: string, at: number): number {
  pattern.lastIndex = at;
  return at + (pattern.exec(text)?.[0].length ?? 0);
}

/** The offset after the comma that follows an entry; undefined when none does. */
function afterComma(text: string, end: number): number | undefined {
  const at = matchAt(GAP, text, end);
  return text.charAt(at) === ',' ? at + 1 : undefined;
}

/** The white space before an offset, when nothing else stands before it on its line. */
function ownLineIndent(text: string, at: number): string | undefined {
  const lineStart = text.lastIndexOf('\n', at - 1) + 1;
  const head = text.slice(lineStart, at);
  return lineStart > 0 && /^[ \t]*$/.test(head) ? head : undefined;
}

function lineEndOf(text: string): string {
  return text.includes('\r\n') ? '\r\n' : '\n';
}

/**
 * Edits that put an entry among the comma-separated entries of a bracketed list or map, after the entry of an index (-1:
 * first). The container's range takes in its brackets. Lines, indentation and trailing commas follow what is there.
 */
export function insertDelimited(
  text: string,
  container: TextRange,
  entries: readonly TextRange[],
  after: number,
  entry: string,
): TextEdit[] {
  const end = lineEndOf(text);
  const first = entries[0];
  if (first === undefined) {
    const isOpen = text.slice(container.start, container.end).includes('\n');
    const outer = /^[ \t]*/.exec(text.slice(text.lastIndexOf('\n', container.start) + 1))?.[0] ?? '';
    const inner = isOpen ? `${end}${outer}  ${entry},${end}${outer}` : entry;
    // A comment in an otherwise empty container stays before the new entry.
    const hasComment = text.slice(container.start + 1, container.end - 1).trim() !== '';
    return [{ start: hasComment ? container.end - 1 : container.start + 1, end: container.end - 1, text: inner }];
  }
  if (after < 0) {
    const indent = ownLineIndent(text, first.start);
    return [{ start: first.start, end: first.start, text: `${entry},${indent === undefined ? ' ' : end + indent}` }];
  }
  const previous = entries[Math.min(after, entries.length - 1)] ?? first;
  const indent = ownLineIndent(text, previous.start);
  const comma = afterComma(text, previous.end);
  if (indent === undefined) {
    if (comma === undefined || after >= entries.length - 1) return [{ start: previous.end, end: previous.end, text: `, ${entry}` }];
    return [{ start: comma, end: comma, text: ` ${entry},` }];
  }
  const restEnd = matchAt(LINE_REST, text, comma ?? previous.end);
  const isLineDone = /^\r?\n|^$/.test(text.slice(restEnd, restEnd + 2)) || restEnd >= text.length;
  const at = isLineDone ? restEnd : (comma ?? previous.end);
  if (comma !== undefined) return [{ start: at, end: at, text: `${end}${indent}${entry},` }];
  if (at === previous.end) return [{ start: at, end: at, text: `,${end}${indent}${entry}` }];
  return [
    { start: previous.end, end: previous.end, text: ',' },
    { start: at, end: at, text: `${end}${indent}${entry}` },
  ];
}

/** Edits that take the entry of an index out of a bracketed container, with its comma, and its line if it has one. */
export function removeDelimited(text: string, container: TextRange, entries: readonly TextRange[], index: number): TextEdit[] {
  const entry = entries[index];
  if (entry === undefined) return [];
  const previous = entries[index - 1];
  const next = entries[index + 1];
  const comma = afterComma(text, entry.end);
  if (previous === undefined && next === undefined) {
    const end = comma ?? entry.end;
    const isAlone = text.slice(container.start + 1, entry.start).trim() === '' && text.slice(end, container.end - 1).trim() === '';
    return [isAlone ? { start: container.start + 1, end: container.end - 1, text: '' } : { start: entry.start, end, text: '' }];
  }
  const indent = ownLineIndent(text, entry.start);
  if (indent === undefined) {
    if (next !== undefined) return [{ start: entry.start, end: next.start, text: '' }];
    return [{ start: previous?.end ?? entry.start, end: entry.end, text: '' }];
  }
  const start = entry.start - indent.length;
  const restEnd = matchAt(LINE_REST, text, comma ?? entry.end);
  const lineBreak = /^\r?\n/.exec(text.slice(restEnd, restEnd + 2))?.[0].length ?? 0;
  if (lineBreak === 0) return [{ start: entry.start, end: next?.start ?? entry.end, text: '' }];
  const edits: TextEdit[] = [{ start, end: restEnd + lineBreak, text: '' }];
  // The last entry without a comma: the one before it must not have one either.
  const commaBefore = previous === undefined ? undefined : afterComma(text, previous.end);
  if (next === undefined && comma === undefined && commaBefore !== undefined)
    edits.push({ start: commaBefore - 1, end: commaBefore, text: '' });
  return edits.sort(compareRanges);
}
