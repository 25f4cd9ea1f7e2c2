import type { TextEdit } from '../../text/edits.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import { kindOfPath } from '../../text/file-kinds.ts';

/** A line of one sign again and again, as below and above a heading (reStructuredText, Sections; Markdown, setext headings). */
const RULE = /^([!-/:-@[-`{-~])\1+$/;

/**
 * Makes the lines below and above headings as long as the headings are after some edits: under a shorter one they are plain text.
 * @param edits of the names, sorted; they do not overlap
 * @returns the edits of these lines alone
 */
export function underlineEdits({ file, text }: SourceDocument, edits: readonly TextEdit[]): TextEdit[] {
  if (edits.length === 0 || kindOfPath(file) !== 'prose') return [];
  const lines: { readonly start: number; readonly line: string }[] = [];
  let start = 0;
  for (const whole of text.split('\n')) {
    lines.push({ start, line: whole.replace(/\r$/, '') });
    start += whole.length + 1;
  }
  let next = 0;
  return lines.flatMap(({ start, line }, i) => {
    const below = lines[i + 1];
    const first = next;
    while ((edits[next]?.end ?? Infinity) <= start + line.length) next++;
    const own = edits.slice(first, next).filter((edit) => edit.start >= start);
    if (own.length === 0 || below === undefined || !RULE.test(below.line) || below.line.length < width(line.trimEnd())) return [];
    const change = own.reduce((sum, edit) => sum + width(edit.text) - width(text.slice(edit.start, edit.end)), 0);
    const above = lines[i - 1];
    // Below other text it is the line of that heading.
    const isAbove = above?.line === below.line && (lines[i - 2]?.line.trim() ?? '') === '';
    return [below, ...(isAbove ? [above] : [])].flatMap((rule) => lengthened(rule, change));
  });
}

function lengthened({ start, line }: { readonly start: number; readonly line: string }, change: number): TextEdit[] {
  const end = start + line.length;
  if (change > 0) return [{ start: end, end, text: line.charAt(0).repeat(change) }];
  const left = Math.max(2, line.length + change);
  return left === line.length ? [] : [{ start: start + left, end, text: '' }];
}

/** Characters, with their marks as one. */
function width(text: string): number {
  return Array.from(text.normalize('NFC')).length;
}
