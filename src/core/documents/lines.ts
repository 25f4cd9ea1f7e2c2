import type { TextEdit } from '../text/edits.ts';
import type { MapEntry } from './syntax.ts';

/** What begins a document of a file that has nothing else; undefined where there is anything. */
export function beginEmpty(text: string, beginning: string): TextEdit[] | undefined {
  return text.trim() === '' ? [{ start: 0, end: text.length, text: beginning }] : undefined;
}

/** The line end that a text uses. */
export function lineEndOf(text: string): '\r\n' | '\n' {
  return text.includes('\r\n') ? '\r\n' : '\n';
}

/** The end of the line that an offset lies in, its line end not included. */
export function endOfLine(text: string, at: number): number {
  const end = /[^\r\n]*/.exec(text.slice(at))?.[0].length ?? 0;
  return at + end;
}

/** Edits that put a line after the line of an entry, with its indentation. */
export function lineEntryEdits(text: string, anchor: MapEntry, line: string): TextEdit[] {
  const at = endOfLine(text, anchor.value.end);
  const indent = /[ \t]*$/.exec(text.slice(text.lastIndexOf('\n', anchor.keyStart - 1) + 1, anchor.keyStart))?.[0] ?? '';
  return [{ start: at, end: at, text: `${lineEndOf(text)}${indent}${line}` }];
}

/** An edit that takes the lines of an entry out. */
export function removeLine(text: string, entry: MapEntry): TextEdit {
  const start = text.lastIndexOf('\n', entry.keyStart - 1) + 1;
  const end = endOfLine(text, entry.value.end);
  return { start, end: end + (/^\r?\n/.exec(text.slice(end, end + 2))?.[0].length ?? 0), text: '' };
}
