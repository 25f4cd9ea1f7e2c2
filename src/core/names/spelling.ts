/** The ways in which code and prose write a name of one or more words. */
export const SPELLINGS = {
  kebab: (words) => lower(words).join('-'),
  snake: (words) => lower(words).join('_'),
  dot: (words) => lower(words).join('.'),
  flat: (words) => lower(words).join(''),
  spaced: (words) => lower(words).join(' '),
  camel: (words) => uncapital(capitals(words).join('')),
  pascal: (words) => capitals(words).join(''),
  capitalFlat: (words) => capital(lower(words).join('')),
  capitalSnake: (words) => capitals(words).join('_'),
  capitalDot: (words) => capitals(words).join('.'),
  train: (words) => capitals(words).join('-'),
  title: (words) => capitals(words).join(' '),
  sentence: (words) => capital(lower(words).join(' ')),
  constant: (words) => upper(words).join('_'),
  upperKebab: (words) => upper(words).join('-'),
  upperDot: (words) => upper(words).join('.'),
  upperFlat: (words) => upper(words).join(''),
  upperSpaced: (words) => upper(words).join(' '),
} as const satisfies Record<string, (words: readonly string[]) => string>;

export type Spelling = keyof typeof SPELLINGS;

/** Writes words in a spelling. */
export function spell(words: readonly string[], spelling: Spelling): string {
  return SPELLINGS[spelling](words);
}

export function isSpelling(name: string): name is Spelling {
  return Object.hasOwn(SPELLINGS, name);
}

/**
 * Splits a name into its words, in lower case: at separators, and where a capital begins a word
 * (`cumbre-sur`, `cumbre_sur`, `cumbreSur`, `CumbreSur`, `Cumbre Sur` all give cumbre, sur). Digits stay with the
 * word before them.
 */
export function splitWords(name: string): string[] {
  return name
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu}|\p{N})(\p{Lu}\p{Ll})/gu, '$1 $2')
    .split(/[^\p{L}\p{N}\p{M}]+/u)
    .filter((word) => word !== '')
    .map((word) => word.toLowerCase());
}

function lower(words: readonly string[]): string[] {
  return words.map((word) => word.toLowerCase());
}

function upper(words: readonly string[]): string[] {
  return words.map((word) => word.toUpperCase());
}

function capitals(words: readonly string[]): string[] {
  return lower(words).map(capital);
}

function capital(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1);
}

function uncapital(word: string): string {
  return word.charAt(0).toLowerCase() + word.slice(1);
}
