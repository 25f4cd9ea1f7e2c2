import { decodeEscapes, EncodedSieve, ESCAPED_CHARACTER } from '../text/escapes.ts';
import { escapePattern } from '../text/pattern.ts';
import { NameFinder, type Occurrence } from './name-finder.ts';
import { splitWords } from './spelling.ts';

/** A soft hyphen within a word: a place at which a line may part it. */
const SOFT_HYPHEN = '(?:\\u00ad|&shy;|&#173;|&#xad;)?';
/** The signs between two words, beside the signs of identifiers: several blanks, a line's end with the sign of a comment, signs like them. */
const BETWEEN = `(?:[ \\t\\u00a0\\u2007\\u2009\\u202f]*\\r?\\n[ \\t]*(?:(?:[*#;>|]|//+)[ \\t]*)?|[ \\t\\u00a0\\u2007\\u2009\\u202f]+|[-_.+\\u2010-\\u2013]|\\\\[-_. ]|${ESCAPED_CHARACTER})?`;

/**
 * Finds a name that is not written letter by letter: with escapes (`Norte&nbsp;Cima`, `norte%20cima`, `\u0041lbar`), with several
 * blanks, a line's end or a hyphen that does not break between its words, or with other accents.
 */
export class EncodedFinder {
  /** Quick to tell, and true of few texts: the pattern is large. */
  readonly #sieve: EncodedSieve;
  #pattern: RegExp | undefined;
  readonly #words: readonly string[];
  readonly #plain: NameFinder;
  readonly #letters: string;

  constructor(name: string) {
    this.#words = splitWords(name.normalize('NFC'));
    this.#plain = new NameFinder(name);
    this.#letters = this.#words.join('').normalize('NFC');
    this.#sieve = new EncodedSieve(this.#words);
  }

  /** Places that a {@link NameFinder} does not find. */
  find(text: string): Occurrence[] {
    if (!this.#sieve.test(text)) return [];
    this.#pattern ??= new RegExp(this.#words.map((word) => Array.from(word, letterPattern).join(SOFT_HYPHEN)).join(`(${BETWEEN})`), 'giu');
    return [...text.matchAll(this.#pattern)].flatMap((match) => this.#describe(text, match));
  }

  #describe(text: string, match: RegExpExecArray): Occurrence[] {
    const [raw, ...separators] = match;
    const start = match.index;
    const end = start + raw.length;
    const meant = separators.map((each) => plainSeparator(decodeEscapes(each)));
    if (meant.includes(undefined) || (separators.includes('+') && !isInAddress(text, start, end))) return [];
    const decoded = plainText(raw);
    const letters = decoded.replace(/[^\p{L}\p{N}\p{M}]+/gu, '').toLowerCase();
    const isAccented = letters !== this.#letters;
    if (isAccented && withoutMarks(letters) !== withoutMarks(this.#letters)) return [];
    // With the signs around it, so that its edges are judged like those of any other place.
    const [before, after] = [text.slice(Math.max(0, start - 6), start), text.slice(end, end + 2)];
    const shown = isAccented ? this.#asNamed(decoded) : decoded;
    const own = this.#plain.find(before + shown + after).find((each) => each.start === before.length);
    if (own === undefined || (own.text === raw && !isAccented)) return [];
    return [{ ...own, start, end, encoded: { separators: separators.filter((each) => each !== ''), isAccented } }];
  }

  /** The letters of the name in the case of what was found. */
  #asNamed(found: string): string {
    const name = Array.from(this.#letters);
    return Array.from(found.normalize('NFC'))
      .map((letter) => {
        if (!/[\p{L}\p{N}]/u.test(letter)) return letter;
        const own = name.shift() ?? '';
        return letter === letter.toLowerCase() ? own : own.toUpperCase();
      })
      .join('');
  }
}

/** In code a plus adds; in an address, or in a string alone, it is a blank (WHATWG URL, 5.1). */
function isInAddress(text: string, start: number, end: number): boolean {
  const head = /[^\s"'`()<>,]*$/.exec(text.slice(Math.max(0, start - 200), start))?.[0] ?? '';
  const [before, after] = [text.charAt(start - head.length - 1), text.slice(end).charAt(0)];
  return /[?&%]/.test(head) || (head === '' && /["'`]/.test(before) && before === after);
}

/** A letter, as it is or with an accent, or as an escape. */
function letterPattern(letter: string): string {
  const base = withoutMarks(letter);
  const accented = ACCENTED[base] ?? '';
  const own = [...new Set([letter, letter.normalize('NFD'), ...(accented === '' ? [] : [`[${base}${accented}]`])])];
  return `(?:${own.map((each) => (each.startsWith('[') ? each : escapePattern(each))).join('|')}|${ESCAPED_CHARACTER})[\\u0300-\\u036f]*`;
}

const ACCENTED: Readonly<Record<string, string>> = {
  ...{ a: 'àáâãäåā', c: 'çćč', e: 'èéêëēě', i: 'ìíîïī', n: 'ñńň', o: 'òóôõöøō', s: 'śš', u: 'ùúûüūů', y: 'ýÿ', z: 'źżž' },
};

function withoutMarks(text: string): string {
  return text.normalize('NFD').replace(/\p{M}+/gu, '');
}

/** The plain sign that stands for the signs between two words; undefined when it is a letter, or a sign of another sort. */
function plainSeparator(decoded: string): string | undefined {
  if (/^\s+(?:[*#;>|]|\/\/+)?\s*$/.test(decoded)) return ' ';
  const sign = decoded.replace(/^\\/, '');
  if (sign === '') return '';
  if (sign === '+') return ' ';
  return /^[\u2010-\u2013]$/.test(sign) ? '-' : /^[-_. ]$/.test(sign) ? sign : undefined;
}

/** The letters that stand there, with plain signs between words. */
function plainText(raw: string): string {
  return decodeEscapes(raw.replace(/\\(?=[-_. ])/g, ''))
    .replace(/\u00ad/g, '')
    .replace(/\s+(?:(?:[*#;>|]|\/\/+)\s*)?/g, ' ')
    .replace(/\+/g, ' ')
    .replace(/[\u2010-\u2013]/g, '-');
}

/** Writes a name as the old one was written: with its signs between words. */
export function encodeLike(name: string, separators: readonly string[]): string {
  if (separators.length === 0) return name;
  let at = 0;
  return name.replace(/[-_. ]/g, (sign) => {
    const own = separators[at++];
    // A line's end is written once.
    return own ?? (/[\r\n]/.test(separators.at(-1) ?? '') ? sign : (separators.at(-1) ?? sign));
  });
}
