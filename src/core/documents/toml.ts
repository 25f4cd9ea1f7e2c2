import { ParseError, parseTOML, type AST } from 'toml-eslint-parser';
import type { TextEdit } from '../text/edits.ts';
import { beginEmpty, lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { structuredSyntax } from './structured.ts';
import type { MapEntry, MapNode, Reading, SyntaxProblem, ValueNode } from './syntax.ts';

/** TOML 1.0. */
export const tomlSyntax = structuredSyntax({
  name: 'toml',
  maxLength: 1 << 17,
  begin: (text) => beginEmpty(text, ''),
  read: readToml,
  writeScalar(value, before) {
    if (typeof value !== 'string') return String(value);
    // A literal string stays one while it can: it knows no escapes.
    // eslint-disable-next-line no-control-regex
    if (before?.startsWith("'") === true && !before.startsWith("'''") && !/['\u0000-\u001f\u007f]/.test(value)) return `'${value}'`;
    return JSON.stringify(value).replaceAll('\u007f', '\\u007F');
  },
  writeKey: (key) => (/^[A-Za-z0-9_-]+$/.test(key) ? key : JSON.stringify(key)),
  marks: { assign: ' = ', list: ['[', ']'], map: ['{', '}'] },
  addEntry(text, map, anchor, value, path) {
    if (text.charAt(map.start) === '{') return undefined;
    const key = path.map((part) => (/^[A-Za-z0-9_-]+$/.test(part) ? part : JSON.stringify(part)));
    const line = `${key.join('.')} = ${value}`;
    // Top-level keys must come before the first table.
    const plain = anchor !== undefined && text.charAt(anchor.keyStart - 1) === '[' ? undefined : anchor;
    return plain === undefined ? [addFirst(text, map, line)] : lineEntryEdits(text, plain, line);
  },
  removeEntry: (text, map, entry) => (text.charAt(map.start) === '{' ? undefined : [removeLine(text, entry)]),
});

function addFirst(text: string, map: MapNode, line: string): TextEdit {
  const first = map.entries[0];
  const isTable = first !== undefined && text.charAt(first.keyStart - 1) === '[';
  const at = first === undefined ? map.end : isTable ? first.keyStart - 1 : first.keyStart;
  const end = lineEndOf(text);
  if (first !== undefined) return { start: at, end: at, text: `${line}${end}${isTable ? end : ''}` };
  const needsBreak = at > 0 && !text.slice(0, at).endsWith('\n');
  return { start: at, end: at, text: `${needsBreak ? end : ''}${line}${needsBreak ? '' : end}` };
}

function readToml(text: string): Reading {
  let program: AST.TOMLProgram;
  try {
    program = parseTOML(text);
  } catch (error) {
    if (!(error instanceof ParseError)) throw error;
    // An end that is missing is reported at its line, not on the next.
    const isAtLineEnd = /^(?:\s|$)/.test(text.slice(error.index, error.index + 1));
    const start = isAtLineEnd ? text.slice(0, error.index).trimEnd().length : error.index;
    return {
      root: undefined,
      problems: [{ message: error.message.charAt(0).toLowerCase() + error.message.slice(1), start, end: Math.min(start + 1, text.length) }],
    };
  }
  const problems: SyntaxProblem[] = [];
  const [top] = program.body;
  const entries: MapEntry[] = [];
  for (const item of top.body) {
    if (item.type === 'TOMLKeyValue') addKeyValue(entries, item, problems);
    else addTable(entries, item, problems);
  }
  const firstTable = top.body.find((item) => item.type === 'TOMLTable');
  const end = firstTable?.range[0] ?? text.length;
  return { root: { kind: 'map', entries, start: 0, end }, problems };
}

function keyName(part: AST.TOMLBare | AST.TOMLQuoted): string {
  return part.type === 'TOMLBare' ? part.name : part.value;
}

/** Dotted keys are maps within maps; the entries share one list while a document is read. */
type Growing = { kind: 'map'; entries: MapEntry[]; start: number; end: number };

function addKeyValue(entries: MapEntry[], item: AST.TOMLKeyValue, problems: SyntaxProblem[]): void {
  const keys = item.key.keys;
  const last = keys.at(-1);
  if (last === undefined) return;
  const target = descend(entries, keys.slice(0, -1), item.range);
  target.push({ key: keyName(last), keyStart: item.key.range[0], keyEnd: item.key.range[1], value: toNode(item.value, problems) });
}

function addTable(entries: MapEntry[], table: AST.TOMLTable, problems: SyntaxProblem[]): void {
  const [start] = table.range;
  // The range of a table's map is that of its lines, so that an entry can be added to an empty one.
  const target = descend(entries, table.key.keys, [start, table.range[1]]);
  for (const item of table.body) addKeyValue(target, item, problems);
}

function descend(entries: MapEntry[], keys: readonly (AST.TOMLBare | AST.TOMLQuoted)[], range: readonly [number, number]): MapEntry[] {
  let at = entries;
  for (const part of keys) {
    const name = keyName(part);
    let entry = at.find((each) => each.key === name && each.value.kind === 'map');
    if (entry === undefined) {
      const value: Growing = { kind: 'map', entries: [], start: range[0], end: range[1] };
      entry = { key: name, keyStart: part.range[0], keyEnd: part.range[1], value };
      at.push(entry);
    }
    at = (entry.value as Growing).entries;
  }
  return at;
}

function toNode(node: AST.TOMLContentNode, problems: SyntaxProblem[]): ValueNode {
  const [start, end] = node.range;
  switch (node.type) {
    case 'TOMLArray':
      return { kind: 'list', items: node.elements.map((element) => toNode(element, problems)), start, end };
    case 'TOMLInlineTable': {
      const entries: MapEntry[] = [];
      for (const item of node.body) addKeyValue(entries, item, problems);
      return { kind: 'map', entries, start, end };
    }
    default: {
      const value =
        node.kind === 'string' || node.kind === 'boolean' || node.kind === 'integer' || node.kind === 'float' ? node.value : node.datetime;
      return { kind: 'scalar', value: typeof value === 'bigint' ? Number(value) : value, isQuoted: node.kind === 'string', start, end };
    }
  }
}
