import { spell, splitWords, type Spelling } from '../names/spelling.ts';
import { spellingOf, splitDigits, type Occurrence } from '../names/name-finder.ts';
import { endingOf, kindOfPath } from '../text/file-kinds.ts';
import { hasHyphens, languageNamed, type Joint } from '../text/languages.ts';
import { isAlone, isMemberInBrackets, isWholeValue } from './alone.ts';
import type { TokenContext } from './token-context.ts';
import { escapeMarkup } from '../text/markup.ts';

/** A name to be found and what takes its place; with the titles that go with an id. */
export interface Renaming {
  readonly from: string;
  readonly to: string;
  readonly fromTitle?: string | undefined;
  readonly toTitle?: string | undefined;
  /** The words of the new title, for places that take the old name apart further than its id does. */
  readonly toWords?: readonly string[] | undefined;
}

/**
 * Returns the spelling of the new name in the place of the old one; undefined when the place does not show one.
 *
 * The exact id stays exact where it stands alone. Several words show their spelling themselves. One word alone (`albar`)
 * is kebab, snake, camel and flat at once: what touches it decides, then the language.
 */
export function respell(occurrence: Occurrence, renaming: Renaming, where: TokenContext): string | undefined {
  const { from, to, fromTitle, toTitle } = renaming;
  const { text, wordCount, separator, letters } = occurrence;
  if (where.isEntry === true) return /^[\p{L}_][\p{L}\p{N}\p{M}_]*$/u.test(to) ? to : spell(splitWords(to), 'snake');
  const isTitle = text === fromTitle;
  if (text === from && !isLowerWord(from) && isAlone(occurrence, where)) return to;
  // An id in one piece is one word, however many words its title has.
  const isOnePiece =
    wordCount === 1 || (separator === '' && splitWords(from).length === 1 && letters !== 'capitals' && letters !== 'camel');
  if (isOnePiece) return respellOneWord({ ...occurrence, letters: letters === 'first' ? 'capitals' : letters }, renaming, where);
  const words = splitWords(from).length === 1 ? (renaming.toWords ?? splitWords(to)) : splitWords(to);
  const spelling = spellingOf(occurrence);
  if (isTitle && (spelling === undefined || text.includes(' ')) && toTitle !== undefined) return escapeTitle(toTitle, where);
  if (spelling === undefined) return titleInCase(text, fromTitle, toTitle, where);
  if (spelling === 'kebab' && text === from) return to;
  return spell(occurrence.digitsApart ? words.flatMap(splitDigits) : words, spelling);
}

/** A title of mixed signs in another case: NORTE CIMA-ALTA. */
function titleInCase(text: string, from: string | undefined, to: string | undefined, where: TokenContext): string | undefined {
  if (from === undefined || to === undefined || text.toLowerCase() !== from.toLowerCase()) return undefined;
  if (text === from.toUpperCase()) return escapeTitle(to.toUpperCase(), where);
  return text === from.toLowerCase() ? escapeTitle(to.toLowerCase(), where) : undefined;
}

/** Where such an id stands alone, what the one-word spellings say of the place is right as well. */
function isLowerWord(id: string): boolean {
  return id === id.toLowerCase() && splitWords(id).length === 1;
}

function respellOneWord(occurrence: Occurrence, { to, fromTitle, toTitle }: Renaming, where: TokenContext): string | undefined {
  const words = splitWords(to);
  const plain = spell(words, 'title');
  if (occurrence.letters === 'mixed')
    return occurrence.text === fromTitle && isProse(where) ? (escapeTitle(toTitle ?? plain, where) ?? plain) : undefined;
  const spelling = spellingOfOneWord(occurrence, where);
  if (spelling === 'as-title') return occurrence.text === fromTitle ? (escapeTitle(toTitle ?? plain, where) ?? plain) : plain;
  // One token stays one token: nobody knows which signs a name may hold here.
  if (spelling === 'as-token') return /^[\p{L}\p{N}\p{M}_]+$/u.test(to) ? to : undefined;
  return spelling === 'as-id' ? to : spelling === undefined ? undefined : spell(words, spelling);
}

type OneWordSpelling = Spelling | 'as-id' | 'as-title' | 'as-token' | undefined;

