import type { TextEdit } from '../text/edits.ts';
import { escapePattern } from '../text/pattern.ts';
import { beginEmpty, lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, MapNode, Reading, SyntaxProblem, ValueNode } from './syntax.ts';

type Growing = { kind: 'map'; entries: MapEntry[]; start: number; end: number };

/**
 * INI files: `[section]`, `key=value`, comments with `#` or `;`. A key may have a bracketed part (`Name[es]`). Values are
 * taken as they stand, or between double quotes; backslash escapes are those of the Desktop Entry Specification 1.5
 * (`\s \n \t \r \\`), and `\"` between quotes. There is no one INI: options say which dialect a host reads. With `colon: true`
 * a colon assigns as well; `comments` says what begins a comment line (`["#", ";"]`); with `inline-comments: true` one may follow a
 * value after a blank; `quotes` says what a value may stand between (`both` kinds, or `kept` as they are); with `escapes: none` a
 * backslash is a backslash; with `lone-keys: true` a key may stand alone; with `repeated: true` a key may stand in a section more than
 * once (the first is the one that is written); with `continued: indent` a line that begins with a blank goes on with the value before it, with
 * `continued: backslash` a line that ends with a backslash goes on in the next.
 */
export const iniSyntax = structuredSyntax({
  name: 'ini',
  problemOfPath: (path) =>
    path.length > 2
      ? 'INI knows a section and a key in it, and nothing below'
      : path.some((key) => /[\]\r\n]/.test(key) && !/^[^[\]\r\n]+\[[^[\]\r\n]*\]$/.test(key)) || /[=:]/.test(path.at(-1) ?? '')
        ? 'a key of INI holds no “=”, “:” or “]”'
        : undefined,
  begin: (text) => beginEmpty(text, ''),
  read: (text, options) => readIni(text, options),
  writeScalar(value, before, _isInside, options = {}) {
    if (typeof value !== 'string') return String(value);
    if (options['escapes'] === 'none') return writePlain(value, before, options);
    const escaped = value.replaceAll('\\', '\\\\').replaceAll('\n', '\\n').replaceAll('\r', '\\r').replaceAll('\t', '\\t');
    if (before?.startsWith('"') === true && options['quotes'] !== 'kept') return `"${escaped.replaceAll('"', '\\"')}"`;
    // What would be read as a quoted value, or lose its blanks, is escaped as the specification has it.
    return escaped.replace(/^ | $/g, '\\s').replace(/^"/, '\\"');
  },
  writeKey: (key) => key,
  marks: { assign: '=', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const end = lineEndOf(text);
    const sections = path.slice(0, -1);
    const line = `${path.at(-1)}${assignStyle(text)}${value}`;
    if (sections.length > 0) {
      const gap = text === '' ? '' : text.endsWith('\n') ? end : end + end;
      return [{ start: text.length, end: text.length, text: `${gap}[${sections.join('.')}]${end}${line}${end}` }];
    }
    const plain = anchor?.value.kind === 'map' ? undefined : anchor;
    return plain === undefined ? [addFirst(text, map, line, end)] : lineEntryEdits(text, plain, line);
  },
  removeEntry: (text, _map, entry) => [removeLine(text, entry)],
});

