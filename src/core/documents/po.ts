import { structuredSyntax } from './structured.ts';
import type { MapEntry, Reading, SyntaxProblem } from './syntax.ts';

/**
 * The header of a gettext catalogue: the lines of the translation of the empty text (GNU gettext manual, “Filling in the
 * Header Entry”). Messages are left alone.
 */
export const poSyntax = structuredSyntax({
  name: 'po',
  read: readPo,
  writeScalar: (value) => escape(String(value)),
  writeKey: (key) => key,
  marks: { assign: ': ', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const end = text.includes('\r\n') ? '\r\n' : '\n';
    const line = `"${path.join('.')}: ${value}\\n"`;
    const at = anchor === undefined ? map.start : text.indexOf('"', anchor.value.end) + 1;
    return [{ start: at, end: at, text: `${end}${line}` }];
  },
  removeEntry(text, _map, entry) {
    const start = text.lastIndexOf('\n', entry.keyStart) + 1;
    const end = text.indexOf('\n', entry.value.end);
    return [{ start, end: end < 0 ? text.length : end + 1, text: '' }];
  },
});

function escape(value: string): string {
  return value.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n').replaceAll('\t', '\\t').replaceAll('\r', '\\r');
}

const HEADER = /^msgid[ \t]+""[ \t]*\r?\nmsgstr[ \t]+""[ \t]*(?=\r?\n|$)/m;

function readPo(text: string): Reading {
  const head = HEADER.exec(text);
  if (head === null)
    return {
      root: undefined,
      problems: [
        { message: 'the catalogue has no header: no empty msgid', hint: 'begin it with msgid "" and msgstr ""', start: 0, end: 0 },
      ],
    };
  const start = head.index + head[0].length;
  const entries: MapEntry[] = [];
  const problems: SyntaxProblem[] = [];
  let end = start;
  const line = /\r?\n"((?:[^"\\\r\n]|\\.)*)"[ \t]*(?=\r?\n|$)/y;
  line.lastIndex = start;
  for (let match = line.exec(text); match !== null; match = line.exec(text)) {
    end = match.index + match[0].length;
    const body = match[1] ?? '';
    const bodyStart = match.index + match[0].indexOf('"') + 1;
    const colon = body.indexOf(':');
    const key = body.slice(0, Math.max(0, colon));
    if (colon < 1 || /\s/.test(key)) {
      problems.push({ message: 'a line of the header is not “Key: value\\n”', start: bodyStart, end: bodyStart + body.length });
      continue;
    }
    const raw = body.slice(colon + 1).replace(/\\n$/, '');
    const valueStart = bodyStart + colon + 1 + (/^ */.exec(raw)?.[0].length ?? 0);
    const written = raw.trimStart();
    const value = written.replace(/\\([nrt"\\])/g, (_all, letter: string) => ({ n: '\n', r: '\r', t: '\t' })[letter] ?? letter);
    entries.push({
      key,
      keyStart: bodyStart,
      keyEnd: bodyStart + colon,
      value: { kind: 'scalar', value, isQuoted: true, start: valueStart, end: valueStart + written.length },
    });
  }
  return { root: { kind: 'map', entries, start, end }, problems };
}