function spellingOfOneWord(occurrence: Occurrence, where: TokenContext): OneWordSpelling {
  const { letters, start, end } = occurrence;
  const { text, zone, language = endingOf(where.file).language } = where;
  // _albar_ in prose is a matter of type.
  const isEmphasis =
    kindOfPath(where.file) === 'prose' && text.charAt(start - 1) === '_' && /^_(?![\p{L}\p{N}_])/u.test(text.slice(end, end + 2));
  // So is the sign before a label in reStructuredText.
  const isLabel = where.file.endsWith('.rst') && /^\.\. _$/m.test(text.slice(Math.max(0, start - 4), start));
  const touched = isEmphasis || isLabel ? undefined : touchOf(text, start, end);
  // Where no name holds a hyphen, it is a minus.
  const touching = touched === '-' && zone === 'code' && language !== undefined && !hasHyphens(language) ? undefined : touched;
  const joint: Joint = language === undefined ? 'snake' : languageNamed(language).joint;
  switch (letters) {
    case 'lower':
      // albar__item is a class name of a stylesheet (block, element); only code needs a legal identifier there.
      // With the same on both sides it is the name of a variable, also where a string writes code.
      if (
        text.startsWith('__', end) &&
        !/(?<![\w-])__$/.test(text.slice(Math.max(0, start - 3), start)) &&
        (zone !== 'code' || joint === 'kebab')
      )
        return 'kebab';
      if (touching === '_') return 'snake';
      if (touching === '-') return 'kebab';
      if (touching === 'hump') return 'camel';
      if (language === 'script' && isMemberInBrackets(text, occurrence)) return 'camel';
      // "albar.menu" names a module, which is called so in code.
      if (zone === 'string' && language === 'python' && isModulePath(text, end)) return 'snake';
      if (zone === 'path' && where.isModule === true) return 'snake';
      if (zone === 'comment' && language === 'script' && isListOfGlobals(text, start)) return 'camel';
      // A comment quotes the code of its language.
      if (zone === 'comment' && language === 'script' && /^\.[a-z]\w*\(/i.test(text.slice(end, end + 40))) return 'camel';
      // The id as the folder has it, within a path.
      if (zone === 'code' && language === 'shell' && text.charAt(start - 1) === '/') return 'as-id';
      if (zone === 'code') return joint === 'kebab' ? 'as-id' : joint;
      if (/\$\{?$/.test(text.slice(Math.max(0, start - 2), start))) return 'snake';
      if (zone === 'text' && isEntryPoint(text, start, end)) return 'snake';
      return isProse(where) || isAlone(occurrence, where) || isInQuotes(text, start, end) ? 'as-id' : 'as-token';
    case 'upper':
      if (touching === '_') return 'constant';
      if (touching === '-') return 'upperKebab';
      // One of several prefixes.
      if (text.charAt(start - 1) === ',' || /^,\S/.test(text.slice(end, end + 2))) return 'constant';
      return zone === 'code' || zone === 'path' || touching === 'hump' ? 'constant' : 'upperSpaced';
    case 'capitals':
      // A class and its method, where a language takes that for a function.
      if (language === 'php' && zone === 'string' && /^["']\s*,\s*["'][a-z_]\w*["']\s*[\])]/.test(text.slice(end, end + 80)))
        return 'pascal';
      if (touching === '_') return 'capitalSnake';
      if (zone === 'comment' && language === 'script' && isListOfGlobals(text, start)) return 'pascal';
      if (zone === 'string' && language === 'script' && NAMES_GLOBAL.test(text.slice(Math.max(0, start - 40), start))) return 'pascal';
      // “An Albar-based page”: a word of a sentence.
      if (
        touching === '-' &&
        isProse(where) &&
        /^-[a-z]/.test(text.slice(end, end + 2)) &&
        /(?:^|\s)$/.test(text.slice(Math.max(0, start - 1), start))
      )
        return 'as-title';
      // A verb and its object: Get-Albar.
      if (touching === '-') return language === 'powershell' ? 'pascal' : 'train';
      // The value of a tag is one word.
      if (/@(?:package|subpackage|module|namespace)\s+$/.test(text.slice(Math.max(0, start - 16), start))) return 'capitalSnake';
      if (!isProse(where) && isInQuotes(text, start, end) && zone === 'text') return 'as-title';
      return touching === 'hump' || !isProse({ ...where, language }, isWholeValue(text, start, end)) || isNamespace(text, start, end)
        ? 'pascal'
        : 'as-title';
    default:
      return undefined;
  }
}

