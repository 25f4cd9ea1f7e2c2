import type { Match } from '../match.ts';
import type { FileView, Mention } from '../mention.ts';
import type { KeptGroup, Reason, ReasonCode } from '../reason.ts';

/** What becomes of a mention. */
export interface Verdict {
  readonly kind: Match['kind'];
  /** The name, word or wish that the reason is about. */
  readonly about?: string | undefined;
  /** The reason of something else that decides here. */
  readonly reason?: Reason | undefined;
  /** The text to write, where the place itself asks for another. */
  readonly replacement?: string | undefined;
}

/** Why a mention is changed: the names of judges that say so. */
export type ChangeCode =
  | 'reference'
  | 'declared-name'
  | 'own-address'
  | 'declaration'
  | 'called-theme'
  | 'identifier'
  | 'marked'
  | 'prose'
  | 'title'
  | 'moved-name'
  | 'proven';

/** An example of a judge: its test, and a part of the page of judges. */
export interface Example {
  readonly file: string;
  /** A text with « » around the mention that is judged. */
  readonly text: string;
  /** The text afterward; left out where it stays as it is. */
  readonly becomes?: string;
  /** Whether the file is written in ISO 8859-1. */
  readonly latin1?: boolean;
  /** The names, with a title in brackets where it does not follow; `albar → cumbre-sur` if left out. */
  readonly names?: string;
  /** What else the theme has, and what is wished. */
  readonly with?: {
    readonly files?: Readonly<Record<string, string>>;
    readonly keep?: readonly string[];
    readonly others?: readonly string[];
    readonly platform?: string;
  };
}

/** One cause to change a mention, to keep it, or to be unsure. Judges are asked in the order of their list; the first verdict counts. */
export interface Judge {
  readonly code: ReasonCode | ChangeCode;
  /** The group of `--include` under which its mentions are changed after all. */
  readonly group?: KeptGroup;
  /** Why, within a sentence; {about} stands for what the verdict is about. */
  readonly sentence: string;
  /** The same for several places that are about different things. */
  readonly together?: string;
  readonly examples: readonly Example[];
  readonly judge: (mention: Mention) => Verdict | undefined;
  /** For a judge of whole files: whether the file is one of them. */
  readonly judgeFile?: (file: FileView) => boolean;
}

export const KEPT: Verdict = { kind: 'kept' };
export const UNSURE: Verdict = { kind: 'unsure' };
export const IDENTIFIER: Verdict = { kind: 'identifier' };
export const TEXT: Verdict = { kind: 'text' };

type Said = Omit<Judge, 'judge'>;

/** A judge that keeps what fits. */
export function keeps(said: Said, fits: (mention: Mention) => boolean): Judge {
  return { ...said, judge: (mention) => (fits(mention) ? KEPT : undefined) };
}

/** A judge that keeps every mention in files that fit. */
export function keepsFiles(said: Omit<Said, 'judgeFile'>, judgeFile: (file: FileView) => boolean): Judge {
  return { ...said, judgeFile, judge: ({ file }) => (file.once(said.code, () => judgeFile(file)) ? KEPT : undefined) };
}

/** A judge that is unsure of what fits. */
export function doubts(said: Said, fits: (mention: Mention) => boolean): Judge {
  return { ...said, judge: (mention) => (fits(mention) ? UNSURE : undefined) };
}

/** A judge that changes what fits. */
export function changes(said: Said, kind: 'identifier' | 'text', fits: (mention: Mention) => boolean): Judge {
  const verdict = kind === 'identifier' ? IDENTIFIER : TEXT;
  return { ...said, judge: (mention) => (fits(mention) ? verdict : undefined) };
}
