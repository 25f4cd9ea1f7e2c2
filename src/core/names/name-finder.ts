import { splitWords, type Spelling } from './spelling.ts';
import type { TextRange } from '../text/edits.ts';
import { escapePattern } from '../text/pattern.ts';

/** A place where a name stands, in one of its spellings. */
export interface Occurrence extends TextRange {
  readonly text: string;
  /** How its words are put together; `mixed` fits no spelling. One word alone has none of the separators. */
  readonly separator: Separator | 'mixed';
  readonly letters: Letters;
  /** How many words are told apart; digits are a word of their own only when a separator splits them off. */
  readonly wordCount: number;
  /** Whether digits are split off (paso-2 for paso2). */
  readonly digitsApart: boolean;
  /** Whether it stands by itself, is part of a longer identifier, or is inside a longer word. */
  readonly edges: 'free' | 'joined' | 'inside-word';
  /** Of one that is not written letter by letter: what stands between its words as it is written, and whether it has other accents. */
  readonly encoded?: { readonly separators: readonly string[]; readonly isAccented: boolean };
}

type Separator = '' | '-' | '_' | '.' | ' ';
type Letters = 'lower' | 'upper' | 'capitals' | 'camel' | 'first' | 'mixed';

/**
 * Finds a name in all its spellings. The words are matched in any case, with at most one separator between two of them
 * and between letters and digits; accented letters in composed and decomposed form alike (Unicode, UAX #15).
 */
export class NameFinder {
  readonly words: readonly string[];
  readonly #pattern: RegExp;
  /** For each gap between two pieces of the pattern, whether letters meet digits there inside a word. */
  readonly #isDigitGap: readonly boolean[];

