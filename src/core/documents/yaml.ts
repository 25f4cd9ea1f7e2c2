import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  stringify,
  visit,
  type Document,
  type Node,
  type Pair,
  type Scalar as YamlScalar,
} from 'yaml';
import type { TextEdit } from '../text/edits.ts';
import {
  findEntry,
  type MapEntry,
  type MapNode,
  type Reading,
  type Scalar,
  type Syntax,
  type SyntaxProblem,
  type ValueNode,
  type WritableValue,
  type WriteContext,
} from './syntax.ts';

/** Keys that would reach into JavaScript's own objects; no host uses them. */
const PROTOTYPE_KEYS: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);

/** YAML 1.2. Edits splice the ranges that the parser reports, so all else keeps its bytes. */
export const yamlSyntax: Syntax = {
  name: 'yaml',
  read: (text) => readYaml(text, 0),
  set: (text, path, value, context) => setYaml(text, 0, path, value, context),
  remove: (text, path) => removeYaml(text, 0, path),
  renameKey: (text, path, key) => renameYamlKey(text, 0, path, key),
};

/** Reads YAML that begins at `base` of a larger text; all offsets returned are the larger text's. */
export function readYaml(yaml: string, base: number): Reading {
  const document = parseDocument(yaml, { prettyErrors: false, keepSourceTokens: false, uniqueKeys: true, logLevel: 'silent' });
  const problems: SyntaxProblem[] = document.errors.map((error) => ({
    message: plainMessage(error.code, error.message),
    hint: hintFor(error.code, yaml, error.pos[0]),
    start: base + startOf(document, error.pos[0], error.code),
    end: base + Math.max(error.pos[1], error.pos[0] + 1),
  }));
  const contents = document.contents;
  if (contents === null || (isScalar(contents) && contents.value === null)) {
    return { root: { kind: 'map', entries: [], start: base, end: base + yaml.length }, problems };
  }
  if (!isMap(contents)) {
    const [start, end] = rangeOf(contents, base);
    problems.push({ message: 'fields are expected here, each as “key: value”', start, end });
    return { root: undefined, problems };
  }
  const root = toNode(contents, base, problems);
  return { root: root.kind === 'map' ? root : undefined, problems };
}

function plainMessage(code: string, message: string): string {
  switch (code) {
    case 'DUPLICATE_KEY':
      return 'the key stands here a second time';
    case 'TAB_AS_INDENT':
      return 'YAML does not allow a tab as indentation';
    case 'MISSING_CHAR':
      return /quote/i.test(message) ? 'a quoted value is not closed' : lowerFirst(message);
    default:
      return lowerFirst(message.replace(/ at line \d+, column \d+.*$/s, ''));
  }
}

