import type { TextRange } from '../text/edits.ts';

/** One thing that can be written at a place, and the stretch that it takes the place of. */
export interface Completion extends TextRange {
  readonly label: string;
  readonly kind: 'field' | 'value' | 'file' | 'partial' | 'region' | 'text' | 'theme' | 'fragment' | 'name';
  /** Where it comes from, or what it is for. */
  readonly about?: string | undefined;
  /** The text to insert. */
  readonly insert: string;
}

/** The same before its stretch is known. */
export type Proposal = Omit<Completion, keyof TextRange>;
