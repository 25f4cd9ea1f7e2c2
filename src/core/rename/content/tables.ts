import type { TextEdit } from '../../text/edits.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import { kindOfPath } from '../../text/file-kinds.ts';

/** A line of a text, without its end. */
interface Line {
  readonly start: number;
  readonly text: string;
}

/** Lines that make a table, and the offsets in a line at which its columns end. */
interface Table {
  readonly lines: readonly Line[];
  readonly ends: readonly number[];
}

/**
 * Makes the columns of tables as wide as what stands in them after some edits: grid and simple tables of reStructuredText, whose
 * columns are told by where they stand, and tables of Markdown whose columns are aligned.
 * @param edits of the names, sorted; they do not overlap
 * @returns the edits of blanks and rules alone
 */
export function tableEdits({ file, text }: SourceDocument, edits: readonly TextEdit[]): TextEdit[] {
  if (edits.length === 0 || kindOfPath(file) !== 'prose' || !/^[ \t]*(?:\+[-=]|=+ +=|\|)/m.test(text)) return [];
  return tablesIn(linesOf(text)).flatMap((table) => widened(table, edits));
}

function linesOf(text: string): Line[] {
  const lines: Line[] = [];
  let start = 0;
  for (const whole of text.split('\n')) {
    lines.push({ start, text: whole.replace(/\r$/, '') });
    start += whole.length + 1;
  }
  return lines;
}

const GRID_RULE = /^[ \t]*\+(?:[-=]+\+)+\s*$/;
const SIMPLE_RULE = /^[ \t]*=+(?: +=+)+\s*$/;

function tablesIn(lines: readonly Line[]): Table[] {
  const tables: Table[] = [];
  for (let at = 0; at < lines.length; at++) {
    const first = lines[at]?.text ?? '';
    const sort = SORTS.find(({ begins }) => begins.test(first));
    const own = sort?.linesFrom(lines, at) ?? [];
    if (sort === undefined || own.length === 0) continue;
    if (own.length > 1 && sort.isTable(own)) tables.push({ lines: own, ends: sort.endsIn(first) });
    // Other lines that begin like a table are not looked at again either.
    at += own.length - 1;
  }
  return tables;
}

/** A sort of tables: how one begins, which lines can belong to it, whether they make one, and where its columns end. */
interface Sort {
  readonly begins: RegExp;
  linesFrom(lines: readonly Line[], from: number): readonly Line[];
  isTable(own: readonly Line[]): boolean;
  endsIn(first: string): number[];
}

const SORTS: readonly Sort[] = [
  {
    begins: GRID_RULE,
    linesFrom: (lines, from) => run(lines, from, (line) => /^\s*[+|]/.test(line)),
    isTable: () => true,
    endsIn: (first) => offsetsOf(first, '+').slice(1),
  },
  {
    begins: SIMPLE_RULE,
    linesFrom: untilLastRule,
    isTable: (own) => own.at(-1)?.text === own[0]?.text,
    endsIn: (first) => [...first.matchAll(/=+(?= )/g)].map((match) => match.index + match[0].length),
  },
  {
    // Of Markdown, where all lines have their signs in the same places; others need no blanks.
    begins: /^\s*\|.*\|\s*$/,
    linesFrom: (lines, from) => run(lines, from, (line) => /^\s*\|/.test(line)),
    isTable: (own) => {
      const places = offsetsOf(own[0]?.text ?? '', '|').join();
      return /^[\s|:-]+$/.test(own[1]?.text ?? '') && own.every(({ text }) => offsetsOf(text, '|').join() === places);
    },
    endsIn: (first) => offsetsOf(first, '|').slice(1),
  },
];

function run(lines: readonly Line[], from: number, isPart: (line: string) => boolean): readonly Line[] {
  let to = from;
  while (to < lines.length && isPart(lines[to]?.text ?? '')) to++;
  return lines.slice(from, to);
}

/** A simple table ends with a rule that a blank line follows; its head, down to the second rule, holds none. */
function untilLastRule(lines: readonly Line[], from: number): readonly Line[] {
  const isBlank = (at: number): boolean => (lines[at]?.text ?? '').trim() === '';
  let end = from;
  let at = from + 1;
  for (; at < lines.length && !(isBlank(at) && (end === from || isBlank(at + 1))); at++) {
    if (lines[at]?.text !== lines[from]?.text) continue;
    end = at;
    if (isBlank(at + 1)) break;
  }
  return lines.slice(from, end > from ? end + 1 : at);
}

function offsetsOf(line: string, sign: string): number[] {
  return Array.from(line).length === line.length ? line.split('').flatMap((each, i) => (each === sign ? [i] : [])) : [];
}

/** The blanks and signs of rules that go in, or out, before the ends of columns. */
function widened({ lines, ends }: Table, edits: readonly TextEdit[]): TextEdit[] {
  const first = lines[0];
  const last = lines.at(-1);
  if (first === undefined || last === undefined || ends.length === 0) return [];
  const own = edits.filter((edit) => edit.start >= first.start && edit.end <= last.start + last.text.length);
  if (own.length === 0) return [];
  const rows = lines.map((line) => ends.map((end, column) => growthOf(line, ends[column - 1] ?? 0, end, own)));
  const needs = ends.map((_end, column) => Math.max(0, ...rows.map((row) => (row[column]?.change ?? 0) - (row[column]?.room ?? 0))));
  return lines.flatMap((line, i) =>
    ends.flatMap((end, column): TextEdit[] => {
      const { change = 0 } = rows[i]?.[column] ?? {};
      const more = (needs[column] ?? 0) - change;
      const at = line.start + Math.min(end, line.text.length);
      if (more === 0 || end > line.text.length) return [];
      const sign = /[-=]/.test(line.text.charAt(end - 1)) && !/\w/.test(line.text) ? line.text.charAt(end - 1) : ' ';
      return more > 0 ? [{ start: at, end: at, text: sign.repeat(more) }] : [{ start: at + more, end: at, text: '' }];
    }),
  );
}

/** By how much a cell grows, and how many blanks at its end can go for that: one stays. */
function growthOf({ start, text }: Line, from: number, to: number, edits: readonly TextEdit[]): { change: number; room: number } {
  const inside = edits.filter((edit) => edit.start >= start + from && edit.end <= start + to);
  const change = inside.reduce((sum, edit) => sum + edit.text.length - (edit.end - edit.start), 0);
  const cell = text.slice(from, to);
  const blanks = cell.length - cell.trimEnd().length;
  const isRuled = /[|+]/.test(text.charAt(to));
  return { change, room: inside.length === 0 ? 0 : isRuled ? Math.max(0, blanks - 1) : blanks };
}
