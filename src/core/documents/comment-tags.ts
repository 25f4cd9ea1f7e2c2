import type { TextEdit } from '../text/edits.ts';
import { putAtHead } from './header-lines.ts';
import { lineEndOf, removeLine } from './lines.ts';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, Reading } from './syntax.ts';

/** A tag at the beginning of a line of a comment, with its value to the end of the line; with a colon it is another one. */
const TAG = /(?<=(?:^|\n)[\s*!]*)@([\w-]+:?)(?:[ \t]+([^\r\n]*))?(?![^\s])/g;

/**
 * Tags in the comments of a stylesheet or a script: lines `@key value` in `/* … *\/`, wherever the comment stands. Other lines are prose.
 * A tag without a value has an empty one. Option: `repeated`, the keys that may stand more than once: the value of each is a
 * list.
 */
export const commentTagsSyntax = structuredSyntax({
  name: 'comment-tags',
  isPart: true,
  problemOfPath: (path) =>
    path.length === 1 && /^[\w-]+$/.test(path[0] ?? '') ? undefined : 'a tag has one key of letters, digits, “-” and “_”, without its “@”',
  begin: (text) => (text.includes('/*') ? undefined : putAtHead(text, '/*\n */')),
  read: readTags,
  writeScalar: (value) => String(value),
  writeKey: (key) => key,
  marks: { assign: ' ', list: ['', ''], map: ['', ''] },
  addEntry(text, map, anchor, value, path) {
    const end = lineEndOf(text);
    const line = `@${path.join('.')} ${value}`;
    const sample = anchor ?? map.entries[0];
    if (sample === undefined) return [{ start: map.start, end: map.start, text: `${end} * ${line}` }];
    const lead = text.slice(text.lastIndexOf('\n', sample.keyStart) + 1, sample.keyStart - 1);
    // A first line that opens the comment gives no lead for the others.
    const prefix = /^[\s*]*$/.test(lead) ? lead : ' * ';
    const at = anchor === undefined ? sample.keyStart - 1 : sample.value.end;
    return [{ start: at, end: at, text: anchor === undefined ? `${line}${end}${prefix}` : `${end}${prefix}${line}` }];
  },
  editList(text, node, { removed, added }) {
    const item = node.items[removed ?? node.items.length - 1];
    if (item === undefined) return undefined;
    const start = text.lastIndexOf('\n', item.start) + 1;
    if (added === undefined) return [removeLine(text, { key: '', keyStart: start, keyEnd: start, value: item })];
    const lead = text.slice(start, item.start).replace(/^\s*\/\*+/, ' *');
    return [{ start: item.end, end: item.end, text: `${lineEndOf(text)}${lead}${added}` }];
  },
  removeEntry(text, _map, entry): TextEdit[] {
    if (entry.value.kind === 'list')
      return entry.value.items.map((item) => removeLine(text, { ...entry, keyStart: text.lastIndexOf('\n', item.start) + 1, value: item }));
    const start = text.lastIndexOf('\n', entry.keyStart) + 1;
    const isWholeLine = /^[\s*]*@$/.test(text.slice(start, entry.keyStart)) && /^[ \t]*(?:\r?\n|$)/.test(text.slice(entry.value.end));
    return isWholeLine ? [removeLine(text, entry)] : [{ start: entry.keyStart - 1, end: entry.value.end, text: '' }];
  },
});

/** The insides of the closed comments of a text. */
function commentsOf(text: string): { readonly start: number; readonly end: number }[] {
  const comments = [];
  const leads = /\/\*|"(?:[^"\\\r\n]|\\.)*"|'(?:[^'\\\r\n]|\\.)*'/g;
  for (let lead = leads.exec(text); lead !== null; lead = leads.exec(text)) {
    if (lead[0] !== '/*') continue;
    const start = lead.index + 2;
    const end = text.indexOf('*/', start);
    if (end < 0) break;
    comments.push({ start, end });
    leads.lastIndex = end + 2;
  }
  return comments;
}

function readTags(text: string, options: Readonly<Record<string, unknown>>): Reading {
  const repeated = Array.isArray(options['repeated']) ? options['repeated'].map(String) : [];
  const comments = commentsOf(text);
  const found = comments.map(({ start, end }) => tagsIn(text, start, end));
  const place = found.findIndex((entries) => entries.length > 0);
  const home = comments[Math.max(0, place)];
  if (home === undefined) {
    const opening = Math.max(0, text.indexOf('/*'));
    const message = text.includes('/*') ? 'the comment is not closed: “*/” is missing' : 'there is no comment with tags (“@key value”)';
    return { root: undefined, problems: [{ message, start: opening, end: opening + (text.includes('/*') ? 2 : 0) }] };
  }
  const entries = found.flat();
  const single = entries.filter(({ key }) => !repeated.includes(key));
  const lists = repeated.flatMap((key) => listOf(entries.filter((entry) => entry.key === key)));
  const all = [...single, ...lists].sort((a, b) => a.keyStart - b.keyStart);
  return { root: { kind: 'map', entries: all, start: home.start, end: home.end }, problems: duplicateKeys(single) };
}

/** Tags of one key, as one entry with a list. */
function listOf(tags: readonly MapEntry[]): MapEntry[] {
  const [first, last] = [tags[0], tags.at(-1)];
  if (first === undefined || last === undefined) return [];
  const items = tags.map(({ value }) => value);
  return [{ ...first, value: { kind: 'list', items, start: first.value.start, end: last.value.end } }];
}

function tagsIn(text: string, from: number, to: number): MapEntry[] {
  return [...text.slice(from, to).matchAll(TAG)].map((match) => {
    const [whole, key = '', raw = ''] = match;
    const keyStart = from + match.index + 1;
    const keyEnd = keyStart + key.length;
    const value = raw.trimEnd();
    const start = value === '' ? keyEnd : from + match.index + whole.length - raw.length;
    return { key, keyStart, keyEnd, value: { kind: 'scalar', value, isQuoted: false, start, end: start + value.length } };
  });
}