/** A value where backslashes mean nothing: in the quotes of the one before it, or in such as it needs. */
function writePlain(value: string, before: string | undefined, options: Readonly<Record<string, unknown>>): string {
  if (options['quotes'] === 'kept') return value;
  const old = /^(["'])[^]*\1$/.exec(before ?? '')?.[1];
  const needsQuotes = /^["'\s]|\s$/.test(value) || (options['inline-comments'] === true && /\s[#;]/.test(value));
  const quote = old ?? (needsQuotes ? '"' : '');
  return `${quote}${value}${quote}`;
}

/** What of a dialect decides how a line is read. */
interface Dialect {
  readonly assigns: RegExp;
  readonly comments: readonly string[];
  readonly hasInlineComments: boolean;
  readonly quotes: string;
  readonly hasEscapes: boolean;
  readonly hasLoneKeys: boolean;
}

function dialectOf(options: Readonly<Record<string, unknown>>): Dialect {
  return {
    assigns: options['colon'] === true ? /[=:]/ : /=/,
    comments: Array.isArray(options['comments']) ? options['comments'].map(String) : ['#', ';'],
    hasInlineComments: options['inline-comments'] === true,
    quotes: options['quotes'] === 'kept' ? '' : options['quotes'] === 'both' ? `"'` : '"',
    hasEscapes: options['escapes'] !== 'none',
    hasLoneKeys: options['lone-keys'] === true,
  };
}

/** `key = value`, `key: value` where the file writes it so. */
function assignStyle(text: string): string {
  return /^[^\s=:#;![]+( ?[=:] ?)/m.exec(text)?.[1] ?? '=';
}

function addFirst(text: string, map: MapNode, line: string, end: string): TextEdit {
  const isMissingEnd = map.start > 0 && text.charAt(map.start - 1) !== '\n';
  return { start: map.start, end: map.start, text: isMissingEnd ? `${end}${line}` : `${line}${end}` };
}

function readIni(text: string, options: Readonly<Record<string, unknown>>): Reading {
  const root: Growing = { kind: 'map', entries: [], start: 0, end: text.length };
  const problems: SyntaxProblem[] = [];
  let section: Growing = root;
  const dialect = dialectOf(options);
  const isComment = (line: string): boolean => dialect.comments.some((mark) => line.trimStart().startsWith(mark));
  const byBackslash = options['continued'] === 'backslash';
  // Whether the line goes on with the value of the one before it.
  let isContinued = false;
  for (const match of text.matchAll(/([^\r\n]*)(\r\n|\n|\r|$)/g)) {
    const [whole, line = ''] = match;
    const start = match.index;
    if (whole === '' || line.trim() === '' || isComment(line)) {
      isContinued = false;
      continue;
    }
    isContinued ||= options['continued'] === 'indent' && /^[ \t]/.test(line) && section.entries.length > 0;
    const header = (dialect.hasInlineComments ? /^\s*\[([^\]\r\n]*)\]\s*(?:[#;].*)?$/ : /^\s*\[([^\]\r\n]*)\]\s*$/).exec(line);
    if (header !== null) {
      const name = header[1] ?? '';
      const keyStart = start + line.indexOf('[') + 1;
      section = { kind: 'map', entries: [], start: start + whole.length, end: start + whole.length };
      root.entries.push({ key: name, keyStart, keyEnd: keyStart + name.length, value: section });
      continue;
    }
    const last = section.entries.at(-1);
    if (isContinued && last?.value.kind === 'scalar') {
      section.entries[section.entries.length - 1] = { ...last, value: continued(last.value, line, start) };
      section.end = start + line.length;
      isContinued = byBackslash && line.endsWith('\\');
      continue;
    }
    const entry = readEntry(line, start, dialect);
    isContinued = byBackslash && line.endsWith('\\');
    if (entry === undefined)
      problems.push({
        message: 'neither a [section], nor “key=value”, nor a comment',
        hint: 'begin a comment with #',
        start,
        end: start + line.length,
      });
    else section.entries.push(entry);
    section.end = start + line.length;
  }
  const twice = [
    ...duplicateKeys(root.entries),
    ...root.entries.flatMap(({ value }) => (value.kind === 'map' ? duplicateKeys(value.entries) : [])),
  ];
  return { root, problems: [...problems, ...(options['repeated'] === true ? [] : twice)].sort((a, b) => a.start - b.start) };
}

/** A value that goes on in the next line: its parts with one blank between them. */
function continued(before: Extract<ValueNode, { kind: 'scalar' }>, line: string, start: number): ValueNode {
  const part = line.trim();
  const head = String(before.value).replace(/\s*\\$/, '');
  const value = [head, part]
    .filter((each) => each !== '')
    .join(' ')
    .replace(/\s*\\$/, '');
  return { ...before, value, end: start + line.trimEnd().length };
}

function readEntry(line: string, start: number, dialect: Dialect): MapEntry | undefined {
  const found = line.search(dialect.assigns);
  const isLone = found < 0 && dialect.hasLoneKeys;
  const at = isLone ? line.trimEnd().length : found;
  const key = line.slice(0, Math.max(0, at)).trim();
  if (at < 1 || key === '') return undefined;
  const keyStart = start + line.indexOf(key);
  const keyEnd = keyStart + key.length;
  const raw = isLone ? '' : valueIn(line.slice(at + 1), dialect);
  const valueStart = isLone ? keyEnd : raw === '' ? start + at + 1 : start + at + 1 + line.slice(at + 1).indexOf(raw);
  const isQuoted = raw.length > 1 && dialect.quotes.includes(raw.charAt(0)) && raw.endsWith(raw.charAt(0));
  const body = isQuoted ? raw.slice(1, -1) : raw;
  const value = dialect.hasEscapes ? unescaped(body) : body;
  const node: ValueNode = { kind: 'scalar', value, isQuoted, start: valueStart, end: valueStart + raw.length };
  return { key, keyStart, keyEnd, value: node };
}

function unescaped(body: string): string {
  return body.replace(/\\([sntr\\"])/g, (_all, letter: string) => ({ s: ' ', n: '\n', t: '\t', r: '\r' })[letter] ?? letter);
}

/** The text behind the sign, without a comment that follows it. */
function valueIn(rest: string, { hasInlineComments, quotes, comments }: Dialect): string {
  const raw = rest.trim();
  if (!hasInlineComments) return raw;
  const quote = raw.charAt(0);
  const close = quote !== '' && quotes.includes(quote) ? raw.indexOf(quote, 1) : -1;
  if (close > 0) return raw.slice(0, close + 1);
  // A comment needs a blank before it: a color like #336699 is a value.
  const starts = comments.flatMap((mark) => [...raw.matchAll(new RegExp(`(?<=\\s)${escapePattern(mark)}`, 'g'))].map(({ index }) => index));
  return raw.slice(0, Math.min(raw.length, ...starts)).trimEnd();
}
