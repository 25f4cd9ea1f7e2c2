import type { MapEntry, MapNode, ValueNode } from './syntax.ts';

type ScalarNode = Extract<ValueNode, { kind: 'scalar' }>;

/** Words that YAML 1.2 (10.3.2) takes for no text, and keys that no document may have. */
const NO_TEXT = /^(?:true|false|null)$/i;
const NO_KEY = /^(?:true|false|null|constructor|prototype)$/i;
/** A key, and a value on its line: in quotes without escapes, words in brackets, or words that nothing in YAML has another meaning for. */
const LINE =
  /^([A-Za-z][\w-]{0,99}):( +)(?:"([\w .,:;/<>=()+-]*)"|'([\w .,:;/<>=()+-]*)'|\[([A-Za-z][\w-]*(?:, ?[A-Za-z][\w-]*)*)\]|(\d+\.\d+\.\d+|[A-Za-z](?:[\p{L}\p{N} _.,;/()’+-]|:(?=[^\s]))*))$/u;

/**
 * Reads a text whose every line is a key and a plain value: so most headers of themes are, of which a directory has thousands, and YAML's parser
 * takes a hundred times as long for one. It gives what the parser gives.
 * @returns undefined where a line is anything else
 */
export function readPlainLines(yaml: string): MapNode | undefined {
  if (/[\t\r]/.test(yaml)) return undefined;
  const entries: MapEntry[] = [];
  const keys = new Set<string>();
  let start = 0;
  for (const line of yaml.split('\n')) {
    const text = line.replace(/ +$/, '');
    const entry = text === '' ? undefined : entryOf(text, start);
    if (text !== '' && (entry === undefined || keys.has(entry.key))) return undefined;
    if (entry !== undefined) {
      entries.push(entry);
      keys.add(entry.key);
    }
    start += line.length + 1;
  }
  const [first, last] = [entries[0], entries.at(-1)];
  return first === undefined || last === undefined ? undefined : { kind: 'map', entries, start: first.keyStart, end: last.value.end };
}

function entryOf(line: string, start: number): MapEntry | undefined {
  const match = LINE.exec(line);
  if (match === null || NO_KEY.test(match[1] ?? '')) return undefined;
  const [whole, key = '', gap = '', double, single, list, plain] = match;
  const from = start + key.length + 1 + gap.length;
  const to = start + whole.length;
  const value =
    double === undefined && single === undefined ? unquoted(list, plain, from, to) : scalar(double ?? single ?? '', true, from, to);
  return value === undefined ? undefined : { key, keyStart: start, keyEnd: start + key.length, value };
}

function unquoted(list: string | undefined, plain = '', start = 0, end = 0): ValueNode | undefined {
  if (list === undefined) return NO_TEXT.test(plain) ? undefined : scalar(plain, false, start, end);
  const items: ScalarNode[] = [];
  let at = start + 1;
  for (const word of list.split(',')) {
    const text = word.trimStart();
    if (NO_TEXT.test(text)) return undefined;
    at += word.length - text.length;
    items.push(scalar(text, false, at, at + text.length));
    at += text.length + 1;
  }
  return { kind: 'list', items, start, end };
}

function scalar(value: string, isQuoted: boolean, start: number, end: number): ScalarNode {
  return { kind: 'scalar', value, isQuoted, start, end };
}
