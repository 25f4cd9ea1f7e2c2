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
import { beginEmpty, endOfLine, lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { structuredSyntax } from './structured.ts';
import { readPlainLines } from './yaml-lines.ts';
import { type MapEntry, type Reading, type Scalar, type SyntaxProblem, type ValueNode } from './syntax.ts';

/** Keys that would reach into JavaScript's own objects; no host uses them. */
const PROTOTYPE_KEYS: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);

/** YAML 1.2. Edits splice the ranges that the parser reports, so all else keeps its bytes. */
export const yamlSyntax = structuredSyntax({
  name: 'yaml',
  maxLength: 1 << 16,
  readsTypes: true,
  begin: (text) => beginEmpty(text, ''),
  read: readYaml,
  writeScalar(value, before, isInside) {
    // Between brackets a comma or another bracket would end a plain value.
    if (isInside === true && typeof value === 'string' && /[,[\]{}]/.test(value)) return writeScalar(value, 'QUOTE_DOUBLE');
    const first = before?.charAt(0);
    return writeScalar(value, first === '"' ? 'QUOTE_DOUBLE' : first === "'" ? 'QUOTE_SINGLE' : 'PLAIN');
  },
  writeKey: (key) => writeScalar(key, 'PLAIN'),
  marks: { assign: ': ', list: ['[', ']'], map: ['{', '}'] },
  addEntry(text, map, anchor, value, path) {
    if (text.charAt(map.start) === '{') return undefined;
    const [first = '', ...rest] = path;
    const nested = rest.reduceRight((inner, key) => `{ ${writeScalar(key, 'PLAIN')}: ${inner} }`, value);
    const line = `${writeScalar(first, 'PLAIN')}: ${nested}`;
    if (anchor !== undefined) return lineEntryEdits(text, anchor, line);
    const start = map.entries[0]?.keyStart ?? leadingBreak(text);
    const indent = /[ \t]*$/.exec(text.slice(0, start))?.[0] ?? '';
    return [{ start, end: start, text: `${line}${lineEndOf(text)}${indent}` }];
  },
  removeEntry: (text, map, entry) => (text.charAt(map.start) === '{' ? undefined : [removeLine(text, entry)]),
  editList(text, node, steps) {
    if (text.charAt(node.start) === '[') return undefined;
    const item = steps.removed === undefined ? node.items.at(-1) : node.items[steps.removed];
    if (item === undefined) return undefined;
    const lineStart = text.lastIndexOf('\n', item.start - 1) + 1;
    const end = endOfLine(text, item.end);
    if (steps.removed === undefined) {
      const lead = /^[ \t]*-[ \t]+/.exec(text.slice(lineStart))?.[0] ?? '- ';
      return [{ start: end, end, text: `${lineEndOf(text)}${lead}${writeScalar(steps.added, 'PLAIN')}` }];
    }
    // The last entry of a block list leaves an empty list, not a key without a value.
    if (node.items.length === 1) return [{ start: node.start, end: node.end, text: '[]' }];
    return [{ start: lineStart, end: end + (/^\r?\n/.exec(text.slice(end, end + 2))?.[0].length ?? 0), text: '' }];
  },
});

/** Each mistake is looked up in the document; what follows the first of them is mostly their doing. */
const MAX_PROBLEMS = 50;

/** Aliases are not allowed anyway; the parser takes its time over each. */
const MAX_ANCHORS = 100;

