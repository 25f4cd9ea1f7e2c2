import { escapePattern } from '../platform/shape.ts';
import { splitWords, type Spelling } from '../text/spelling.ts';
import type { TextRange } from '../text/edits.ts';

/** A place where a name stands, in one of its spellings. */
export interface Occurrence extends TextRange {
  readonly text: string;
  /** How its words are put together; `mixed` fits no spelling. One word alone has none of the separators. */
  readonly separator: Separator | 'mixed';
  readonly letters: Letters;
  /** Whether it stands by itself, is part of a longer identifier, or is inside a longer word. */
  readonly edges: 'free' | 'joined' | 'inside-word';
}

type Separator = '' | '-' | '_' | '.' | ' ';
type Letters = 'lower' | 'upper' | 'capitals' | 'camel' | 'first' | 'mixed';

/** Finds a name in all its spellings. The words are matched in any case, with at most one separator between two. */
export class NameFinder {
  readonly words: readonly string[];
  readonly #pattern: RegExp;

  constructor(name: string) {
    this.words = splitWords(name);
    this.#pattern = new RegExp(this.words.map((word) => `(${escapePattern(word)})`).join('([-_. ]?)'), 'giu');
  }

  find(text: string): Occurrence[] {
    return [...text.matchAll(this.#pattern)].map((match) => {
      const pieces = match.slice(1);
      const words = pieces.filter((_, i) => i % 2 === 0);
      const separators = new Set(pieces.filter((_, i) => i % 2 === 1));
      const start = match.index;
      const end = start + match[0].length;
      return {
        start,
        end,
        text: match[0],
        separator: separators.size > 1 ? 'mixed' : (([...separators][0] ?? '') as Separator),
        letters: lettersOf(words),
        edges: edgesOf(text, start, end),
      };
    });
  }

  /** Whether the name stands anywhere in the text, whatever is around it. */
  isIn(text: string): boolean {
    return text.search(this.#pattern) >= 0;
  }
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