function hintFor(code: string, yaml: string, offset: number): string | undefined {
  const line = yaml.slice(yaml.lastIndexOf('\n', offset - 1) + 1, yaml.indexOf('\n', offset) < 0 ? undefined : yaml.indexOf('\n', offset));
  if (code === 'TAB_AS_INDENT') return 'indent with spaces';
  if (code === 'DUPLICATE_KEY') return 'keep one of the two';
  if (/^\s*[\w-]+:\s+[^"'].*: /.test(line)) return 'put the value in quotes: it holds a colon';
  return undefined;
}

/** A quote that is not closed is reported where the text ends; people look for where it begins. */
function startOf(document: Document, offset: number, code: string): number {
  let start = offset;
  if (code !== 'MISSING_CHAR') return start;
  visit(document, {
    Scalar(_key, { range }) {
      if (range && range[0] < offset && offset <= range[1]) start = range[0];
    },
  });
  return start;
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

function toNode(node: Node, base: number, problems: SyntaxProblem[]): ValueNode {
  const [start, end] = rangeOf(node, base);
  if (isScalar(node)) return { kind: 'scalar', value: scalarValue(node), isQuoted: isQuoted(node), start, end };
  if (isSeq(node)) return { kind: 'list', items: node.items.map((item) => toNode(item as Node, base, problems)), start, end };
  if (isAlias(node)) {
    problems.push({ message: `the alias *${node.source} is not allowed`, hint: 'write the value out', start, end });
    return { kind: 'unknown', reason: 'an alias', start, end };
  }
  if (isMap(node)) {
    const entries: MapEntry[] = [];
    for (const pair of node.items) {
      const entry = toEntry(pair, base, problems, end);
      if (entry !== undefined) entries.push(entry);
    }
    return { kind: 'map', entries, start, end };
  }
  return { kind: 'unknown', reason: 'not a plain value', start, end };
}

function toEntry(pair: Pair, base: number, problems: SyntaxProblem[], mapEnd: number): MapEntry | undefined {
  const key = pair.key as Node;
  const [keyStart, keyEnd] = rangeOf(key, base);
  const name = isScalar(key) ? String(key.value) : undefined;
  if (name === undefined || PROTOTYPE_KEYS.has(name)) {
    problems.push({ message: 'a key must be a plain word', start: keyStart, end: keyEnd });
    return undefined;
  }
  const value: ValueNode =
    pair.value === null
      ? { kind: 'scalar', value: null, isQuoted: false, start: mapEnd, end: mapEnd }
      : toNode(pair.value as Node, base, problems);
  return { key: name, keyStart, keyEnd, value };
}

function scalarValue(node: YamlScalar): Scalar {
  const value = node.value;
  if (typeof value === 'string' || typeof value === 'boolean' || value === null) return value;
  // 1.10 is read as the number 1.1, as a host would read it.
  return typeof value === 'number' ? value : null;
}

function isQuoted(node: YamlScalar): boolean {
  return node.type === 'QUOTE_DOUBLE' || node.type === 'QUOTE_SINGLE';
}

function rangeOf(node: Node, base: number): [number, number] {
  const [start, end] = node.range ?? [0, 0, 0];
  return [base + start, base + end];
}

/** As {@link Syntax.set}, for YAML that begins at `base`. */
export function setYaml(yaml: string, base: number, path: readonly string[], value: WritableValue, context: WriteContext): TextEdit[] {
  const root = readYaml(yaml, 0).root;
  const entry = findEntry(root, path);
  if (entry === undefined) return addEntry(yaml, base, root, path, value, context.order);
  const node = entry.value;
  const end = node.start + yaml.slice(node.start, node.end).trimEnd().length;
  if (node.start === node.end)
    return [{ start: base + entry.keyEnd + 1, end: base + entry.keyEnd + 1, text: ` ${writeValue(value, 'PLAIN')}` }];
  const style = yaml[node.start] === '"' ? 'QUOTE_DOUBLE' : yaml[node.start] === "'" ? 'QUOTE_SINGLE' : 'PLAIN';
  return [{ start: base + node.start, end: base + end, text: writeValue(value, style) }];
}

function writeValue(value: WritableValue, style: 'PLAIN' | 'QUOTE_DOUBLE' | 'QUOTE_SINGLE'): string {
  if (typeof value === 'number' || typeof value === 'boolean') return String(value);
  if (typeof value !== 'string') return stringify(value, { collectionStyle: 'flow', lineWidth: 0, compat: 'yaml-1.1' }).trimEnd();
  // Line breaks, and blanks at an end, only survive in double quotes.
  const safeStyle = /[\n\r]|^\s|\s$/.test(value) ? 'QUOTE_DOUBLE' : style;
  const text = stringify(value, { defaultStringType: safeStyle, lineWidth: 0, compat: 'yaml-1.1' }).trimEnd();
  // The end of a surrounding comment must not appear in it; YAML's double quotes know \/ for a slash.
  return text.includes('*/') ? JSON.stringify(value).replaceAll('*/', '*\\/') : text;
}

/** A new entry comes after the nearest one that stands before it in the wanted order, else at the top. */
function addEntry(
  yaml: string,
  base: number,
  root: MapNode | undefined,
  path: readonly string[],
  value: WritableValue,
  order: readonly (readonly string[])[],
): TextEdit[] {
  const lineEnd = yaml.includes('\r\n') ? '\r\n' : '\n';
  const wanted = order.findIndex((candidate) => candidate.join('\0') === path.join('\0'));
  const before = order.slice(0, Math.max(0, wanted)).toReversed();
  const anchor =
    wanted < 0 ? root?.entries.at(-1) : before.map((candidate) => findEntry(root, candidate)).find((entry) => entry !== undefined);
  const line = `${path.join('.')}: ${writeValue(value, 'PLAIN')}`;
  if (anchor === undefined) {
    const first = root?.entries[0]?.keyStart ?? leadingBreak(yaml);
    return [{ start: base + first, end: base + first, text: `${line}${lineEnd}` }];
  }
  const at = endOfEntry(yaml, anchor);
  const indent = /[^\n\r]*$/.exec(yaml.slice(0, anchor.keyStart))?.[0] ?? '';
  return [{ start: base + at, end: base + at, text: `${lineEnd}${indent}${line}` }];
}

/** The end of an entry's last line, comment on the line included, line end not. */
function endOfEntry(yaml: string, entry: MapEntry): number {
  const hasValue = entry.value.start !== entry.value.end;
  const last = hasValue ? entry.value.start + yaml.slice(entry.value.start, entry.value.end).trimEnd().length : entry.keyEnd;
  const rest = /[^\r\n]*/.exec(yaml.slice(last))?.[0] ?? '';
  return last + rest.length;
}

function leadingBreak(yaml: string): number {
  return /^[ \t]*\r?\n/.exec(yaml)?.[0].length ?? 0;
}

/** As {@link Syntax.remove}, for YAML that begins at `base`. */
export function removeYaml(yaml: string, base: number, path: readonly string[]): TextEdit[] {
  const entry = findEntry(readYaml(yaml, 0).root, path);
  if (entry === undefined) return [];
  const start = Math.max(yaml.lastIndexOf('\n', entry.keyStart - 1) + 1, 0);
  const end = endOfEntry(yaml, entry);
  return [{ start: base + start, end: base + end + (/^\r?\n/.exec(yaml.slice(end))?.[0].length ?? 0), text: '' }];
}

/** As {@link Syntax.renameKey}, for YAML that begins at `base`. */
export function renameYamlKey(yaml: string, base: number, path: readonly string[], key: string): TextEdit[] {
  const entry = findEntry(readYaml(yaml, 0).root, path);
  return entry === undefined ? [] : [{ start: base + entry.keyStart, end: base + entry.keyEnd, text: key }];
}
