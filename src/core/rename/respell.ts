import { spell, splitWords, type Spelling } from '../names/spelling.ts';
import type { ZoneKind } from '../text/zones.ts';
import { spellingOf, splitDigits, type Occurrence } from '../names/name-finder.ts';
import { kindOfPath } from '../text/file-kinds.ts';

/** Where an occurrence stands, as far as the new spelling depends on it. */
export interface Surroundings {
  readonly text: string;
  readonly zone: ZoneKind | 'path';
  readonly file: string;
  /** Whether a sign for a comment stands before it on its line. */
  readonly isInLineComment?: boolean | undefined;
}

/** A name to be found and what takes its place; with the titles that go with an id. */
export interface Renaming {
  readonly from: string;
  readonly to: string;
  readonly fromTitle?: string | undefined;
  readonly toTitle?: string | undefined;
}

/**
 * Returns what the new name is called in the place of the old one; undefined when no spelling can be told.
 *
 * Several words show their spelling themselves. One word alone (`albar`) is kebab, snake, camel and flat at once: what
 * touches it decides, then the language.
 */
export function respell(occurrence: Occurrence, { from, to, fromTitle, toTitle }: Renaming, where: Surroundings): string | undefined {
  const words = splitWords(to);
  if (occurrence.wordCount > 1) {
    const spelling = spellingOf(occurrence);
    if (spelling === undefined) return undefined;
    if (spelling === 'kebab' && occurrence.text === from) return to;
    return spell(occurrence.digitsApart ? words.flatMap(splitDigits) : words, spelling);
  }
  const spelling = spellingOfOneWord(occurrence, where);
  if (spelling === 'as-title') {
    const plain = spell(words, 'title');
    return occurrence.text === fromTitle ? (escapeTitle(toTitle ?? plain, where) ?? plain) : plain;
  }
  return spelling === 'as-id' ? to : spelling === undefined ? undefined : spell(words, spelling);
}

type OneWordSpelling = Spelling | 'as-id' | 'as-title' | undefined;

function spellingOfOneWord(occurrence: Occurrence, where: Surroundings): OneWordSpelling {
  const { letters, start, end } = occurrence;
  const touching = touchOf(where.text, start, end);
  switch (letters) {
    case 'lower':
      // albar__item is a class name of a stylesheet (block, element); only code needs a legal identifier there.
      if (where.text.startsWith('__', end) && (where.zone !== 'code' || kindOfPath(where.file) === 'stylesheet')) return 'kebab';
      if (touching === '_') return 'snake';
      if (touching === '-') return 'kebab';
      if (touching === 'hump') return 'camel';
      if (where.zone === 'code' && kindOfPath(where.file) !== 'stylesheet') return kindOfPath(where.file) === 'script' ? 'camel' : 'snake';
      return where.text.charAt(start - 1) === '$' ? 'snake' : 'as-id';
    case 'upper':
      if (touching === '_') return 'constant';
      if (touching === '-') return 'upperKebab';
      return where.zone === 'code' || where.zone === 'path' || touching === 'hump' ? 'constant' : 'upperSpaced';
    case 'capitals':
      if (touching === '_') return 'capitalSnake';
      if (touching === '-') return 'train';
      return touching === 'hump' || where.zone === 'code' || where.zone === 'path' || isNamespace(where.text, start, end)
        ? 'pascal'
        : 'as-title';
    default:
      return undefined;
  }
}

/** What an occurrence is joined to: the right side counts first, since prefixes are commoner than suffixes. */
function touchOf(text: string, start: number, end: number): '_' | '-' | 'hump' | undefined {
  const after = text.charAt(end);
  const before = text.charAt(start - 1);
  const goesOn = /[\p{L}\p{N}_-]/u.test(text.charAt(end + 1));
  if ((after === '_' || after === '-') && goesOn) return after;
  if (/\p{L}/u.test(after)) return 'hump';
  if (before === '_' || before === '-') return before;
  return /[\p{L}\p{N}]/u.test(before) && text.charAt(start) !== text.charAt(start).toLowerCase() ? 'hump' : undefined;
}

/** `Albar\Setup` and `\Albar` are code even inside a string. */
function isNamespace(text: string, start: number, end: number): boolean {
  return /^\\+\p{L}/u.test(text.slice(end, end + 3)) || /[\p{L}\p{N}]\\+$/u.test(text.slice(Math.max(0, start - 4), start));
}

/** Writes a title so that the file's syntax still holds; undefined where that cannot be told. */
export function escapeTitle(title: string, where: Surroundings): string | undefined {
  if (/^[\p{L}\p{N}\p{M} ]*$/u.test(title)) return title;
  if (where.zone === 'markup')
    return title.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
  if (where.zone === 'string') return title.replace(/[\\"'`]/g, '\\$&');
  if (where.file.endsWith('.json')) return JSON.stringify(title).slice(1, -1);
  if ((kindOfPath(where.file) === 'data' && where.isInLineComment !== true) || /\*\/|-->/.test(title)) return undefined;
  return title;
}