/** What tools for scripts call the one name that all scripts see. */
const NAMES_GLOBAL = /(?:\b(?:library|libraryName|globalName|global|namespace)["']?\s*[:=]\s*["'`])$/;

/** A comment that names what other scripts declare: `global Albar, albarMenu`. */
function isListOfGlobals(text: string, start: number): boolean {
  return /\/\*\s*(?:globals?|exported)\s[^*]*$/.test(text.slice(Math.max(0, start - 200), start));
}

/** Whether a name of several words may stand apart in a place: nobody knows that of a language without a lexer. */
export function isProse({ zone, language, file, isInLineComment, isSentence }: TokenContext, isWhole = true): boolean {
  if (zone === 'code' && isSentence === true && /\.[jt]sx$/.test(file)) return true;
  if (zone === 'code' || zone === 'path') return false;
  // Settings have values of several words, and words that follow one another.
  if (language === 'settings' && zone === 'text') return isWhole || isSentence === true;
  return zone !== 'text' || language !== undefined || kindOfPath(file) !== 'other' || isInLineComment === true || isSentence === true;
}

/** `albar.menu` and `albar:menu`, but not `albar.css`. */
function isModulePath(text: string, end: number): boolean {
  const rest = /^[.:]([a-z_]\w*)/i.exec(text.slice(end, end + 40))?.[1];
  return rest !== undefined && kindOfPath(`x.${rest}`) === 'other';
}

/** `name = albar:setup`, `name = albar.menu:Menu`: what an installed package offers, by the module that code imports. */
function isEntryPoint(text: string, start: number, end: number): boolean {
  const isValue = /=\s*["']?$/.test(text.slice(Math.max(0, start - 20), start));
  return isValue && /^(?:\.\w+)*:[A-Za-z_]\w*["']?[ \t]*(?:[\r\n]|$)/.test(text.slice(end, end + 120));
}

/** Whether a place lies between two equal quotes of its line. */
export function isInQuotes(text: string, start: number, end: number): boolean {
  const head = text.slice(Math.max(0, start - 200), start).replace(/^[^]*\n/, '');
  const quote = /["'`](?=[^"'`]*$)/.exec(head)?.[0];
  return (
    quote !== undefined &&
    head.split(quote).length % 2 === 0 &&
    text
      .slice(end, end + 200)
      .split('\n', 1)[0]
      ?.includes(quote) === true
  );
}

/** The sign that an occurrence is joined to: the right side counts first, since prefixes are commoner than suffixes. */
export function touchOf(text: string, start: number, end: number): '_' | '-' | 'hump' | undefined {
  // In patterns of databases the joint is escaped: 'albar\_%'.
  const at = /^\\[_-]/.test(text.slice(end, end + 2)) ? end + 1 : end;
  const after = text.charAt(at);
  const before = text.charAt(start - 1);
  const next = text.charAt(at + 1);
  if ((after === '_' || after === '-') && (/[\p{L}\p{N}_-]/u.test(next) || isPutTogether(text, start, at + 1))) return after;
  if (isCased(after)) return 'hump';
  if (before === '_' || before === '-') return before;
  return /[\p{L}\p{N}]/u.test(before) && isCased(before + text.charAt(start)) && text.charAt(start) !== text.charAt(start).toLowerCase()
    ? 'hump'
    : undefined;
}

/** A prefix to which code adds the rest: `'albar_' . $x`, `"albar_{$n}"`, `'albar_%s'`, `` `albar-${x}` ``, `/^albar_(\w+)$/`. */
function isPutTogether(text: string, start: number, at: number): boolean {
  return (
    /^["'`]|^\$?\{|^%[\d$]*[sduif(]|^[$#]\{?\w|^<\?|^\$\(|^\{\{|^\*|^\(|^\[[\w^\\]|^\\[wdsWDS]|^\.[*+?]|^%/.test(text.slice(at, at + 6)) &&
    !/[_*-]/.test(text.charAt(start - 1))
  );
}

/** Letters of scripts without capitals do not make a hump. */
function isCased(letter: string): boolean {
  return letter.toLowerCase() !== letter.toUpperCase();
}

/** `Albar\Setup`, `\Albar`, and `'Albar\\'` are code even inside a string. */
function isNamespace(text: string, start: number, end: number): boolean {
  return (
    /^(?:\\+\p{L}|(?:\\\\)+["'`])/u.test(text.slice(end, end + 6)) || /[\p{L}\p{N}]\\+$/u.test(text.slice(Math.max(0, start - 4), start))
  );
}

/** Writes a title so that the file's syntax still holds; undefined where nobody can know that. */
export function escapeTitle(title: string, where: TokenContext): string | undefined {
  if (/^[\p{L}\p{N}\p{M} ]*$/u.test(title)) return title;
  if (where.zone === 'markup') return escapeMarkup(title);
  if (where.zone === 'string') return title.replace(/[\\"'`]/g, '\\$&');
  if (where.file.endsWith('.json')) return JSON.stringify(title).slice(1, -1);
  if ((kindOfPath(where.file) === 'data' && where.isInLineComment !== true) || /\*\/|-->/.test(title)) return undefined;
  return title;
}
