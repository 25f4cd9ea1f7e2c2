/** Groups of places that stay unless they are taken in (`--include history`). */
export const KEPT_GROUPS = ['credit', 'licence', 'history', 'link', 'lock', 'generated', 'third-party', 'host', 'theirs'] as const;
export type KeptGroup = (typeof KEPT_GROUPS)[number];

/** Why a place stays, or cannot be told. */
export type ReasonCode =
  | KeptGroup
  /** Of what stays for sure. */
  | 'other-theme'
  | 'person'
  | 'longer-word'
  | 'language'
  | 'ending'
  | 'wish'
  | 'decided'
  | 'binary'
  | 'too-large'
  | 'fixed-link'
  /** Of what is not sure: the name says too little by itself, and the place does not help. */
  | 'common-name'
  | 'short-name'
  | 'part-of-name'
  | 'common-file'
  | 'short-file'
  | 'author'
  | 'title-syntax'
  | 'binary-path'
  | 'no-spelling'
  | 'encoding'
  | 'case-twin'
  | 'not-told'
  /** Of what is made from a file that changes, and cannot be made anew here. */
  | 'stale-copy'
  | 'stale-catalogue'
  | 'stale-map';

/** A reason, and what stands in its sentence; the sentence is made where it is shown. */
export interface Reason {
  readonly code: ReasonCode;
  /** The name, word or wish that it is about. */
  readonly about?: string | undefined;
}
