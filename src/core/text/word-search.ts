/** Up to so many words, looking for each is faster than looking at each word. */
const FEW = 12;

/**
 * Finds words in texts, in any case, and tells which of them code may put together: `hut-` and a name. A word is made of
 * letters, digits, `-` and `_`.
 */
export class WordSearch {
  readonly #words: ReadonlySet<string>;
  readonly #named = new Set<string>();
  readonly #beginnings = new Set<string>();
  readonly #isFew: boolean;
  readonly #lengths: ReadonlySet<number>;
  /** Those that are more than one word, and those that are looked for one by one. */
  readonly #wholes: readonly string[];

  constructor(words: ReadonlySet<string>) {
    this.#words = words;
    this.#lengths = new Set([...words].map((word) => word.length));
    this.#isFew = words.size <= FEW;
    this.#wholes = [...words].filter((word) => this.#isFew || word.includes('.'));
  }

  /** Looks through one text more. */
  search(text: string): void {
    const lower = this.#wholes.length === 0 ? text : text.toLowerCase();
    for (const word of this.#wholes) if (!this.#named.has(word) && hasWord(lower, word)) this.#named.add(word);
    for (const joint of ['-', '_']) this.#addBeginnings(text, joint);
    if (!this.#isFew) this.#addWords(text);
  }

  /** Letter by letter: a pattern that yields every word of a large theme takes most of the time of a check. */
  #addWords(text: string): void {
    for (let start = 0; start < text.length; start++) {
      if (!isWordUnit(text.charCodeAt(start))) continue;
      let end = start + 1;
      while (end < text.length && isWordUnit(text.charCodeAt(end))) end++;
      const word = this.#lengths.has(end - start) ? text.slice(start, end).toLowerCase() : '';
      if (this.#words.has(word)) this.#named.add(word);
      start = end;
    }
  }

  #addBeginnings(text: string, joint: string): void {
    for (let at = text.indexOf(joint); at >= 0; at = text.indexOf(joint, at + 1)) {
      if (!isWordUnit(text.charCodeAt(at + 1))) this.#beginnings.add(wordBefore(text, at + 1).toLowerCase());
    }
  }

  /** Whether a text held the word, or its beginning with a joint at the end. */
  finds(word: string): boolean {
    return this.#named.has(word) || [...this.#beginnings].some((beginning) => word.startsWith(beginning));
  }
}

function hasWord(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1)) {
    if (!isWordUnit(text.charCodeAt(at - 1)) && !isWordUnit(text.charCodeAt(at + word.length))) return true;
  }
  return false;
}

/** The word that ends at an offset; empty when none does. */
export function wordBefore(text: string, end: number): string {
  let start = end;
  while (start > 0 && isWordUnit(text.charCodeAt(start - 1))) start--;
  return text.slice(start, end);
}

const HYPHEN = 45;
const UNDERSCORE = 95;

/** Letters, digits, `-` and `_`; everything beyond ASCII counts as a letter. */
function isWordUnit(unit: number): boolean {
  return (
    (unit >= 97 && unit <= 122) ||
    (unit >= 48 && unit <= 57) ||
    (unit >= 65 && unit <= 90) ||
    unit === HYPHEN ||
    unit === UNDERSCORE ||
    unit > 127
  );
}
