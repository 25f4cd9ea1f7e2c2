import { matchesGlob } from '../files/glob.ts';
import { Wildcard } from '../text/wildcard.ts';
import type { TextRange } from '../text/edits.ts';
import { NameFinder } from '../names/name-finder.ts';
import type { Reason, ReasonCode } from './reason.ts';

/** A stretch of text that stays, and why. */
export interface KeptStretch extends TextRange {
  readonly reason: Reason;
}

/** The places that the user wants to keep: texts, in which `*` stands for anything but white space, or files by their paths. */
export class KeptByWish {
  readonly #patterns: readonly { readonly wish: string; readonly text: Wildcard }[];

  constructor(wishes: readonly string[]) {
    this.#patterns = wishes.map((wish) => ({ wish, text: new Wildcard(wish, /\s/) }));
  }

  find(file: string, text: string): KeptStretch[] {
    return this.#patterns.flatMap(({ wish, text: pattern }) => {
      const reason: Reason = { code: 'wish', about: wish };
      if (matchesGlob(file, wish)) return [{ start: 0, end: text.length, reason }];
      return [...pattern.find(text)].map((range) => ({ ...range, reason }));
    });
  }
}

/** Names of others that contain the old name: sibling themes, and the people or companies that the theme credits. */
export class OtherNames {
  readonly #finders: readonly { readonly finder: NameFinder; readonly reason: Reason }[];

  constructor(oldName: string, others: readonly { readonly name: string; readonly code: ReasonCode }[]) {
    const old = new NameFinder(oldName);
    this.#finders = others
      .filter(({ name }) => name.toLowerCase() !== oldName.toLowerCase() && old.isIn(name))
      .map(({ name, code }) => ({ finder: new NameFinder(name), reason: { code, about: name } }))
      .filter(({ finder }) => finder.words.length > 0);
  }

  /** The stretches of a text that are others' names, with the reason to keep them. */
  find(text: string): KeptStretch[] {
    return this.#finders.flatMap(({ finder, reason }) =>
      finder
        .find(text)
        .filter((found) => found.edges !== 'inside-word')
        .map(({ start, end }) => ({ start, end, reason })),
    );
  }
}
