import type { Zone, ZoneKind } from '../text/zone.ts';

/** Where an occurrence stands, as far as the new spelling depends on it. */
export interface TokenContext {
  readonly text: string;
  readonly zone: ZoneKind | 'path';
  readonly language?: Zone['language'];
  readonly file: string;
  /** Whether a sign for a comment stands before it on its line. */
  readonly isInLineComment?: boolean | undefined;
  /** Whether its line reads like a sentence. */
  readonly isSentence?: boolean | undefined;
  /** Whether it is a whole entry of a document that code asks for by its name. */
  readonly isEntry?: boolean | undefined;
  /** Of a path: whether code imports what lies there by its name, which must be an identifier. */
  readonly isModule?: boolean | undefined;
}
