import semver from 'semver';
import parseSpdx from 'spdx-expression-parse';
import { parse as parseLanguage } from 'bcp-47';
import { plainValue, type MapNode, type ValueNode } from '../../documents/syntax.ts';
import { findSyntax } from '../../documents/syntaxes.ts';
import type { FileTree } from '../../files/file-tree.ts';
import { readText } from '../../files/read-text.ts';
import type { FieldKind } from '../../platform/schema.ts';

/** A theme that a platform is drafted from. */
export interface SampleTheme {
  readonly id: string;
  readonly tree: FileTree;
}

/** A field as a document seems to have it, and what that was guessed from. */
export interface GuessedField {
  readonly key: readonly string[];
  readonly fact: string;
  readonly type: FieldKind;
  readonly of?: FieldKind | undefined;
  readonly isRequired: boolean;
  /** What the first theme says there. */
  readonly value: string;
  readonly from: string;
}

/** A file that seems to say what its theme is. */
export interface GuessedDocument {
  /** May hold {id}. */
  readonly path: string;
  readonly syntax: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly fields: readonly GuessedField[];
}

/** What a key is called that carries a fact, in the words of many programs. */
const FACTS: readonly (readonly [fact: string, names: RegExp])[] = [
  ['title', /^(?:title|name|label|display_?name|theme_?name)$/i],
  ['version', /^(?:version|release|revision)$/i],
  ['summary', /^(?:description|summary|about|comment|tagline)$/i],
  ['author', /^(?:authors?|maintainers?|made_?by|creator)$/i],
  ['license', /^(?:licen[cs]e)$/i],
  ['homepage', /^(?:homepage|url|website|uri|link|theme_?uri)$/i],
  ['parent', /^(?:parent|extends|inherits?|base|based_?on|template|follows)$/i],
  ['tags', /^(?:tags|keywords|topics)$/i],
  ['id', /^(?:id|slug|key|machine_?name|identifier|code)$/i],
  ['cover', /^(?:cover|screenshot|preview|thumbnail|thumb|picture)$/i],
  ['hosts', /^(?:hosts|requires|compatib\w*|engine|api|supports)$/i],
];

/** Syntaxes by the ending of the file, the likeliest options first. */
const READERS: Readonly<Record<string, readonly { syntax: string; options: Readonly<Record<string, unknown>> }[]>> = {
  yaml: [{ syntax: 'yaml', options: {} }],
  yml: [{ syntax: 'yaml', options: {} }],
  json: [{ syntax: 'json', options: {} }],
  toml: [{ syntax: 'toml', options: {} }],
  ini: [{ syntax: 'ini', options: {} }],
  conf: [{ syntax: 'ini', options: {} }],
  cfg: [{ syntax: 'ini', options: {} }],
  theme: [{ syntax: 'ini', options: {} }],
  xml: [{ syntax: 'xml', options: {} }],
  css: [
    { syntax: 'comment-header', options: { open: '/*---', close: '---*/' } },
    { syntax: 'header-lines', options: {} },
  ],
  php: [{ syntax: 'php', options: { at: 'return' } }],
  mjs: [{ syntax: 'javascript', options: { at: 'export default' } }],
  js: [
    { syntax: 'javascript', options: { at: 'export default' } },
    { syntax: 'javascript', options: { at: 'module.exports =' } },
  ],
};

/** More fields than this are settings of the theme, not what it is. */
const MAX_FIELDS = 40;

/** The documents of the themes, the likeliest manifest first: files that all of them have and that name or date them. */
export function guessDocuments(samples: readonly SampleTheme[]): GuessedDocument[] {
  const [first, ...others] = samples;
  if (first === undefined) return [];
  const found = first.tree.entries.flatMap(({ path, kind }): { document: GuessedDocument; weight: number }[] => {
    if (kind !== 'file' || path.split('/').length > 2) return [];
    const shape = shapeOf(path, first.id);
    if (!others.every(({ tree, id }) => tree.get(shape.replaceAll('{id}', id)) !== undefined)) return [];
    const document = readAs(first, path, shape, others);
    return document === undefined ? [] : [{ document, weight: weightOf(document) }];
  });
  return found
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => b.weight - a.weight || (a.document.path < b.document.path ? -1 : 1))
    .map(({ document }) => document);
}

/** The id in a file's name stands for every theme's. */
function shapeOf(path: string, id: string): string {
  const folder = path.slice(0, path.lastIndexOf('/') + 1);
  const base = path.slice(folder.length);
  return base === `${id}${base.slice(id.length)}` && /^[.\-_]/.test(base.slice(id.length)) ? `${folder}{id}${base.slice(id.length)}` : path;
}

/** A manifest says what its theme is called, and of which version. */
function weightOf({ fields, path }: GuessedDocument): number {
  const facts = new Set(fields.map(({ fact }) => fact));
  const known = ['title', 'version', 'summary', 'author', 'license', 'parent', 'hosts'].filter((fact) => facts.has(fact)).length;
  if (!facts.has('title') && known < 2) return 0;
  return known + (path.includes('/') ? -2 : 0);
}

