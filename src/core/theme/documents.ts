import { findEntry, plainValue, type MapNode, type SyntaxProblem, type ValueNode } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { followLinks, UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { patternPath } from '../platform/contract-problems.ts';
import { concreteContract } from './key-patterns.ts';
import type { DocumentContract, FieldContract } from '../platform/schema.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import { SourceDocument } from '../text/source-document.ts';
import type { ThemeNames } from '../names/full-name.ts';
import type { TextRange } from '../text/edits.ts';

/** Documents larger than this are not read: no host does, and a mistake is likelier than a manifest of that size. */
export const MAX_DOCUMENT_BYTES = 4 * 1024 * 1024;

export type FactValue = string | readonly string[] | Readonly<Record<string, string>>;

/** One neutral piece of metadata and where it was read. */
export interface Fact {
  readonly name: string;
  /** Undefined when it cannot be known without running code. */
  readonly value: FactValue | undefined;
  readonly document: ThemeDocument;
  readonly field: FieldContract;
  readonly node: ValueNode;
}

/** A file that carries facts, as a theme has it. */
export interface ThemeDocument {
  /** The platform's description of it, with the keys that are there in the place of patterns. */
  readonly contract: DocumentContract;
  /** The same as the platform file has it. */
  readonly declared: DocumentContract;
  readonly path: string;
  readonly title: string;
  readonly state: 'read' | 'missing' | 'unreadable' | 'too-large' | 'not-text';
  /** For `unreadable`: what the system said. */
  readonly reason?: string | undefined;
  readonly source?: SourceDocument | undefined;
  readonly root?: MapNode | undefined;
  readonly problems: readonly SyntaxProblem[];
}

/** Whether a document could be read whole, so that what it lacks is really not there. */
export function isSound(document: ThemeDocument): boolean {
  return document.state === 'read' && document.problems.length === 0;
}

/** Reads the files that a document contract describes: one, or every one that fits when its path holds {name} or {locale}. */
export function readThemeDocuments(tree: FileTree, contract: DocumentContract, place: ThemeNames): ThemeDocument[] {
  const path = fillShape(contract.path, place);
  const read = (each: string): ThemeDocument => {
    const document = readThemeDocument(tree, contract, each);
    return { ...document, contract: concreteContract(contract, document.root, place) };
  };
  if (!/\{(?:name|locale|path)\}/.test(path)) return [read(path)];
  const pattern = wholePattern(path);
  const paths = tree.entries.filter((entry) => entry.kind !== 'folder' && pattern.test(entry.path)).map((entry) => entry.path);
  return paths.map(read);
}

function readThemeDocument(tree: FileTree, contract: DocumentContract, path: string): ThemeDocument {
  const kind = { contract, declared: contract, path, title: contract.title ?? path };
  const entry = followLinks(tree, path);
  if (entry === undefined && tree.get(path)?.kind === 'link')
    return { ...kind, state: 'unreadable', reason: 'it is a link that leads out of the theme, or nowhere', problems: [] };
  if (entry?.kind !== 'file') return { ...kind, state: 'missing', problems: [] };
  if (entry.size > MAX_DOCUMENT_BYTES) return { ...kind, state: 'too-large', problems: [] };
  let source: SourceDocument | undefined;
  try {
    source = SourceDocument.decode(path, tree.read(path));
  } catch (error) {
    if (error instanceof UnreadableFileError) return { ...kind, state: 'unreadable', reason: error.message, problems: [] };
    throw error;
  }
  if (source === undefined) return { ...kind, state: 'not-text', problems: [] };
  const syntax = findSyntax(contract.syntax);
  const reading = syntax?.read(source.text, contract.options);
  const mark: SyntaxProblem = { message: 'it begins with a byte-order mark', hint: 'save it as UTF-8 without one', start: 0, end: 0 };
  const refusesMark = contract.options['mark'] === 'refused' || syntax?.refusesMark?.(contract.options) === true;
  const problems = [...(source.hasMark && refusesMark ? [mark] : []), ...(reading?.problems ?? [])];
  return { ...kind, state: 'read', source, root: reading?.root, problems };
}

/** Whether a document is one of many of its kind, such as catalogues: each may say something of its own. */
export function isOneOfMany({ contract }: ThemeDocument): boolean {
  return /\{(?:name|locale|path)\}/.test(contract.path);
}

/** A field's key as a path. */
export function keyPath(field: FieldContract): readonly string[] {
  return patternPath(field);
}

/** Whether two fields are one entry of a platform file, in the same place of a document. */
export function isSameField(a: FieldContract, b: FieldContract): boolean {
  return a === b || (a.fact === b.fact && keyPath(a).join('\0') === keyPath(b).join('\0'));
}

/** Whether two documents are one, as it was read at two times. */
export function isSameDocument(a: ThemeDocument, b: ThemeDocument): boolean {
  return a.path === b.path && a.declared === b.declared;
}

export function factsOf(document: ThemeDocument): Fact[] {
  return document.contract.fields.flatMap((field): Fact[] => {
    const node = findEntry(document.root, keyPath(field))?.value;
    if (node === undefined) return [];
    const value = splitText(factValue(node), field.separator);
    // A path, or another theme's name, among other text is judged by the rule for these.
    if (field.shape === undefined || field.type === 'path' || field.type === 'theme' || field.of !== undefined)
      return [{ name: field.fact, value, document, field, node }];
    // A shaped value carries several facts among other text.
    const groups = typeof value === 'string' ? wholePattern(field.shape).exec(value)?.groups : undefined;
    if (groups === undefined) return [{ name: field.fact, value: undefined, document, field, node }];
    return Object.entries(groups).map(([name, part]) => ({ name, value: part, document, field, node }));
  });
}

/** One entry of a fact's value, and where it stands. */
export interface FactEntry extends TextRange {
  readonly text: string;
}

/** The single values of a fact: of a list and of a text with separators each, of a map those behind the keys. */
export function entriesOf({ node, field, document }: Pick<Fact, 'node' | 'field' | 'document'>): FactEntry[] {
  if (node.kind === 'list') return node.items.flatMap((item) => entriesOf({ node: item, field, document }));
  if (node.kind === 'map') return node.entries.flatMap(({ value }) => entriesOf({ node: value, field, document }));
  if (node.kind !== 'scalar') return [];
  const text = textOf(node.value);
  if (field.separator === undefined) return [{ text, start: node.start, end: node.end }];
  const raw = document.source?.text.slice(node.start, node.end) ?? '';
  let at = 0;
  return (splitText(text, field.separator) as readonly string[]).map((part) => {
    const found = raw.indexOf(part, at);
    // Written with escapes, a part has no place of its own.
    if (found < 0) return { text: part, start: node.start, end: node.end };
    at = found + part.length;
    return { text: part, start: node.start + found, end: node.start + at };
  });
}

/** A list that is written as one text. */
export function splitText(value: FactValue | undefined, separator: string | undefined): FactValue | undefined {
  if (separator === undefined || typeof value !== 'string') return value;
  return value
    .split(separator)
    .map((part) => part.trim())
    .filter((part) => part !== '');
}

/** A node as facts have it: all scalars as texts. */
export function factValue(node: ValueNode): FactValue | undefined {
  const value = plainValue(node);
  if (value === undefined) return undefined;
  if (Array.isArray(value)) return value.map(textOf);
  if (typeof value === 'object' && value !== null) {
    return Object.fromEntries(Object.entries(value).map(([key, part]) => [key, textOf(part)]));
  }
  return textOf(value);
}

function textOf(value: unknown): string {
  if (typeof value === 'string') return value;
  if (typeof value === 'number' || typeof value === 'boolean') return value.toString();
  return value === null || value === undefined ? '' : JSON.stringify(value);
}
