import { parse as parseLanguage } from 'bcp-47';
import { plainValue, type MapEntry, type MapNode, type ValueNode } from '../documents/syntax.ts';
import { followLinks } from '../files/file-tree.ts';
import { compareText } from '../files/file-tree.ts';
import { factName, factNamed } from './fact-names.ts';
import type { LearnedField } from './learned.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';
import { idShape, learnType, split, type LearnedType, type SampleValue } from './values.ts';

interface Read {
  readonly theme: SampleTheme;
  readonly root: MapNode;
}

/** A key with its values in the themes that have it. */
interface Key {
  readonly path: readonly string[];
  readonly values: SampleValue[];
  /** Of all themes together, how far down it stands. */
  depth: number;
}

/** A share of the documents that has to have a key for it to be a field of the host; others are a theme's settings. */
const COMMON = 0.5;
/** The same for keys that the trade has words for. */
const NAMED = 0.15;
/** A file with more keys than this is data, not a manifest. */
const MOST = 400;
/** Nobody writes a manifest deeper than this. */
const DEEPEST = 3;

/** The fields that documents share, by what nearly all of them say. */
export function learnFields(set: ThemeSet, read: readonly Read[]): LearnedField[] {
  const { shared, isData } = dataSections(read);
  const keys = keysOf(read, isData);
  const maps = new Set(read.flatMap(({ root }) => [...mapsIn(root)]));
  const total = read.length;
  // A file that is all sections has its keys one level further in.
  const hasSections = read.filter(({ root }) => root.entries.every(({ value }) => value.kind === 'map')).length > total / 2;
  const common = [...keys.values()]
    .filter(({ path, values }) => {
      // In some themes a map and in others a value: a setting, which each theme has as it likes.
      if (maps.has(path.join('\0'))) return false;
      const isNamed = path.length <= (hasSections ? 2 : 1) && factNamed(path) !== undefined;
      return values.length >= Math.min(2, total) && values.length >= total * (isNamed ? NAMED : COMMON);
    })
    .sort((a, b) => b.values.length - a.values.length || a.depth - b.depth || compareText(a.path.join('\0'), b.path.join('\0')))
    .slice(0, MOST);
  // The id is what equals the folder; only then is a name a title.
  const ids = common.filter(({ values }) => idShape(values) === '{id}' && values.length >= COMMON * total);
  const id = ids.find(({ path }) => factNamed(path) === 'id') ?? ids[0];
  const taken = new Set<string>();
  const fields = common.flatMap((key) => (translationOf(key.path, keys) === undefined ? fieldOf(set, key, key === id, total, taken) : []));
  const translated = fields.map((field) => ({ ...field, translations: translationsOf(field.key, keys) }));
  return [...translated, ...(shared.length === 0 ? [] : sectionFields(read, isData))];
}

/** A key as a field; none where no type holds all its values. @param taken facts that other fields carry */
function fieldOf(set: ThemeSet, { path, values }: Key, isId: boolean, total: number, taken: Set<string>): LearnedField[] {
  const named = path.length <= 2 ? factNamed(path) : undefined;
  const isFree = named !== undefined && named !== 'id' && !taken.has(named);
  const type = isId ? ID : (shapedType(values) ?? parentType(set, isFree ? named : undefined, values) ?? learnType(values, named));
  // In some a text and in others a number or a truth value, without quotes.
  if (type.type === 'text' && values.some(({ sort }) => sort === 'number' || sort === 'boolean')) return [];
  const wanted = isId ? 'id' : type.shape === undefined ? (isFree ? named : factName(path)) : 'package';
  const fact = unique(wanted, taken);
  const seen = { count: values.filter(({ text, sort }) => sort !== 'none' && text !== '').length, of: total };
  const required = ThemeSet.isNeeded(seen.count, total) && (total > 1 || ['id', 'title', 'version'].includes(fact));
  return [{ key: path, fact, ...type, required, example: exampleOf(values), seen }];
}

const ID: LearnedType = { type: 'id', why: 'the folder’s name' };