  constructor(name: string) {
    this.words = splitWords(name.normalize('NFC'));
    const pieces = this.words.map(splitDigits);
    this.#isDigitGap = pieces.flatMap((own, i) => [...(i === 0 ? [] : [false]), ...own.slice(1).map(() => true)]);
    this.#pattern = new RegExp(
      pieces
        .flat()
        .map((piece) => `(${eitherForm(piece)})`)
        .join('([-_. ]?)'),
      'giu',
    );
  }

  find(text: string): Occurrence[] {
    return [...text.matchAll(this.#pattern)].map((match) => this.#describe(text, match));
  }

  #describe(text: string, match: RegExpExecArray): Occurrence {
    const words = [match[1] ?? ''];
    const separators = new Set<string>();
    let digitsApart = false;
    for (const [i, isDigitGap] of this.#isDigitGap.entries()) {
      const separator = match[2 + 2 * i] ?? '';
      const piece = match[3 + 2 * i] ?? '';
      if (isDigitGap && separator === '') {
        words.push((words.pop() ?? '') + piece);
        continue;
      }
      digitsApart ||= isDigitGap;
      separators.add(separator);
      words.push(piece);
    }
    const start = match.index;
    const end = start + match[0].length;
    return {
      start,
      end,
      text: match[0],
      separator: separators.size > 1 ? 'mixed' : (([...separators][0] ?? '') as Separator),
      letters: lettersOf(words),
      wordCount: words.length,
      digitsApart,
      edges: edgesOf(text, start, end),
    };
  }

  /** Whether the name stands anywhere in the text, whatever is around it. */
  isIn(text: string): boolean {
    return text.search(this.#pattern) >= 0;
  }
}

/** Splits a word where letters meet digits: paso2 gives paso, 2. */
export function splitDigits(word: string): string[] {
  return word.split(/(?<=\p{N})(?=\P{N})|(?<=\P{N})(?=\p{N})/u);
}

function eitherForm(piece: string): string {
  const decomposed = piece.normalize('NFD');
  return decomposed === piece ? escapePattern(piece) : `${escapePattern(piece)}|${escapePattern(decomposed)}`;
}

function lettersOf(words: readonly string[]): Letters {
  const isLower = (word: string): boolean => word === word.toLowerCase();
  const isUpper = (word: string): boolean => word === word.toUpperCase();
  const isCapital = (word: string): boolean => isUpper(word.charAt(0)) && isLower(word.slice(1));
  const [first = '', ...rest] = words;
  if (words.every(isLower)) return 'lower';
  if (words.every(isUpper)) return 'upper';
  if (words.every(isCapital)) return 'capitals';
  if (isLower(first) && rest.every(isCapital)) return 'camel';
  if (isCapital(first) && rest.every(isLower)) return 'first';
  return 'mixed';
}

const LETTER = /\p{L}/u;
const LATIN = /\p{Script=Latin}/u;
const WORD = /[\p{L}\p{N}\p{M}]/u;
const JOINT = /[-_]/;

/**
 * Judges what touches an occurrence. A boundary is a matter of Unicode: a letter of the same script continues the word
 * (albarés), a letter of another script does not (albarテーマ), and a hump begins a new word (albarSetup, setupAlbar).
 */
function edgesOf(text: string, start: number, end: number): Occurrence['edges'] {
  const before = characterBefore(text, start);
  const after = characterAt(text, end);
  const first = text.charAt(start);
  const last = text.charAt(end - 1);
  const left = isEscape(text, start) ? 'free' : leftEdge(before, first);
  const right = rightEdge(after, last, characterAt(text, end + after.length));
  if (left === 'inside-word' || right === 'inside-word') return 'inside-word';
  return left === 'joined' || right === 'joined' ? 'joined' : 'free';
}

function leftEdge(before: string, first: string): Occurrence['edges'] {
  if (before === '') return 'free';
  if (JOINT.test(before)) return 'joined';
  if (!WORD.test(before)) return 'free';
  if (LETTER.test(before) && !LATIN.test(before)) return 'free';
  const isHump = first !== first.toLowerCase() && (before !== before.toUpperCase() || /\p{N}/u.test(before));
  return isHump ? 'joined' : 'inside-word';
}

function rightEdge(after: string, last: string, afterNext: string): Occurrence['edges'] {
  if (after === '') return 'free';
  // A hyphen or underscore joins only what goes on behind it: $albar->x and "albar-" stand free.
  if (JOINT.test(after)) return WORD.test(afterNext) || JOINT.test(afterNext) ? 'joined' : 'free';
  if (!WORD.test(after)) return 'free';
  if (LETTER.test(after) && !LATIN.test(after)) return 'free';
  const isHump = LETTER.test(after) && after !== after.toLowerCase() && last === last.toLowerCase() && last !== last.toUpperCase();
  return isHump ? 'joined' : 'inside-word';
}

/** Whether the letter or digits before an offset end an escape: `\n`, `%20`, `\u00e9`. */
function isEscape(text: string, start: number): boolean {
  const head = text.slice(Math.max(0, start - 6), start);
  return (
    /(?<!\\)(?:\\\\)*\\[nrtvf0be]$/.test(head) ||
    /%[0-9a-f]{2}$/i.test(head) ||
    /\\u[0-9a-f]{4}$/i.test(head) ||
    /\\x[0-9a-f]{2}$/i.test(head)
  );
}

function characterBefore(text: string, offset: number): string {
  const unit = text.charAt(offset - 1);
  return /[\udc00-\udfff]/.test(unit) ? text.slice(offset - 2, offset) : unit;
}

function characterAt(text: string, offset: number): string {
  const point = text.codePointAt(offset);
  return point === undefined ? '' : String.fromCodePoint(point);
}

/** The spelling of an occurrence of several words; undefined for one word alone and for mixtures. */
export function spellingOf(occurrence: Occurrence): Spelling | undefined {
  if (occurrence.separator === 'mixed' || occurrence.letters === 'mixed') return undefined;
  const table: Readonly<Record<Separator, Partial<Record<Letters, Spelling>>>> = {
    '-': { lower: 'kebab', upper: 'upperKebab', capitals: 'train' },
    _: { lower: 'snake', upper: 'constant', capitals: 'capitalSnake' },
    '.': { lower: 'dot', upper: 'upperDot', capitals: 'capitalDot' },
    ' ': { lower: 'spaced', upper: 'upperSpaced', capitals: 'title', first: 'sentence' },
    '': { lower: 'flat', upper: 'upperFlat', capitals: 'pascal', camel: 'camel', first: 'capitalFlat' },
  };
  return table[occurrence.separator][occurrence.letters];
}