function readAs({ tree, id }: SampleTheme, path: string, shape: string, others: readonly SampleTheme[]): GuessedDocument | undefined {
  const source = readText(tree, path);
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
  for (const { syntax, options } of source === undefined ? [] : (READERS[ending] ?? [])) {
    const { root, problems } = findSyntax(syntax)?.read(source?.text ?? '', options) ?? { root: undefined, problems: [] };
    if (root === undefined || root.entries.length === 0 || problems.length > 0) continue;
    const keys = keysOf(root).slice(0, MAX_FIELDS);
    const theirs = others.map((other) => new Set(keysOf(rootIn(other, shape, syntax, options)).map(({ key }) => key.join('\0'))));
    const taken = new Set<string>();
    const fields = keys.map(({ key, node }) => {
      const isShared = theirs.every((keysThere) => keysThere.has(key.join('\0')));
      return fieldOf(key, node, { id, tree, isShared, taken });
    });
    return { path: shape, syntax, options, fields };
  }
  return undefined;
}

function rootIn({ tree, id }: SampleTheme, shape: string, syntax: string, options: Readonly<Record<string, unknown>>): MapNode | undefined {
  const source = readText(tree, shape.replaceAll('{id}', id));
  return source === undefined ? undefined : findSyntax(syntax)?.read(source.text, options).root;
}

/** Single values and lists, with their paths; not deeper than anybody writes a manifest. */
function keysOf(root: MapNode | undefined, above: readonly string[] = []): { key: readonly string[]; node: ValueNode }[] {
  return (root?.entries ?? []).flatMap(({ key, value }) => {
    const path = [...above, key];
    return value.kind === 'map' && path.length < 3 ? keysOf(value, path) : [{ key: path, node: value }];
  });
}

function fieldOf(
  key: readonly string[],
  node: ValueNode,
  { id, tree, isShared, taken }: { id: string; tree: FileTree; isShared: boolean; taken: Set<string> },
): GuessedField {
  const last = (key.at(-1) ?? '').replace(/^[@#]/, '');
  const value = plainValue(node);
  const named = FACTS.find(([fact, names]) => names.test(last) && !taken.has(fact) && key.length <= 2)?.[0];
  // A name that is the folder's is no title.
  const isId = value === id && (named === 'title' || named === undefined) && !taken.has('id');
  const fact = isId ? 'id' : (named ?? factName(key));
  taken.add(fact);
  const { type, of, why } = typeOf(fact, value, tree);
  const isCore = ['title', 'version', 'id'].includes(fact);
  const from = `${key.join('.')}: ${shown(value)}${why === '' ? '' : `, ${why}`}`;
  return { key, fact, type, of, isRequired: isCore && isShared, value: typeof value === 'string' ? value : '', from };
}

/** A name of its own for what is no known fact. */
function factName(key: readonly string[]): string {
  const words = key
    .map((part) => part.replace(/[^A-Za-z0-9]+/g, ' ').trim())
    .join(' ')
    .split(/\s+/);
  return (
    words
      .map((word, i) => (i === 0 ? word.charAt(0).toLowerCase() + word.slice(1) : word.charAt(0).toUpperCase() + word.slice(1)))
      .join('') || 'value'
  );
}

function typeOf(fact: string, value: unknown, tree: FileTree): { type: FieldKind; of?: FieldKind; why: string } {
  if (Array.isArray(value))
    return { type: 'list', ...(value.every((each) => isPath(each, tree)) && value.length > 0 ? { of: 'path' } : {}), why: 'a list' };
  if (typeof value === 'object' && value !== null) return { type: 'map', why: 'a map' };
  if (typeof value === 'boolean') return { type: 'boolean', why: '' };
  if (fact === 'id') return { type: 'id', why: 'the folder’s name' };
  if (fact === 'parent') return { type: 'parent', why: '' };
  const text = typeof value === 'string' || typeof value === 'number' ? String(value) : '';
  if (fact === 'version')
    return semver.valid(text) === null ? { type: 'text', why: 'no version of three numbers' } : { type: 'version', why: '' };
  if (fact === 'hosts' && semver.validRange(text) !== null && text !== '') return { type: 'range', why: '' };
  if (/^https?:\/\//.test(text)) return { type: 'url', why: '' };
  if (/^[^@\s]+@[^@\s]+\.[^@\s]+$/.test(text)) return { type: 'email', why: '' };
  if (fact === 'license' && isLicence(text)) return { type: 'license', why: '' };
  if (isPath(value, tree)) return { type: 'path', why: 'a file of the theme' };
  if (/^lang(?:uage)?$|^locale$/i.test(fact) && parseLanguage(text).language) return { type: 'language', why: '' };
  return typeof value === 'number' && Number.isInteger(value) ? { type: 'integer', why: '' } : { type: 'text', why: '' };
}

function isPath(value: unknown, tree: FileTree): boolean {
  return typeof value === 'string' && /\.\w+$/.test(value) && tree.get(value.replace(/^\.\//, ''))?.kind === 'file';
}

function isLicence(text: string): boolean {
  try {
    parseSpdx(text);
    return true;
  } catch {
    return false;
  }
}

function shown(value: unknown): string {
  const text = typeof value === 'string' ? value : JSON.stringify(value ?? null);
  return text.replace(/\s+/g, ' ').slice(0, 40);
}
