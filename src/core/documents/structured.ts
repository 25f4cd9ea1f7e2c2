import type { TextEdit } from '../text/edits.ts';
import { insertDelimited, removeDelimited } from './delimited.ts';
import {
  findEntry,
  type MapEntry,
  type MapNode,
  type Reading,
  type Scalar,
  type Syntax,
  type ValueNode,
  type WritableValue,
  type WriteContext,
} from './syntax.ts';

type ListNode = Extract<ValueNode, { kind: 'list' }>;

/** One entry less, or one more at the end. */
export type ListStep = { readonly removed: number; readonly added?: never } | { readonly removed?: undefined; readonly added: string };

/** Everything that the common editing needs to know of a syntax. */
export interface StructuredGrammar extends Pick<
  Syntax,
  'name' | 'readsTypes' | 'isPart' | 'maxLength' | 'problemOfPath' | 'refusesMark' | 'begin'
> {
  read(text: string, options: Readonly<Record<string, unknown>>): Reading;
  /** Source text of a scalar, in the style of the text that stood there before; `isInside` brackets, or not. */
  writeScalar(value: Scalar, before: string | undefined, isInside?: boolean, options?: Readonly<Record<string, unknown>>): string;
  writeKey(key: string): string;
  /** The signs between a key and its value, and around lists and maps. */
  readonly marks: { readonly assign: string; readonly list: readonly [string, string]; readonly map: readonly [string, string] };
  /**
   * Adds an entry to a map that is not bracketed (the whole document, a section); undefined when the map is bracketed
   * and the common way serves.
   */
  addEntry?(
    text: string,
    map: MapNode,
    anchor: MapEntry | undefined,
    line: string,
    path: readonly string[],
    /** The keys of the map itself, and the syntax’s options. */
    around: { readonly prefix: readonly string[]; readonly options: Readonly<Record<string, unknown>> },
  ): TextEdit[] | undefined;
  /** Adds or removes an entry of a list that is not bracketed; undefined when the common way serves. */
  editList?(text: string, node: ListNode, steps: ListStep): TextEdit[] | undefined;
  /** Takes an entry out of a map that is not bracketed; undefined when the common way serves. */
  removeEntry?(text: string, map: MapNode, entry: MapEntry, options: Readonly<Record<string, unknown>>): TextEdit[] | undefined;
}

/** Makes a syntax of a grammar. All edits leave what they do not mean to change as it is. */
export function structuredSyntax(grammar: StructuredGrammar): Syntax {
  return {
    ...grammar,
    set(text, path, value, context) {
      const { root } = grammar.read(text, context.options);
      if (root === undefined) return [];
      const entry = findEntry(root, path);
      const own: StructuredGrammar = {
        ...grammar,
        writeScalar: (scalar, before, isInside) => grammar.writeScalar(scalar, before, isInside, context.options),
      };
      return entry === undefined ? add(own, text, root, path, value, context) : replace(own, text, entry.value, value);
    },
    remove(text, path, context) {
      const found = findInMap(grammar.read(text, context.options).root, path);
      if (found === undefined) return [];
      const { map, entry } = found;
      return (
        grammar.removeEntry?.(text, map, entry, context.options) ??
        removeDelimited(text, map, map.entries.map(entryRange), map.entries.indexOf(entry))
      );
    },
    renameKey(text, path, key, context) {
      const entry = findEntry(grammar.read(text, context.options).root, path);
      if (entry === undefined) return [];
      const before = text.slice(entry.keyStart, entry.keyEnd);
      // A quoted key keeps its quotes, a bare one stays bare where it can.
      const isBare = /^[\w-]+$/.test(before) && /^\w+$/.test(key);
      return [{ start: entry.keyStart, end: entry.keyEnd, text: isBare ? key : grammar.writeKey(key) }];
    },
  };
}

function entryRange(entry: MapEntry): { start: number; end: number } {
  return { start: entry.keyStart, end: entry.value.end };
}

function findInMap(root: MapNode | undefined, path: readonly string[]): { map: MapNode; entry: MapEntry } | undefined {
  const parent = path.length === 1 ? root : findEntry(root, path.slice(0, -1))?.value;
  if (parent?.kind !== 'map') return undefined;
  const entry = parent.entries.find((each) => each.key === path.at(-1));
  return entry === undefined ? undefined : { map: parent, entry };
}

/** A missing map on the way is made with the field in it. */
function add(
  grammar: StructuredGrammar,
  text: string,
  root: MapNode,
  path: readonly string[],
  value: WritableValue,
  context: WriteContext,
): TextEdit[] {
  let map = root;
  let depth = 0;
  while (depth < path.length - 1) {
    const next = map.entries.find((entry) => entry.key === path[depth])?.value;
    if (next?.kind !== 'map') break;
    map = next;
    depth++;
  }
  const prefix = path.slice(0, depth);
  const anchor = findAnchor(map, prefix, path, context.order);
  const unbracketed = grammar.addEntry?.(text, map, anchor, writeValue(grammar, value), path.slice(depth), {
    prefix,
    options: context.options,
  });
  if (unbracketed !== undefined) return unbracketed;
  const nested = path.slice(depth + 1).reduceRight(
    (inner, key) => {
      const [open, close] = grammar.marks.map;
      return `${open} ${grammar.writeKey(key)}${grammar.marks.assign}${inner} ${close}`;
    },
    writeValue(grammar, value),
  );
  const entry = `${grammar.writeKey(path[depth] ?? '')}${grammar.marks.assign}${nested}`;
  const index = anchor === undefined ? -1 : map.entries.indexOf(anchor);
  return insertDelimited(text, map, map.entries.map(entryRange), index, entry);
}

