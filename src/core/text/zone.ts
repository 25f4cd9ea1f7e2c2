import type { TextRange } from './edits.ts';
import type { LanguageName } from './languages.ts';

/** The purpose of a stretch of a source file: code, a string literal, a comment, or text between tags. */
export type ZoneKind = 'code' | 'string' | 'comment' | 'markup' | 'text';

export interface Zone extends TextRange {
  readonly kind: ZoneKind;
  /** The language that it is written in: a page holds stretches of several. Undefined where nobody can tell. */
  readonly language?: LanguageName | undefined;
}