/** A quoted value that goes on in further lines, from its key on. */
const LONG_QUOTED = /^[ \t-]*[^\s#'":][^'":\n]*:[ \t]+(?:"(?:[^"\\]|\\.)*"|'(?:[^']|'')*')/gms;

/** The text with such values on one line each, as long as before: in YAML 1.2 (7.3) each line of one is indented, and many readers do not mind. */
function withQuotedOnOneLine(yaml: string): string {
  return yaml.replace(LONG_QUOTED, (value) => value.replace(/[\r\n]/g, ' '));
}

function readYaml(given: string, { lenient }: Readonly<Record<string, unknown>>): Reading {
  const plain = readPlainLines(given);
  if (plain !== undefined) return { root: plain, problems: [] };
  const yaml = lenient === true ? withQuotedOnOneLine(given) : given;
  if ((yaml.match(/(?:^|[\s,[{:-])[&*][^\s,[\]{}]/gm)?.length ?? 0) > MAX_ANCHORS)
    return {
      root: undefined,
      problems: [{ message: 'it holds more anchors and aliases than can be read', hint: 'write the values out', start: 0, end: 1 }],
    };
  const document = parseDocument(yaml, { prettyErrors: false, keepSourceTokens: false, uniqueKeys: true, logLevel: 'silent' });
  const problems: SyntaxProblem[] = document.errors.slice(0, MAX_PROBLEMS).map((error) => ({
    message: plainMessage(error.code, error.message),
    hint: hintFor(error.code, yaml, error.pos[0]),
    start: startOf(document, error.pos[0], error.code),
    end: Math.max(error.pos[1], error.pos[0] + 1),
  }));
  const contents = document.contents;
  if (contents === null || (isScalar(contents) && contents.value === null)) {
    return { root: { kind: 'map', entries: [], start: 0, end: yaml.length }, problems };
  }
  if (!isMap(contents)) {
    const [start, end] = rangeOf(contents, yaml);
    problems.push({ message: 'fields are expected here, each as “key: value”', start, end });
    return { root: undefined, problems };
  }
  const root = toNode(contents, yaml, problems);
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

function toNode(node: Node, yaml: string, problems: SyntaxProblem[]): ValueNode {
  const [start, end] = rangeOf(node, yaml);
  if (isScalar(node)) return { kind: 'scalar', value: scalarValue(node), isQuoted: isQuoted(node), start, end };
  if (isSeq(node)) return { kind: 'list', items: node.items.map((item) => toNode(item as Node, yaml, problems)), start, end };
  if (isAlias(node)) {
    problems.push({ message: `the alias *${node.source} is not allowed`, hint: 'write the value out', start, end });
    return { kind: 'unknown', reason: 'an alias', start, end };
  }
  if (isMap(node)) {
    const entries: MapEntry[] = [];
    for (const pair of node.items) {
      const entry = toEntry(pair, yaml, problems);
      if (entry !== undefined) entries.push(entry);
    }
    return { kind: 'map', entries, start, end };
  }
  return { kind: 'unknown', reason: 'not a plain value', start, end };
}

function toEntry(pair: Pair, yaml: string, problems: SyntaxProblem[]): MapEntry | undefined {
  const key = pair.key as Node;
  const [keyStart, keyEnd] = rangeOf(key, yaml);
  const name = isScalar(key) ? String(key.value) : undefined;
  if (name === undefined || PROTOTYPE_KEYS.has(name)) {
    problems.push({ message: 'a key must be a plain word', start: keyStart, end: keyEnd });
    return undefined;
  }
  const afterColon = yaml.charAt(keyEnd) === ':' ? keyEnd + 1 : keyEnd;
  const value: ValueNode =
    pair.value === null
      ? { kind: 'scalar', value: null, isQuoted: false, start: afterColon, end: afterColon }
      : toNode(pair.value as Node, yaml, problems);
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

/** The parser counts the blanks and line ends behind a block as part of it. */
function rangeOf(node: Node, yaml: string): [number, number] {
  const [start, end] = node.range ?? [0, 0, 0];
  return [start, start + yaml.slice(start, end).trimEnd().length];
}

function writeScalar(value: Scalar, style: 'PLAIN' | 'QUOTE_DOUBLE' | 'QUOTE_SINGLE'): string {
  if (typeof value !== 'string') return String(value);
  // Line breaks, and blanks at an end, only survive in double quotes.
  const safeStyle = /[\n\r]|^\s|\s$/.test(value) ? 'QUOTE_DOUBLE' : style;
  const text = stringify(value, { defaultStringType: safeStyle, lineWidth: 0, compat: 'yaml-1.1' }).trimEnd();
  // The end of a surrounding comment must not appear in it; YAML's double quotes know \/ for a slash.
  return text.includes('*/') ? JSON.stringify(value).replaceAll('*/', '*\\/') : text;
}

function leadingBreak(yaml: string): number {
  return /^[ \t]*\r?\n/.exec(yaml)?.[0].length ?? 0;
}
