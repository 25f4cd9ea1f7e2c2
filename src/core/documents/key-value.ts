import { beginEmpty, lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, Reading } from './syntax.ts';

/** What begins a comment where the options say nothing. */
const COMMENTS = ['#'];

/**
 * Lines of a key and a value with white space between them: `parent  ground`. A value goes to the end of its line; a key alone has
 * an empty one. Options: `comments`, what begins a comment line (`#` when left out); `repeated: true` for a host that takes
 * a key more than once (the first is the one that is written).
 */
export const keyValueSyntax = structuredSyntax({
  name: 'key-value',
  problemOfPath: (path) =>
    path.length === 1 && /^\S+$/.test(path[0] ?? '') ? undefined : 'a line has one key, without white space, and nothing below it',
  begin: (text) => beginEmpty(text, ''),
  read: readKeyValues,
  writeScalar: (value) => String(value),
  writeKey: (key) => key,
  marks: { assign: ' ', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const end = lineEndOf(text);
    const sample = anchor ?? map.entries[0];
    const gap = sample === undefined ? ' ' : text.slice(sample.keyEnd, sample.value.start) || ' ';
    const line = `${path.join('.')}${/^[ \t]+$/.test(gap) ? gap : ' '}${value}`;
    if (anchor !== undefined) return lineEntryEdits(text, anchor, line);
    // Below the remarks on the whole file, where nothing else is in it.
    const at = map.entries[0] === undefined ? text.length : 0;
    const isMissingEnd = at > 0 && text.charAt(at - 1) !== '\n';
    return [{ start: at, end: at, text: isMissingEnd ? `${end}${line}` : `${line}${end}` }];
  },
  removeEntry: (text, _map, entry) => [removeLine(text, entry)],
});

function readKeyValues(text: string, options: Readonly<Record<string, unknown>>): Reading {
  const comments = Array.isArray(options['comments']) ? options['comments'].map(String) : COMMENTS;
  const entries: MapEntry[] = [];
  for (const match of text.matchAll(/([^\r\n]*)(?:\r\n|\n|\r|$)/g)) {
    const line = match[1] ?? '';
    const key = /^\s*(\S+)/.exec(line)?.[1];
    if (key === undefined || comments.some((mark) => key.startsWith(mark))) continue;
    const keyStart = match.index + line.indexOf(key);
    const keyEnd = keyStart + key.length;
    const rest = text.slice(keyEnd, match.index + line.length);
    const value = rest.trim();
    const start = value === '' ? keyEnd : keyEnd + rest.indexOf(value);
    entries.push({ key, keyStart, keyEnd, value: { kind: 'scalar', value, isQuoted: false, start, end: start + value.length } });
  }
  const problems = options['repeated'] === true ? [] : duplicateKeys(entries);
  return { root: { kind: 'map', entries, start: 0, end: text.length }, problems };
}
