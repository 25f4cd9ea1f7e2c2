import { isSpelling, spell, splitWords } from './spelling.ts';
import type { ThemeNames } from './full-name.ts';
import { escapePattern } from '../text/pattern.ts';

const PLACEHOLDER = /\{(id|vendor|title|locale|name|path)(?::([A-Za-z]+))?\}/g;

/**
 * The patterns of the open placeholders. Each is one character class repeated a limited number of times: so a search takes no
 * longer than the text is long, times that number, also in a text that begins to match everywhere.
 */
const OPEN: Readonly<Record<string, string>> = {
  name: '[A-Za-z0-9_]{1,200}',
  path: '[A-Za-z0-9_./-]{1,400}',
  locale: '[A-Za-z]{2,3}(?:[-_][A-Za-z0-9]{2,8}){0,6}',
  id: '[A-Za-z0-9][A-Za-z0-9._-]{0,200}',
  vendor: '[A-Za-z0-9][A-Za-z0-9._-]{0,200}',
  title: '[^\\n]{0,400}',
};

/**
 * Why a shape cannot be searched for in texts: two placeholders must be told apart by a character that none of them holds,
 * or a search tries every way to divide a stretch between them.
 */
export function problemOfSearch(shape: string): string | undefined {
  const between = shape.split(PLACEHOLDER_TEXT).slice(1, -1);
  if (between.length > 3) return 'it has more than four placeholders';
  return between.every((text) => /[^A-Za-z0-9_./\s-]/.test(text))
    ? undefined
    : 'it has two placeholders that nothing tells apart: put a bracket, a quote or a comma between them';
}

/** Why a tag of a template language cannot be searched for; {text} stands for anything, once, and something must end it. */
export function problemOfTag(shape: string): string | undefined {
  const [before = '', after, ...more] = shape.split('{text}');
  if (after === undefined) return problemOfSearch(shape);
  if (more.length > 0) return 'it holds {text} more than once';
  if (before.trim() === '' || (after.trim() === '' && !isLineEnd(after)))
    return 'it needs something before {text}, and something that ends it';
  return problemOfSearch(before) ?? problemOfSearch(after);
}

/** Whether what ends a tag is the end of its line. */
export function isLineEnd(after: string): boolean {
  return after.includes('\n') && after.trim() === '';
}

const PLACEHOLDER_TEXT = /\{(?:id|vendor|title|locale|name|path)(?::[A-Za-z]+)?\}/;

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
 * the shape stands for any amount of white space, also none, but between two words, where it holds them apart; a quote for
 * either kind of quote; `{?-}` for a hyphen that may be absent.
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
    source += literal(shape.slice(at, match.index), at > 0, true);
    at = match.index + whole.length;
    const known = nameFor(key, style, names);
    if (known !== undefined) source += escapePattern(known);
    else if (seen.has(key)) source += `\\k<${key}>`;
    else source += `(?<${key}>${OPEN[key]})`;
    seen.add(key);
  }
  return source + literal(shape.slice(at), at > 0, false);
}

/** Whether all names that a shape asks for are known: without one of them, its place fits any word. */
export function isFilledBy(shape: string, names: Partial<ThemeNames>): boolean {
  return [...shape.matchAll(/\{(id|vendor|title)(?::\w+)?\}/g)].every(([, key]) => nameFor(key ?? '', undefined, names) !== undefined);
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

/** A part of a shape that may be absent: `{%{?-} include`. */
const OPTIONAL = /\{\?([^{}]+)\}/;

/** A shape in its shortest form, with nothing that may be absent. */
export function shortestShape(shape: string): string {
  return shape.replaceAll(new RegExp(OPTIONAL, 'g'), '');
}

/** @param isAfterName whether a placeholder, which is a word, stands before the text; `isBeforeName`: behind it */
function literal(text: string, isAfterName: boolean, isBeforeName: boolean): string {
  const parts = text.split(OPTIONAL);
  const last = parts.length - 1;
  // Every second part is one that may be absent.
  return parts
    .map((part, i) => (i % 2 === 1 ? `(?:${escapePattern(part)})?` : literalPart(part, i === 0 && isAfterName, i === last && isBeforeName)))
    .join('');
}

function literalPart(text: string, isAfterName: boolean, isBeforeName: boolean): string {
  return text.replace(/ +|[^ ]+/g, (part, offset: number) => {
    if (!part.startsWith(' ')) return escapePattern(part).replace(/["']/g, `["']`);
    const before = text.charAt(offset - 1);
    const after = text.charAt(offset + part.length);
    const isApart = (before === '' ? isAfterName : /\w/.test(before)) && (after === '' ? isBeforeName : /\w/.test(after));
    return isApart ? '\\s+' : '\\s*';
  });
}
