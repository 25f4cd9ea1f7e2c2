import type { TextEdit } from '../text/edits.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { lineEndOf } from './lines.ts';
import { structuredSyntax } from './structured.ts';
import type { MapEntry, Reading } from './syntax.ts';

/** The comments of the languages that themes are written in. */
const COMMENTS: readonly (readonly [open: string, close: string])[] = [
  ['/*', '*/'],
  ['<!--', '-->'],
  ['{{!--', '--}}'],
  ['{{!', '}}'],
  ['{#', '#}'],
];

/**
 * `Key: value` lines in the first comment of a file (CSS, HTML, PHP, JavaScript, templates). Lines may begin with `*`.
 * Other lines of the comment are prose.
 */
export const headerLinesSyntax = structuredSyntax({
  name: 'header-lines',
  isPart: true,
  problemOfPath: (path) =>
    path.length === 1 && /^[A-Za-z][\w -]{0,40}$/.test(path[0] ?? '')
      ? undefined
      : 'a header line has one key: a letter, then letters, digits, “-” and blanks',
  begin: beginHeader,
  read: readHeaderLines,
  writeScalar: (value) => String(value),
  writeKey: (key) => key,
  marks: { assign: ': ', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const end = lineEndOf(text);
    const line = `${path.join('.')}: ${value}`;
    const sample = anchor ?? map.entries[0];
    if (sample === undefined) return [{ start: map.start, end: map.start, text: `${end} * ${line}` }];
    const lead = text.slice(text.lastIndexOf('\n', sample.keyStart) + 1, sample.keyStart);
    // A first line that opens the comment gives no lead for the others.
    const prefix = /^[\s*]*$/.test(lead) ? lead : ' * ';
    const at = anchor === undefined ? sample.keyStart : sample.value.end;
    return [{ start: at, end: at, text: anchor === undefined ? `${line}${end}${prefix}` : `${end}${prefix}${line}` }];
  },
  removeEntry(text, _map, entry) {
    const start = text.lastIndexOf('\n', entry.keyStart) + 1;
    const isWholeLine = /^[\s*]*$/.test(text.slice(start, entry.keyStart));
    const end = /\r?\n|$/.exec(text.slice(entry.value.end));
    if (!isWholeLine) return [{ start: entry.keyStart, end: entry.value.end, text: '' }];
    return [{ start, end: entry.value.end + (end?.index ?? 0) + (end?.[0].length ?? 0), text: '' }];
  },
});

function readHeaderLines(text: string, options: Readonly<Record<string, unknown>>): Reading {
  const comment = findFirstComment(text);
  // A file that need not have a header is not a broken document without one.
  if (comment === undefined && options['optional'] === true) return { root: undefined, problems: [] };
  if (comment === undefined)
    return { root: undefined, problems: [{ message: 'there is no comment at the head of the file', start: 0, end: 0 }] };
  if (comment.end < 0) {
    return {
      root: undefined,
      problems: [
        {
          message: `the comment is not closed: “${comment.close}” is missing`,
          hint: `write “${comment.close}” after its last field`,
          start: comment.opening,
          end: comment.start,
        },
      ],
    };
  }
  const entries: MapEntry[] = [];
  const line = /(?:^|\n)([ \t*]*)([A-Za-z][\w -]{0,40}?)[ \t]*:[ \t]*([^\r\n]*)/g;
  const body = text.slice(comment.start, comment.end);
  for (const match of body.matchAll(line)) {
    const [whole, lead = '', key = '', raw = ''] = match;
    const keyStart = comment.start + match.index + (whole.startsWith('\n') ? 1 : 0) + lead.length;
    const value = raw.trimEnd();
    const start = comment.start + match.index + whole.length - raw.length;
    entries.push({
      key,
      keyStart,
      keyEnd: keyStart + key.length,
      value: { kind: 'scalar', value, isQuoted: false, start, end: start + value.length },
    });
  }
  return { root: { kind: 'map', entries, start: comment.start, end: comment.end }, problems: [] };
}

/** What must stand before everything else: the opening tag of code, a doctype, the character set of a stylesheet. */
const LEAD = /^(?:\s|<\?php\b|<!doctype[^>]*>|@charset[^;\n]*;|#![^\n]*\n)*/i;

/** Edits that put a text at the head of a file, in lines of its own. */
export function putAtHead(text: string, header: string): TextEdit[] {
  const end = lineEndOf(text);
  const at = LEAD.exec(text)?.[0].trimEnd().length ?? 0;
  const [before, after] = [at === 0 ? '' : end, at === 0 ? end : ''];
  return [{ start: at, end: at, text: before + header.replaceAll('\n', end) + after }];
}

/** Templates of unknown languages are markup, as far as a comment in them goes. */
function isMarkup(path: string): boolean {
  return ['markup', 'prose', 'other'].includes(kindOfPath(path)) || path.endsWith('.xml');
}

/** The comment that a file of its ending has. */
function beginHeader(text: string, _options: Readonly<Record<string, unknown>>, path: string): TextEdit[] | undefined {
  if (findFirstComment(text) !== undefined) return undefined;
  return putAtHead(text, isMarkup(path) ? '<!--\n-->' : '/*\n */');
}

/** Whether a place is the head of a file: only what must come first stands before it. */
export function isAtHead(text: string, start: number): boolean {
  return (LEAD.exec(text)?.[0].length ?? 0) >= start;
}

/** Where the first comment opens, and the range inside it; before it only an opening tag of code or a doctype may stand. */
function findFirstComment(text: string): { opening: number; start: number; end: number; close: string } | undefined {
  const lead = LEAD.exec(text)?.[0].length ?? 0;
  const kind = COMMENTS.find(([open]) => text.startsWith(open, lead));
  if (kind === undefined) return undefined;
  const start = lead + kind[0].length;
  return { opening: lead, start, end: text.indexOf(kind[1], start), close: kind[1] };
}
