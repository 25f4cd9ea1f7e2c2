import { endOfImport, endOfString, isQuote } from '../text/sheet-scan.ts';
import { putAtHead } from './header-lines.ts';
import { lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { structuredSyntax } from './structured.ts';
import type { MapEntry, Reading, SyntaxProblem } from './syntax.ts';

/**
 * Rules of a stylesheet that stand alone (“statement at-rules”, CSS Syntax 3, section 2.2): `@import "ground";` is the entry `@import`
 * with the text between its quotes. Addresses (`url(…)`, `https:`) and rules with a block are passed over. An `@import` below
 * other rules counts for nothing (CSS Cascade 5, section 2), which is a problem.
 */
export const atRulesSyntax = structuredSyntax({
  name: 'at-rules',
  isPart: true,
  problemOfPath: (path) =>
    path.length === 1 && /^@[a-z-]+$/.test(path[0] ?? '')
      ? undefined
      : 'an at-rule has one key: “@” and lower-case letters, such as @import',
  begin: () => undefined,
  read: (text) => readAtRules(text),
  writeScalar(value, before) {
    const quote = before?.charAt(0) ?? '"';
    return `${quote}${String(value).replaceAll('\\', '\\\\').replaceAll(quote, `\\${quote}`)}${quote}`;
  },
  writeKey: (key) => key,
  marks: { assign: ' ', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const line = `${path.join(' ')} ${value};`;
    if (anchor !== undefined) return lineEntryEdits(text, anchor, line);
    const end = lineEndOf(text);
    // Behind the comment at the head; without one, behind what must be first.
    if (map.start === 0) return putAtHead(text, line);
    return [{ start: map.start, end: map.start, text: `${end}${end}${line}` }];
  },
  removeEntry(text, _map, entry) {
    const close = /^[^;\r\n]*;?/.exec(text.slice(entry.value.end))?.[0].length ?? 0;
    const isWholeLine =
      /(?:^|\n)[ \t]*$/.test(text.slice(0, entry.keyStart)) && /^[ \t]*(?:\r?\n|$)/.test(text.slice(entry.value.end + close));
    return isWholeLine ? [removeLine(text, entry)] : [{ start: entry.keyStart, end: entry.value.end + close, text: '' }];
  },
});

/** An address, and not a name. */
const ADDRESS = /^(?:[a-z][a-z0-9+.-]*:|\/)/i;

/** The pieces at the top of a sheet: comments, strings, blocks, the beginning of an at-rule, and other words. */
const PIECE = /\/\*|["'{};]|@[a-z-]+|[^\s"'{};@/]+|[@/]/gi;

function readAtRules(css: string): Reading {
  const entries: MapEntry[] = [];
  const problems: SyntaxProblem[] = [];
  const pieces = new RegExp(PIECE);
  let depth = 0;
  let head = 0;
  let hasRules = false;
  for (let piece = pieces.exec(css); piece !== null; piece = pieces.exec(css)) {
    const [word] = piece;
    if (word === '/*') {
      const end = css.indexOf('*/', piece.index + 2);
      if (end < 0) break;
      pieces.lastIndex = end + 2;
      if (head === 0 && css.slice(0, piece.index).trim() === '') head = end + 2;
    } else if (isQuote(word)) pieces.lastIndex = endOfString(css, piece.index).end;
    else if (word === '{') depth += 1;
    else if (word === '}') depth = Math.max(0, depth - 1);
    else if (depth === 0 && word.startsWith('@') && word.length > 1) {
      const isImport = word.toLowerCase() === '@import';
      const entry = entryAt(css, piece.index, word);
      if (isImport && hasRules)
        problems.push({
          message: '“@import” stands below other rules, where it counts for nothing',
          hint: 'move it above them',
          start: piece.index,
          end: piece.index + word.length,
        });
      else if (entry !== undefined) entries.push(entry);
      else if (isImport && !/^\s*(?:["']|url\()/i.test(css.slice(piece.index + word.length, piece.index + word.length + 200)))
        problems.push({
          message: '“@import” names nothing: what it names stands in quotes or in url(…)',
          hint: 'put quotes around it',
          start: piece.index,
          end: piece.index + word.length,
        });
      pieces.lastIndex = endOfImport(css, piece.index + word.length);
      hasRules ||= !/^@(?:import|charset|layer)$/i.test(word);
    } else hasRules ||= depth === 0 && word !== ';';
  }
  return { root: { kind: 'map', entries, start: head, end: css.length }, problems };
}

function entryAt(css: string, keyStart: number, key: string): MapEntry | undefined {
  const keyEnd = keyStart + key.length;
  const start = keyEnd + (/^\s*/.exec(css.slice(keyEnd, keyEnd + 200))?.[0].length ?? 0);
  if (!isQuote(css.charAt(start))) return undefined;
  const { end, isClosed } = endOfString(css, start);
  const value = css.slice(start + 1, end - 1).replaceAll(/\\(.)/g, '$1');
  if (!isClosed || ADDRESS.test(value)) return undefined;
  return { key: key.toLowerCase(), keyStart, keyEnd, value: { kind: 'scalar', value, isQuoted: true, start, end } };
}