/** A text that holds the id among others: what a registry calls the theme. */
function shapedType(values: readonly SampleValue[]): LearnedType | undefined {
  const shape = idShape(values);
  return shape === undefined || shape === '{id}' ? undefined : { type: 'text', shape, why: 'it holds the folder’s name' };
}

function unique(fact: string, taken: Set<string>): string {
  let name = fact;
  for (let i = 2; taken.has(name); i++) name = `${fact}${i}`;
  taken.add(name);
  return name;
}

/** All keys of documents with their values; of a theme each once. */
function keysOf(read: readonly Read[], isData: (section: ValueNode) => boolean): Map<string, Key> {
  const keys = new Map<string, Key>();
  for (const { theme, root } of read) {
    const sections = new Set(root.entries.flatMap(({ key, value }) => (value.kind === 'map' ? [key] : [])));
    const seen = new Set<string>();
    for (const { path, node } of root.entries.flatMap((entry) => (isData(entry.value) ? [] : [...valuesIn([entry])]))) {
      const name = path.join('\0');
      if (seen.has(name)) continue;
      seen.add(name);
      const key = keys.get(name) ?? { path, values: [], depth: 0 };
      key.depth += seen.size;
      key.values.push(sampleOf(theme, node, sections));
      keys.set(name, key);
    }
  }
  return keys;
}

function* valuesIn(entries: readonly MapEntry[], above: readonly string[] = []): Generator<{ path: readonly string[]; node: ValueNode }> {
  for (const { key, value } of entries) {
    const path = [...above, key];
    if (value.kind === 'map' && path.length < DEEPEST && value.entries.length > 0) yield* valuesIn(value.entries, path);
    else yield { path, node: value };
  }
}

/** The paths of keys that hold maps with something in them. */
function* mapsIn(root: MapNode, above: readonly string[] = []): Generator<string> {
  for (const { key, value } of root.entries) {
    if (value.kind !== 'map' || above.length + 1 >= DEEPEST) continue;
    yield [...above, key].join('\0');
    yield* mapsIn(value, [...above, key]);
  }
}

function sampleOf(theme: SampleTheme, node: ValueNode, sections: ReadonlySet<string>): SampleValue {
  const value = plainValue(node);
  const isList = Array.isArray(value);
  const sort: SampleValue['sort'] =
    value === null || value === undefined
      ? 'none'
      : isList
        ? 'list'
        : typeof value === 'object'
          ? 'map'
          : typeof value === 'boolean'
            ? 'boolean'
            : typeof value === 'number'
              ? 'number'
              : 'text';
  return {
    id: theme.id,
    sort,
    text: sort === 'text' || sort === 'number' ? String(value) : undefined,
    items: isList ? (value as unknown[]).map(String) : [],
    isFile: (path) => followLinks(theme.tree, path)?.kind === 'file',
    isSection: (name) => sections.has(name),
  };
}

function exampleOf([first]: readonly SampleValue[]): string {
  return (first?.text ?? first?.items.join(', ') ?? '').replace(/\s+/g, ' ').slice(0, 40);
}

/** A parent is another theme of the set, or one that several name and that is nowhere among them: the host's own. */
function parentType(set: ThemeSet, fact: string | undefined, values: readonly SampleValue[]): LearnedType | undefined {
  if (fact !== 'parent') return undefined;
  const plain = values.filter(({ text }) => text !== undefined && text !== '');
  const separator = [',', ';'].find((sign) => plain.some(({ text }) => text?.includes(sign) === true));
  const lists = values.map(({ text, items }) => (text === undefined ? items : separator === undefined ? [text] : split(text, separator)));
  const names = lists.flat();
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  const strangers = [...counts].filter(([name, count]) => !set.ids.has(name) && count === 1).length;
  // Where many name a theme that nobody else names, others will name ones that nobody here has heard of.
  if (names.length === 0 || strangers > Math.max(1, names.length * 0.08)) return undefined;
  if (names.some((name) => /[\s/]/.test(name))) return undefined;
  if (values.some(({ sort }) => sort === 'list')) return { type: 'list', of: 'parent', why: 'names of themes' };
  return separator === undefined
    ? { type: 'parent', why: 'the name of a theme' }
    : { type: 'list', of: 'parent', separator, why: 'names of themes' };
}

