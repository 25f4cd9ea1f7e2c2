import { editsWithin, type TextEdit } from '../text/edits.ts';
import type { Position } from '../text/source-document.ts';
import type { FileAnalysis, FileMatch } from './analyse-file.ts';
import { isChange, type ChangeClass } from './match.ts';
import type { Reason } from './reason.ts';

/** A place with the line around it. Line and column count from 1, in the file as it is after the rename. */
export interface Place extends Position {
  /** The identifier around it; the name itself for the name of a file. */
  readonly identifier: string;
  /** Which judge decided; undefined for what no judge is asked about. */
  readonly judge?: string | undefined;
  /** The path after the rename. */
  readonly file: string;
  /** The same place before the rename; line 0 is the name of the file itself. */
  readonly was: Position & { readonly file: string };
}

export interface RenameEdit extends Place {
  readonly before: string;
  readonly after: string;
  readonly kind: ChangeClass;
  /** The text of the place now, and after the change. */
  readonly found: string;
  readonly becomes: string;
}

/** A place where the old name stays, and why. */
export interface RemainingPlace extends Place {
  readonly text: string;
  readonly reason: Reason;
  /** True when it is the name of the file itself, not a place in it. */
  readonly isName?: boolean | undefined;
  readonly found: string;
  /** The text that would stand there if it were changed; undefined when that is unknown. */
  readonly proposal: string | undefined;
}

/** The places of a rename, by what becomes of them. */
export interface Places {
  readonly edits: RenameEdit[];
  readonly kept: RemainingPlace[];
  readonly unsure: RemainingPlace[];
}

/** Writes the matches of one file down, with their places in the old and the new text. */
export function record({ path, matches, edits }: FileAnalysis, file: string, places: Places): void {
  let line = 0;
  let shift = 0;
  for (const match of matches) {
    if (match.line !== line) shift = 0;
    line = match.line;
    const { identifier, judge } = match;
    const at = { file, line, column: match.column + shift, identifier, judge, was: { file: path, line, column: match.column } };
    if (!isChange(match)) {
      const { reason = { code: 'not-told' }, found, replacement: proposal } = match;
      places[match.kind === 'kept' ? 'kept' : 'unsure'].push({ ...at, text: shown(match, []), reason, found, proposal });
      continue;
    }
    shift += match.replacement.length - (match.end - match.start);
    if (match.found === match.replacement) continue;
    const { kind, found, replacement: becomes } = match;
    places.edits.push({ ...at, before: shown(match, []), after: shown(match, edits), kind, found, becomes });
  }
}

/** The line around a match, as it is with some edits. */
function shown({ around: { text, start, isCut } }: FileMatch, edits: readonly TextEdit[]): string {
  let line = '';
  let at = 0;
  for (const edit of editsWithin(edits, start, start + text.length)) {
    line += text.slice(at, edit.start - start) + edit.text;
    at = edit.end - start;
  }
  return `${isCut[0] ? '…' : ''}${(line + text.slice(at)).trim()}${isCut[1] ? '…' : ''}`;
}
