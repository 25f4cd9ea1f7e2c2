import { distance } from 'fastest-levenshtein';

/**
 * Returns the candidate that was most likely meant by `word`, or undefined when none is near: at most two in
 * five letters may differ. Case and separators count for nothing.
 */
export function nearest(word: string, candidates: Iterable<string>): string | undefined {
  const plain = fold(word);
  let best: { candidate: string; cost: number } | undefined;
  for (const candidate of candidates) {
    const cost = isSwapped(plain, fold(candidate)) ? 1 : distance(plain, fold(candidate));
    if (cost <= Math.max(1, Math.floor(candidate.length * 0.4)) && (best === undefined || cost < best.cost)) {
      best = { candidate, cost };
    }
  }
  return best?.candidate;
}

/** Whether one word is the other with one slip of the finger, and long enough that this cannot be an accident. */
export function isSlip(word: string, meant: string): boolean {
  const [a, b] = [fold(word), fold(meant)];
  return b.length >= 4 && (a === b || isSwapped(a, b) || distance(a, b) === 1);
}

/** So many names are compared for all the wrong words of one kind: where hundreds are wrong, hints are not worth the wait. */
const MAX_COMPARISONS = 100_000;

/** {@link nearest} for many words and the same candidates, in bounded time: after many comparisons it knows of none. */
export class NameGuesser {
  readonly #candidates: readonly string[];
  #comparisons = 0;

  constructor(candidates: Iterable<string>) {
    this.#candidates = [...candidates];
  }

  /** @param except one that is not meant, however near it is */
  nearest(word: string, except?: string): string | undefined {
    if (this.#comparisons >= MAX_COMPARISONS) return undefined;
    this.#comparisons += this.#candidates.length;
    return nearest(word, except === undefined ? this.#candidates : this.#candidates.filter((each) => each !== except));
  }
}

function fold(word: string): string {
  return word.toLowerCase().replace(/[-_. ]/g, '');
}

/** Whether two words differ by two neighboring letters that changed places: one slip of the fingers, not two. */
function isSwapped(a: string, b: string): boolean {
  const at = a.split('').findIndex((letter, i) => letter !== b[i]);
  return at >= 0 && a.length === b.length && a[at] === b[at + 1] && a[at + 1] === b[at] && a.slice(at + 2) === b.slice(at + 2);
}