/** The entry after which a new one belongs: the nearest that stands before it in the wanted order, else the last. */
export function findAnchor(
  map: MapNode,
  prefix: readonly string[],
  path: readonly string[],
  order: WriteContext['order'],
): MapEntry | undefined {
  const siblings = order
    .filter((each) => each.length > prefix.length && prefix.every((key, i) => each[i] === key))
    .map((each) => each[prefix.length] ?? '');
  const wanted = siblings.indexOf(path[prefix.length] ?? '');
  if (wanted < 0) return map.entries.at(-1);
  const before = new Set(siblings.slice(0, wanted));
  return map.entries.findLast((entry) => before.has(entry.key));
}

function replace(grammar: StructuredGrammar, text: string, node: ValueNode, value: WritableValue): TextEdit[] {
  const before = text.slice(node.start, node.end);
  if (node.kind === 'list' && Array.isArray(value)) return replaceList(grammar, text, node, value as readonly string[]);
  const after =
    typeof value === 'object' ? writeValue(grammar, value) : grammar.writeScalar(value, node.kind === 'scalar' ? before : undefined);
  if (before === after) return [];
  return [{ start: node.start, end: node.end, text: gapBefore(grammar, text, node) + after }];
}

/** The sign that is missing between a key that stands alone and its value. */
function gapBefore({ marks: { assign } }: StructuredGrammar, text: string, { start, end }: ValueNode): string {
  if (start !== end) return '';
  const isAssigned = assign.trim() === '' || /[=:][ \t]*$/.test(text.slice(Math.max(0, start - 80), start));
  if (!isAssigned) return assign;
  return assign.endsWith(' ') && !/\s/.test(text.charAt(start - 1)) ? ' ' : '';
}

/** Takes out and adds single entries, so that the others keep their places, quotes and comments. */
function replaceList(
  grammar: StructuredGrammar,
  text: string,
  node: Extract<ValueNode, { kind: 'list' }>,
  wanted: readonly string[],
): TextEdit[] {
  const present = node.items.map((item) => (item.kind === 'scalar' ? String(item.value) : undefined));
  if (present.length === wanted.length && present.every((item, i) => item === wanted[i])) return [];
  const steps = listSteps(present, wanted);
  if (steps === undefined) {
    // Another order: written again, each entry that stays as it was written before.
    const written = wanted.map((item) => {
      const old = node.items[present.indexOf(item)];
      return old === undefined ? grammar.writeScalar(item, undefined, true) : text.slice(old.start, old.end);
    });
    const isBracketed = /[[(]/.test(text.charAt(node.start));
    const [open, close] = isBracketed ? [text.charAt(node.start), text.charAt(node.end - 1)] : grammar.marks.list;
    return [{ start: node.start, end: node.end, text: `${open}${written.join(', ')}${close}` }];
  }
  const own = grammar.editList?.(text, node, steps);
  if (own !== undefined) return own;
  if (steps.removed !== undefined) return removeDelimited(text, node, node.items, steps.removed);
  const sample = node.items.at(-1);
  const style = sample === undefined ? undefined : text.slice(sample.start, sample.end);
  return insertDelimited(text, node, node.items, node.items.length - 1, grammar.writeScalar(steps.added, style, true));
}

/** The step from one list to another, when it is one that people make; undefined when it is not. */
function listSteps(present: readonly (string | undefined)[], wanted: readonly string[]): ListStep | undefined {
  if (wanted.length === present.length + 1 && present.every((item, i) => item === wanted[i])) return { added: wanted.at(-1) ?? '' };
  if (wanted.length !== present.length - 1) return undefined;
  const removed = present.findIndex((item, i) => item !== wanted[i]);
  return present.toSpliced(removed, 1).every((item, i) => item === wanted[i]) ? { removed } : undefined;
}

function writeValue(grammar: StructuredGrammar, value: WritableValue): string {
  if (typeof value !== 'object') return grammar.writeScalar(value, undefined);
  const { list, map, assign } = grammar.marks;
  if (Array.isArray(value))
    return `${list[0]}${(value as readonly string[]).map((item) => grammar.writeScalar(item, undefined, true)).join(', ')}${list[1]}`;
  const entries = Object.entries(value as Readonly<Record<string, string>>).map(
    ([key, item]) => `${grammar.writeKey(key)}${assign}${grammar.writeScalar(item, undefined, true)}`,
  );
  return `${map[0]}${entries.length === 0 ? '' : ` ${entries.join(', ')} `}${map[1]}`;
}

/** Problems for keys that stand twice in one map; which of the two a reader takes differs from one to the next. */
export function duplicateKeys(entries: readonly MapEntry[]): { message: string; hint: string; start: number; end: number }[] {
  const seen = new Set<string>();
  return entries.flatMap((entry) => {
    if (!seen.has(entry.key)) {
      seen.add(entry.key);
      return [];
    }
    return [{ message: 'the key stands here a second time', hint: 'keep one of the two', start: entry.keyStart, end: entry.keyEnd }];
  });
}
