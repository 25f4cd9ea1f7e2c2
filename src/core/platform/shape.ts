import { isSpelling, spell, splitWords } from '../text/spelling.ts';

/** The names that a theme goes by, as facts give them. */
export interface ThemeNames {
  readonly id: string;
  readonly vendor?: string | undefined;
  readonly title?: string | undefined;
}

const PLACEHOLDER = /\{(id|vendor|title|locale|name|path)(?::([A-Za-z]+))?\}/g;

/** What the open placeholders stand for. Each is one character class repeated, so matching stays linear. */
const OPEN: Readonly<Record<string, string>> = {
  name: '[A-Za-z0-9_]+',
  path: '[A-Za-z0-9_./-]+',
  locale: '[A-Za-z]{2,3}(?:[-_][A-Za-z0-9]{2,8})*',
  id: '[A-Za-z0-9][A-Za-z0-9._-]*',
  vendor: '[A-Za-z0-9][A-Za-z0-9._-]*',
  title: '[^\\n]*',
};

/** Every placeholder that a shape can hold. */
export const PLACEHOLDER_NAMES: readonly string[] = Object.keys(OPEN);

/**
 * Puts a theme's names into the placeholders of a shape: `{id:snake}_setup` gives `cumbre_sur_setup`.
 * Placeholders that have no name (`{locale}`, `{name}`, `{path}`) stay as they are.
 */
export function fillShape(shape: string, names: ThemeNames): string {
  return shape.replace(PLACEHOLDER, (whole, key: string, style: string | undefined) => nameFor(key, style, names) ?? whole);
}

/**
 * Makes a regular expression of a shape. Known names are matched literally; the rest become named groups. A space in
 * the shape stands for any amount of white space, also none.
 */
export function shapePattern(shape: string, names: Partial<ThemeNames> = {}, flags = 'g'): RegExp {
  return new RegExp(patternSource(shape, names), flags);
}

/** Rules ask for the same few patterns once for every file. */
const knownSources = new Map<string, string>();

function patternSource(shape: string, names: Partial<ThemeNames>): string {
  const key = [shape, names.id, names.vendor, names.title].join('\n');
  const source = knownSources.get(key) ?? sourceOf(shape, names);
  knownSources.set(key, source);
  return source;
}

function sourceOf(shape: string, names: Partial<ThemeNames>): string {
  const seen = new Set<string>();
  let source = '';
  let at = 0;
  for (const match of shape.matchAll(PLACEHOLDER)) {
    const [whole, key = '', style] = match;
    source += literal(shape.slice(at, match.index));
    at = match.index + whole.length;
    const known = nameFor(key, style, names);
    if (known !== undefined) source += escapePattern(known);
    else if (seen.has(key)) source += `\\k<${key}>`;
    else source += `(?<${key}>${OPEN[key]})`;
    seen.add(key);
  }
  return source + literal(shape.slice(at));
}

/** A pattern that a whole text must match. */
export function wholePattern(shape: string, names: Partial<ThemeNames> = {}): RegExp {
  return new RegExp(`^(?:${patternSource(shape, names)})$`);
}

function nameFor(key: string, style: string | undefined, names: Partial<ThemeNames>): string | undefined {
  const name = key === 'id' ? names.id : key === 'vendor' ? names.vendor : key === 'title' ? names.title : undefined;
  if (name === undefined || style === undefined) return name;
  return isSpelling(style) ? spell(splitWords(name), style) : name;
}

function literal(text: string): string {
  return text.split(/ +/).map(escapePattern).join('\\s*');
}

export function escapePattern(text: string): string {
  return text.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&');
}
