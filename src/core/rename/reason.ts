/** Groups of places that stay unless they are taken in (`--include history`). */
export const KEPT_GROUPS = ['credit', 'licence', 'history', 'link', 'lock', 'generated', 'third-party', 'host', 'theirs'] as const;
export type KeptGroup = (typeof KEPT_GROUPS)[number];

/** Why a place stays, or is uncertain. */
export type ReasonCode =
  | Exclude<KeptGroup, 'theirs'>
  /** Of the group `theirs`. */
  | 'dependency'
  | 'import'
  | 'account'
  | 'outside'
  | 'missing-file'
  | 'other-value'
  /** Of what stays for sure. */
  | 'contract'
  | 'vendor'
  | 'other-theme'
  | 'person'
  | 'longer-word'
  | 'language'
  | 'ending'
  | 'staying-file'
  | 'wish'
  /** Of what is not sure: the name says too little by itself, and the place does not help. */
  | 'common-name'
  | 'short-name'
  | 'part-of-name'
  | 'author'
  | 'title-syntax'
  | 'binary-path'
  | 'no-spelling'
  | 'encoding'
  | 'accents'
  | keyof typeof OTHER_REASONS;

/** Reasons of what no judge is asked about: decisions, names of files, binaries, and what is made from other files. */
export const OTHER_REASONS = {
  decided: 'kept as decided',
  binary: 'inside a binary file, which is never edited',
  'too-large': 'the file is too large to be edited',
  'fixed-link': 'a link to a place that does not move',
  'common-file': 'the name is a common word, and the platform does not say that this file carries it',
  'short-file': 'the name is short, and the file’s name does not begin with it',
  'case-twin': 'differs only by case from {about}: some systems cannot hold both',
  'not-told': 'cannot be told',
  'stale-copy': 'a compressed copy of a file that changes: compress it again',
  'stale-catalogue': 'a compiled catalogue that was not made from the one beside it: compile it again',
  'stale-map': 'the source map of a file that changes: build it again',
} as const;

/** A reason, and what stands in its sentence; the sentence is made where it is shown. */
export interface Reason {
  readonly code: ReasonCode;
  /** The group of {@link KEPT_GROUPS} that takes it in. */
  readonly group?: KeptGroup | undefined;
  /** The name, word or wish that it is about. */
  readonly about?: string | undefined;
}
