import type { TextRange } from './edits.ts';

/**
 * A text with `*` for any characters but those of a class, matched in linear time however many stars there are: each
 * piece between two stars is looked for once, from where the one before it ended.
 */
export class Wildcard {
  readonly #first: string;
  readonly #rest: readonly string[];
  readonly #stop: RegExp;

  /** @param stop a character that `*` does not stand for */
  constructor(text: string, stop: RegExp) {
    [this.#first = '', ...this.#rest] = text.split('*');
    this.#stop = new RegExp(stop.source, 'g');
  }

  /** Whether a whole text matches. */
  matches(text: string): boolean {
    return text.startsWith(this.#first) && this.#end(text, this.#first.length) === text.length;
  }

  /** The same for languages that make no difference between small letters and capitals. */
  withoutCase(): Wildcard {
    return new Wildcard([this.#first, ...this.#rest].join('*').toLowerCase(), this.#stop);
  }

  /** All stretches of a text that match, each as long as it can be, none overlapping another. */
  *find(text: string): Generator<TextRange> {
    let from = 0;
    while (from < text.length) {
      const start = text.indexOf(this.#first, from);
      if (start < 0) return;
      const behind = start + this.#first.length;
      const end = this.#end(text, behind);
      if (end !== undefined && end > start) yield { start, end };
      // Where the pieces behind it are not there, they are not there for a later start before the same stop either.
      from = Math.max(start + 1, end ?? this.#stopFrom(text, behind));
    }
  }

  /** Where a match ends whose first piece ended here: the last piece as late as possible, the others as early. */
  #end(text: string, from: number): number | undefined {
    let at = from;
    for (const [i, piece] of this.#rest.entries()) {
      const stop = this.#stopFrom(text, at);
      const reach = text.slice(at, stop + piece.length);
      const found = i === this.#rest.length - 1 ? reach.lastIndexOf(piece) : reach.indexOf(piece);
      if (found < 0) return undefined;
      at += found + piece.length;
    }
    return at;
  }

  #stopFrom(text: string, from: number): number {
    this.#stop.lastIndex = from;
    return this.#stop.exec(text)?.index ?? text.length;
  }
}
