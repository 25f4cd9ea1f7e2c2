import { fitsType, type StandardKind } from '../facts/judge-value.ts';
import type { FieldKind } from '../platform/schema.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { spelledIds } from './id-shapes.ts';
import { ThemeSet } from './theme-set.ts';

/** A value of one theme, and what it could lead to. */
export interface SampleValue {
  readonly id: string;
  /** As text, where it is one value; else undefined. */
  readonly text: string | undefined;
  readonly sort: 'text' | 'number' | 'boolean' | 'list' | 'map' | 'none';
  /** The entries of a list. */
  readonly items: readonly string[];
  readonly isFile: (path: string) => boolean;
  /** Whether the document has a section of this name. */
  readonly isSection: (name: string) => boolean;
}

/** The type that nearly all values have, and the reason for it. */
export interface LearnedType {
  readonly type: FieldKind;
  readonly of?: FieldKind | undefined;
  readonly separator?: string | undefined;
  readonly shape?: string | undefined;
  readonly values?: readonly string[] | undefined;
  readonly pattern?: string | undefined;
  readonly grammar?: string | undefined;
  readonly under?: string | undefined;
  readonly why: string;
}

const TEXT: LearnedType = { type: 'text', why: '' };
/** Types that standards define, in the order in which a value is tried; a fact's name can ask for one before these. */
const STANDARD: readonly (readonly [kind: StandardKind, why: string])[] = [
  ['integer', 'a whole number'],
  ['version', 'a version of three numbers'],
  ['url', 'a web address'],
  ['email', 'an e-mail address'],
  ['color', 'a color like #336699'],
];
const PATTERNS: readonly (readonly [pattern: string, grammar: string])[] = [
  ['-?\\d+(\\.\\d+)?', 'a number'],
  ['\\d+(\\.\\d+)+', 'numbers with dots'],
];
/** Words that only say yes or no. */
const TRUTHS: readonly (readonly string[])[] = [
  ['true', 'false'],
  ['True', 'False'],
  ['TRUE', 'FALSE'],
  ['yes', 'no'],
  ['on', 'off'],
];
/** Fewer values than this show nothing about what others will say. */
const TELLING = 4;

/** The type of a key's values: that which nearly all of them have. @param fact the fact that its name speaks of, if any */
export function learnType(values: readonly SampleValue[], fact: string | undefined): LearnedType {
  const given = values.filter(({ text, sort }) => sort !== 'none' && text !== '');
  const nearlyAll = (holds: (value: SampleValue) => boolean): boolean =>
    ThemeSet.isNearlyAll(given.filter((each) => holds(each)).length, given.length);
  if (given.length === 0) return TEXT;
  if (nearlyAll(({ sort }) => sort === 'boolean')) return { type: 'boolean', why: 'true or false' };
  if (nearlyAll(({ sort }) => sort === 'list')) return listType(given);
  if (nearlyAll(({ sort }) => sort === 'map')) return { type: 'map', why: 'a map' };
  if (!nearlyAll(({ text }) => text !== undefined)) return TEXT;
  const texts = given.flatMap(({ text }) => text ?? []);
  const fits = (kind: StandardKind): boolean => nearlyAll(({ text }) => text !== undefined && fitsType(text, kind));
  if (fact === 'license' && fits('license')) return { type: 'license', why: 'as SPDX calls it' };
  if (fact === 'version') return fits('version') ? { type: 'version', why: 'a version of three numbers' } : (patternOf(texts) ?? TEXT);
  if (fact === 'hosts' && fits('range') && texts.length > 0) return { type: 'range', why: 'a range of releases' };
  if (fact === 'language' && fits('language')) return { type: 'language', why: 'a language' };
  // A syntax that has numbers says so itself.
  const isNumber = nearlyAll(({ sort }) => sort === 'number');
  const standard = STANDARD.find(
    ([kind]) => (isNumber || texts.length >= TELLING || (kind !== 'integer' && kind !== 'color')) && fits(kind),
  );
  if (standard !== undefined) return { type: standard[0], why: standard[1] };
  return pathType(given) ?? truth(texts) ?? separated(given) ?? patternOf(texts) ?? choice(given) ?? TEXT;
}

/** A value that holds the id, alone or among text that is the same everywhere: `look:{id}`. */
export function idShape(values: readonly SampleValue[]): string | undefined {
  const counts = new Map<string, { all: number; telling: number }>();
  for (const { text, id } of values)
    for (const { placeholder, text: own } of text === undefined || id.length < 2 ? [] : spelledIds(id)) {
      const at = text?.indexOf(own) ?? -1;
      if (at < 0) continue;
      const shape = `${text?.slice(0, at)}${placeholder}${text?.slice(at + own.length)}`;
      const known = counts.get(shape) ?? { all: 0, telling: 0 };
      // The id itself, or its title, shows no other spelling.
      const isTelling = own !== id && own !== spell(splitWords(id), 'title');
      counts.set(shape, { all: known.all + 1, telling: known.telling + Number(isTelling) });
    }
  const fitting = [...counts].find(
    ([shape, { all, telling }]) =>
      // A file that is called like the theme is a path, and several words are a title.
      !/\.\w{2,5}$|\s/.test(shape) &&
      (shape.includes('{id}') || telling > 1) &&
      (values.length > 1 || shape === '{id}') &&
      ThemeSet.isNearlyAll(all, values.length),
  );
  return fitting?.[0];
}

