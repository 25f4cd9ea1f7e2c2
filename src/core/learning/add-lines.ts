import { isMap, isPair, isScalar, isSeq, parseDocument, type Document, type Node, type YAMLMap, type YAMLSeq } from 'yaml';
import { lineEndOf } from '../documents/lines.ts';

/** Where something is in a YAML document: keys of maps, and 0-based numbers of entries. */
export type YamlPath = readonly (string | number)[];

/**
 * Adds an entry to a list of a YAML text; no other byte changes. A list that is not there yet is made where its map ends.
 * @param item the entry without its margin; one that is for a list in brackets has one line, and loses its comment
 * @returns undefined where the list is of a form that cannot hold the entry
 */
export function withItem(text: string, path: YamlPath, item: readonly string[]): string | undefined {
  const document = parseDocument(text);
  const node = document.getIn(path, true);
  if (!isSeq(node)) return withPair(text, path, asItem(item));
  const [start = 0, end = 0] = node.range ?? [];
  if (node.flow !== true) return insertedBelow(text, endOfLast(node), indented(asItem(item), columnOf(text, start)));
  const isEmpty = node.items.length === 0;
  if (isEmpty && !isInBrackets(document, path)) return inPlaceOfEmpty(text, start, end, asItem(item));
  if (item.length > 1) return undefined;
  return intoBrackets(text, node, withoutComment(item[0] ?? ''));
}

/** Adds a key to a map of a YAML text, the empty one to the text itself; see {@link withItem}. @param value the lines below the key, or the one behind it */
export function withPair(text: string, path: YamlPath, value: readonly string[]): string | undefined {
  const document = parseDocument(text);
  const above = path.slice(0, -1);
  const key = String(path.at(-1));
  const isBelow = value.length > 1 || /^(?:- |\S+: )/.test(value[0] ?? '');
  const lines = isBelow ? [`${key}:`, ...indented(value, 2)] : [`${key}: ${value[0]}`];
  const map = above.length === 0 ? document.contents : document.getIn(above, true);
  if (!isMap(map)) return above.length === 0 ? undefined : withPair(text, above, lines);
  const present = pairOf(map, key);
  if (present !== undefined) return intoEmpty(text, present, value);
  const [start = 0, end = 0] = map.range ?? [];
  if (map.flow !== true) {
    const below = indented(lines, columnOf(text, start));
    return above.length === 0 ? atEnd(text, below) : insertedBelow(text, endOfLast(map), below);
  }
  const isEmpty = map.items.length === 0;
  if (isEmpty && !isInBrackets(document, above)) return inPlaceOfEmpty(text, start, end, lines);
  // Between brackets, a list of one entry has brackets of its own.
  const [first = '', ...more] = value;
  const inBrackets = more.length === 0 && first.startsWith('- ') ? [`${key}: [${withoutComment(first.slice(2))}]`] : lines;
  if (inBrackets.length > 1) return undefined;
  return intoBrackets(text, map, withoutComment(inBrackets[0] ?? ''));
}

/** The lines of a node, from where it begins to the end of its last line, without their margin. */
export function linesAt(text: string, document: Document, path: YamlPath): string[] {
  const node = document.getIn(path, true) as Node;
  const [start = 0, end = 0] = node.range ?? [];
  if (isInBrackets(document, path)) return [text.slice(start, end)];
  const margin = ' '.repeat(columnOf(text, start));
  const lines = text.slice(start, lineEnd(text, endOfLast(node))).split(/\r?\n/);
  return lines.map((line, i) => (i > 0 && line.startsWith(margin) ? line.slice(margin.length) : line));
}

/** Behind the last entry between brackets, before its comma and its comment. */
function intoBrackets(text: string, around: YAMLMap | YAMLSeq, entry: string): string {
  const last = around.items.at(-1);
  const end = last === undefined ? (around.range?.[0] ?? 0) + 1 : endOfLast(isPair(last) ? (last.value ?? last.key) : last);
  return `${text.slice(0, end)}${last === undefined ? '' : ', '}${entry}${text.slice(end)}`;
}

/** Whether a list or map that something is in stands between brackets. */
function isInBrackets(document: Document, path: YamlPath): boolean {
  return path.some((_, i) => {
    const around = i === 0 ? document.contents : document.getIn(path.slice(0, i), true);
    return (isSeq(around) || isMap(around)) && around.flow === true;
  });
}

/** A key that is there without a value gets one. */
function intoEmpty(
  text: string,
  { key, value }: { readonly key: unknown; readonly value: unknown },
  lines: readonly string[],
): string | undefined {
  if (!isScalar(key) || (isScalar(value) ? value.value !== null : value !== null)) return undefined;
  const at = key.range?.[1] ?? 0;
  return insertedBelow(text, at, indented(lines, marginOf(text, at) + 2));
}

function pairOf(map: YAMLMap, key: string): { readonly key: unknown; readonly value: unknown } | undefined {
  return map.items.find((item) => isPair(item) && isScalar(item.key) && String(item.key.value) === key);
}

function asItem([first = '', ...more]: readonly string[]): string[] {
  return [`- ${first}`, ...indented(more, 2)];
}

function indented(lines: readonly string[], margin: number): string[] {
  return lines.map((line) => (line === '' ? line : `${' '.repeat(margin)}${line}`));
}

/** The offset at which the last thing in a node ends. */
function endOfLast(node: unknown): number {
  if ((isMap(node) || isSeq(node)) && node.flow !== true) {
    const last = node.items.at(-1);
    if (isPair(last)) return endOfLast(last.value ?? last.key);
    if (last !== undefined) return endOfLast(last);
  }
  return (node as Node | null)?.range?.[1] ?? 0;
}

/** Lines behind all others, below a blank one. */
function atEnd(text: string, lines: readonly string[]): string {
  const end = lineEndOf(text);
  const gap = text === '' || /(?:^|\n)\r?\n$/.test(text) ? '' : text.endsWith('\n') ? end : end + end;
  return `${text}${gap}${lines.join(end)}${end}`;
}

function insertedBelow(text: string, offset: number, lines: readonly string[]): string {
  const at = lineEnd(text, offset);
  const end = lineEndOf(text);
  return `${text.slice(0, at)}${lines.map((line) => `${end}${line}`).join('')}${text.slice(at)}`;
}

/** Lines below a key, in the place of the empty brackets behind it. */
function inPlaceOfEmpty(text: string, start: number, end: number, lines: readonly string[]): string {
  const before = text.slice(0, start).trimEnd();
  return insertedBelow(`${before}${text.slice(end)}`, before.length, indented(lines, marginOf(text, start) + 2));
}

function lineStart(text: string, offset: number): number {
  return text.lastIndexOf('\n', offset - 1) + 1;
}

/** The end of a line, before what ends it; a text of several lines (`|`) ends with its last. */
function lineEnd(text: string, offset: number): number {
  const from = text[offset - 1] === '\n' ? offset - 1 : offset;
  const at = text.indexOf('\n', from);
  const end = at < 0 ? text.length : at;
  return text[end - 1] === '\r' ? end - 1 : end;
}

function columnOf(text: string, offset: number): number {
  return offset - lineStart(text, offset);
}

/** The margin of the line that an offset is in; the dash of a list's entry is part of it. */
function marginOf(text: string, offset: number): number {
  return /^ *(?:- )*/.exec(text.slice(lineStart(text, offset)))?.[0].length ?? 0;
}

/** A comment has no place between brackets. */
function withoutComment(line: string): string {
  return line.slice(0, endOfLast(parseDocument(line).contents));
}
