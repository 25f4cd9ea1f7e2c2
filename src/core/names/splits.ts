import { splitWords } from './spelling.ts';

/** With fewer letters too much else is spelled so by chance. */
const LEAST = 6;

/**
 * Finds how else an id in one piece is taken apart: `nortecimaalta` in `norte_cima_setup` is not meant, in
 * `norte_cimaalta_setup` and `NorteCimaaltaWalker` it is. Words count only within a longer identifier, which proves that no
 * sentence is meant.
 */
export class SplitFinder {
  readonly #pattern: RegExp | undefined;
  readonly #id: string;

  /** @param id of ASCII letters and digits in one piece; others are taken apart by their own signs, and nothing is found */
  constructor(id: string) {
    this.#id = id.toLowerCase();
    const isPiece = /^[a-z][a-z0-9]+$/.test(this.#id) && this.#id.length >= LEAST && splitWords(id).length === 1;
    this.#pattern = isPiece ? new RegExp(this.#id.split('').join('[-_. ]?'), 'gi') : undefined;
  }

  /** Whether the letters stand anywhere in a text, with or without signs between them. Quick. */
  mayBeIn(text: string): boolean {
    if (this.#pattern === undefined) return false;
    this.#pattern.lastIndex = 0;
    return this.#pattern.test(text);
  }

  /** The words of each way in which identifiers of a text take the id apart, put together with spaces. */
  find(text: string): Set<string> {
    const found = new Set<string>();
    for (const match of this.#pattern === undefined ? [] : text.matchAll(this.#pattern)) {
      const [piece] = match;
      const words = splitWords(piece);
      if (words.length < 2 || /[. ]/.test(piece) || words.some((word) => word.length < 2)) continue;
      const before = text.charAt(match.index - 1);
      const after = text.slice(match.index + piece.length, match.index + piece.length + 2);
      const isJoined = /^[-_]\w/.test(after) || /[-_]/.test(before) || (/^[A-Z]/.test(after) && /[a-z0-9]$/.test(piece));
      const isHumped = /^[A-Z]/.test(piece) && !/[-_]/.test(piece);
      if (isJoined || isHumped) found.add(words.join(' '));
    }
    return found;
  }
}
