import type { TextEdit, TextRange } from '../text/edits.ts';

/**
 * A value as a document holds it, with its place. Offsets are 0-based UTF-16 code units of the whole document, end
 * exclusive; the range takes in quotes and brackets.
 */
export type ValueNode =
  | (TextRange & { readonly kind: 'scalar'; readonly value: Scalar; readonly isQuoted: boolean })
  | (TextRange & { readonly kind: 'list'; readonly items: readonly ValueNode[] })
  | (TextRange & { readonly kind: 'map'; readonly entries: readonly MapEntry[] })
  | (TextRange & { readonly kind: 'unknown'; readonly reason: string });

export type Scalar = string | number | boolean | null;
export type MapNode = Extract<ValueNode, { kind: 'map' }>;

export interface MapEntry {
  readonly key: string;
  readonly keyStart: number;
  readonly keyEnd: number;
  readonly value: ValueNode;
}

/** Something that a document's syntax does not allow. */
export interface SyntaxProblem extends TextRange {
  readonly message: string;
  /** What to do about it, when that is known. */
  readonly hint?: string | undefined;
}

/** A syntax's reading of a text: as much as could be read, and the errors. */
export interface Reading {
  readonly root: MapNode | undefined;
  readonly problems: readonly SyntaxProblem[];
}

/** A value that can be written into a document. */
export type WritableValue = string | number | boolean | readonly string[] | Readonly<Record<string, string>>;

/** Everything that a writer needs to know besides the text. */
export interface WriteContext {
  readonly options: Readonly<Record<string, unknown>>;
  /** Key paths in the order in which the platform file wants them; a new field is put in its place among them. */
  readonly order: readonly (readonly string[])[];
}

/**
 * One document syntax. Reading never throws on any input; writing proposes edits that touch nothing but the value
 * (and the separators that a new entry needs). Writers are called only on text that reads without problems.
 */
export interface Syntax {
  readonly name: string;
  /** The most characters that it reads in a second of processor time, whatever they are; 1 Mi when left out. */
  readonly maxLength?: number | undefined;
  /** Whether a byte-order mark before the text is a mistake (RFC 8259, section 8.1), with the options given. */
  refusesMark?(options: Readonly<Record<string, unknown>>): boolean;
  /** Whether it reads a comment or single rules of a file: what else is in it is judged as the language that its ending tells. */
  readonly isPart?: boolean | undefined;
  /** Whether elements, not brackets, open and close. */
  readonly isMarkup?: boolean | undefined;
  /** Whether a text without quotes can be read as a number, a truth value or nothing. */
  readonly readsTypes?: boolean | undefined;
  /** Why no field can stand at a key path; undefined when one can. Without it, any path does. */
  problemOfPath?(path: readonly string[]): string | undefined;
  read(text: string, options: Readonly<Record<string, unknown>>): Reading;
  /**
   * Edits that put a document without fields into a text that has none, be it empty; undefined when it has one, broken or
   * not, or when it can have none.
   * @param path the file's, when how a comment looks there depends on it
   */
  begin?(text: string, options: Readonly<Record<string, unknown>>, path: string): TextEdit[] | undefined;
  /** Edits that give the field at a key path a value, adding it when it is not there. */
  set(text: string, path: readonly string[], value: WritableValue, context: WriteContext): TextEdit[];
  /** Edits that take a field out, with its line or separator. */
  remove(text: string, path: readonly string[], context: WriteContext): TextEdit[];
  /** Edits that give an entry another key. */
  renameKey(text: string, path: readonly string[], key: string, context: WriteContext): TextEdit[];
}

/** The entries of a map, or of a list, whose keys are the numbers from 0 on. */
export function childrenOf(node: ValueNode | undefined): readonly MapEntry[] {
  if (node?.kind === 'map') return node.entries;
  if (node?.kind !== 'list') return [];
  return node.items.map((value, i) => ({ key: String(i), keyStart: value.start, keyEnd: value.start, value }));
}

/** Returns the entry at a key path. */
export function findEntry(root: MapNode | undefined, path: readonly string[]): MapEntry | undefined {
  let node: ValueNode | undefined = root;
  for (const [depth, key] of path.entries()) {
    const entry: MapEntry | undefined = childrenOf(node).find((candidate) => candidate.key === key);
    if (entry === undefined || depth === path.length - 1) return entry;
    node = entry.value;
  }
  return undefined;
}

/** Returns a node as plain values; undefined when a part of it is unknown. */
export function plainValue(node: ValueNode): unknown {
  switch (node.kind) {
    case 'scalar':
      return node.value;
    case 'list':
      return node.items.map(plainValue);
    case 'map':
      return Object.fromEntries(node.entries.map((entry) => [entry.key, plainValue(entry.value)]));
    case 'unknown':
      return undefined;
  }
}