/** `Name[es]`, `name_es` beside `Name`, `name`: the key that it translates, and the locale's place in it. */
function translationOf(path: readonly string[], keys: ReadonlyMap<string, Key>): { base: string; shape: string } | undefined {
  const last = path.at(-1) ?? '';
  const match = /^(.+?)(\[|[_.:-])([a-z]{2,3}(?:[_@-][A-Za-z]+)*)(\]?)$/.exec(last);
  if (match === null) return undefined;
  const [, base = '', open = '', locale = '', close = ''] = match;
  if ((open === '[') !== (close === ']') || !isLocale(locale)) return undefined;
  const own = [...path.slice(0, -1), base].join('\0');
  return keys.has(own) ? { base: own, shape: `${base}${open}{locale}${close}` } : undefined;
}

function isLocale(text: string): boolean {
  const { language } = parseLanguage(text.replace(/@.*$/, '').replaceAll('_', '-'));
  return typeof language === 'string' && language.length === 2;
}

/** How the translations of a key are called, where there are any. */
function translationsOf(path: readonly string[], keys: ReadonlyMap<string, Key>): string | undefined {
  const own = path.join('\0');
  const shapes = [...keys.values()].flatMap((key) => {
    const of = key.path.length === path.length ? translationOf(key.path, keys) : undefined;
    return of?.base === own ? [of.shape] : [];
  });
  // One key can end like a language by chance.
  return shapes.length > 1 ? shapes[0] : undefined;
}

/** A theme with fewer sections than this keeps no data in them. */
const SECTIONS = 3;

/** Sections of the theme's own making, with names as it likes: their keys are the same in nearly all ([16x16/places], Size). */
function dataSections(read: readonly Read[]): { shared: readonly string[]; isData: (section: ValueNode) => boolean } {
  const none = { shared: [], isData: () => false };
  const all = read.flatMap(({ root }) => root.entries.flatMap(({ value }) => (value.kind === 'map' ? [value] : [])));
  const having = read.filter(({ root }) => root.entries.filter(({ value }) => value.kind === 'map').length > SECTIONS);
  if (having.length < read.length * 0.7) return none;
  const counts = new Map<string, number>();
  for (const section of all) for (const { key } of section.entries) counts.set(key, (counts.get(key) ?? 0) + 1);
  const shared = [...counts].filter(([, count]) => count >= all.length * 0.8).map(([key]) => key);
  if (shared.length === 0) return none;
  return {
    shared,
    isData: (section) => section.kind === 'map' && shared.some((key) => section.entries.some((entry) => entry.key === key)),
  };
}

function sectionFields(read: readonly Read[], isData: (section: ValueNode) => boolean): LearnedField[] {
  const sections = read.flatMap(({ theme, root }) =>
    root.entries.flatMap(({ value }) => (value.kind === 'map' && isData(value) ? [{ theme, entries: value.entries }] : [])),
  );
  const having = new Map<string, Set<SampleTheme>>();
  for (const { theme, entries } of sections) for (const { key } of entries) having.set(key, (having.get(key) ?? new Set()).add(theme));
  const keys = [...having].filter(([, themes]) => themes.size >= read.length * COMMON).map(([key]) => key);
  return keys.sort(compareText).flatMap((key): LearnedField[] => {
    const values = sections.flatMap(({ theme, entries }) =>
      entries.flatMap((entry) => (entry.key === key ? [sampleOf(theme, entry.value, new Set())] : [])),
    );
    const type = learnType(values, undefined);
    if (type.type === 'text' && type.pattern === undefined) return [];
    const seen = { count: values.length, of: sections.length };
    return [{ key: ['*', key], fact: factName(['section', key]), ...type, required: false, example: exampleOf(values), seen }];
  });
}
