import type { TextRange } from '../text/edits.ts';
import type { Reason } from './reason.ts';

/** Why a place is changed. */
export type ChangeClass = 'declared' | 'path' | 'identifier' | 'text' | 'derived';

/** What becomes of one place that holds the old name. Offsets are those of the old text. */
export interface Match extends TextRange {
  readonly kind: ChangeClass | 'kept' | 'unsure';
  /** Which judge said so; undefined for what no judge is asked about. */
  readonly judge?: string | undefined;
  /** Why it stays or is in doubt; undefined for what is changed. */
  readonly reason?: Reason | undefined;
  /** The new name as the place spells it; undefined when no spelling is known. */
  readonly replacement: string | undefined;
  /** For an unsure or kept place: what it would be if it were changed after all. */
  readonly kindIfChanged?: ChangeClass | undefined;
}

/** Whether a match is carried out. */
export function isChange<M extends Match>(match: M): match is M & { kind: ChangeClass; replacement: string } {
  return match.kind !== 'kept' && match.kind !== 'unsure';
}

/** An unsure or kept place that is changed after all. */
export function takeIn<M extends Match>(match: M): M {
  return { ...match, kind: match.kindIfChanged ?? 'text', reason: undefined };
}