/** Where the values lead to files: from the theme's root, or from a folder of it. */
function pathType(values: readonly SampleValue[]): LearnedType | undefined {
  const folders = ['', ...new Set(values.flatMap(({ text }) => (text === undefined ? [] : foldersFor(text, values))))];
  for (const under of folders) {
    const leads = values.filter(({ text, isFile }) => text !== undefined && isPathLike(text) && isFile(joined(under, text)));
    if (leads.length > 0 && ThemeSet.isNearlyAll(leads.length, values.length))
      return { type: 'path', ...(under === '' ? {} : { under }), why: 'a file of the theme' };
  }
  return undefined;
}

/** Folders in which a theme's files are often kept: those from which one of the values leads to a file. */
function foldersFor(text: string, values: readonly SampleValue[]): string[] {
  if (!isPathLike(text)) return [];
  return [
    'static',
    'assets',
    'css',
    'styles',
    'images',
    'img',
    'media',
    'source',
    'public',
    'src',
    'templates',
    'layout',
    'layouts',
  ].filter((folder) => values.some(({ isFile }) => isFile(joined(folder, text))));
}

function isPathLike(text: string): boolean {
  return /^[^\s:*?"<>|]+\.\w+$/.test(text) && !/^\/|\.\./.test(text);
}

function joined(folder: string, path: string): string {
  const plain = path.replace(/^\.\//, '');
  return folder === '' ? plain : `${folder}/${plain}`;
}

function truth(texts: readonly string[]): LearnedType | undefined {
  const words = TRUTHS.find((each) => texts.every((text) => each.includes(text)));
  return words === undefined || texts.length < TELLING ? undefined : { type: 'choice', values: words, why: 'yes or no' };
}

function patternOf(texts: readonly string[]): LearnedType | undefined {
  if (texts.length < TELLING) return undefined;
  const fitting = PATTERNS.find(([pattern]) => {
    const whole = new RegExp(`^(?:${pattern})$`);
    return ThemeSet.isNearlyAll(texts.filter((text) => whole.test(text)).length, texts.length);
  });
  return fitting === undefined ? undefined : { type: 'text', pattern: `^(?:${fitting[0]})$`, grammar: fitting[1], why: fitting[1] };
}

/**
 * One of few values that recur. A value that was met once alone says that others will be met, too (after Good and Turing, the
 * share of such values is the likelihood of a new one).
 */
function choice(values: readonly SampleValue[]): LearnedType | undefined {
  const themes = new Map<string, Set<string>>();
  for (const { text = '', id } of values) themes.set(text, (themes.get(text) ?? new Set()).add(id));
  const size = new Set(values.map(({ id }) => id)).size;
  const isTelling = size >= 3 * TELLING && themes.size > 1 && themes.size <= values.length / TELLING;
  const isClosed = [...themes].every(([text, those]) => those.size > 1 && text.length < 40);
  return isTelling && isClosed ? { type: 'choice', values: [...themes.keys()].sort(), why: 'one of few values' } : undefined;
}

/** A list that is written as one text. */
function separated(values: readonly SampleValue[]): LearnedType | undefined {
  for (const separator of [',', ';', ' ']) {
    const several = values.filter(({ text }) => text?.includes(separator) === true);
    if (several.length < Math.max(2, values.length / 3)) continue;
    const lists = values.map((each) => ({ ...each, items: split(each.text ?? '', separator) }));
    const { of, why } = listType(lists);
    if (of !== undefined) return { type: 'list', of, separator, why };
  }
  return undefined;
}

export function split(text: string, separator: string): string[] {
  return text
    .split(separator)
    .map((each) => each.trim())
    .filter((each) => each !== '');
}

function listType(values: readonly SampleValue[]): LearnedType {
  const filled = values.filter(({ items }) => items.length > 0);
  const all = (holds: (value: SampleValue, item: string) => boolean): boolean =>
    filled.length > 0 &&
    ThemeSet.isNearlyAll(filled.filter((value) => value.items.every((item) => holds(value, item))).length, filled.length);
  if (all(({ isSection }, item) => isSection(item))) return { type: 'list', of: 'section', why: 'names of sections' };
  if (all(({ isFile }, item) => isPathLike(item) && isFile(joined('', item))))
    return { type: 'list', of: 'path', why: 'files of the theme' };
  return { type: 'list', why: 'a list' };
}
