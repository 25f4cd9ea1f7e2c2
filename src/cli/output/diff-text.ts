import { createTwoFilesPatch } from 'diff';
import type { ChangePlan } from '../../core/changes/plan.ts';
import { SourceDocument } from '../../core/text/source-document.ts';
import type { Paint } from './paint.ts';

/** The changes of a plan of edits, as a unified diff. */
export function diffText(plan: ChangePlan, paint: Paint): string {
  const patches = plan.operations.flatMap((operation) => {
    if (operation.op !== 'edit') return [];
    const { path } = operation;
    const [before, after] = [operation.before, operation.bytes].map((bytes) => SourceDocument.decode(path, bytes)?.text ?? '');
    return [createTwoFilesPatch(`a/${path}`, `b/${path}`, before ?? '', after ?? '', '', '', { context: 2 })];
  });
  const lines = patches.flatMap((patch) => patch.split('\n').filter((line) => !line.startsWith('=====')));
  return lines
    .map((line) => coloured(line, paint))
    .join('\n')
    .trimEnd();
}

/** More differences than this between two texts are not looked for: finding them takes their square in time. */
const MOST_DIFFERENCES = 2_000;

/** What differs between two texts, a line of context around each: at most so many lines, and how many more there are. */
export function patchLines(before: string, after: string, paint: Paint, most: number): string[] {
  const patch = createTwoFilesPatch('', '', before, after, '', '', { context: 1, maxEditLength: MOST_DIFFERENCES });
  if (patch === undefined) return [paint.faint('nearly all of it is another text')];
  const lines = patch
    .split('\n')
    .slice(4)
    .filter((line) => line !== '' && !line.startsWith('\\'));
  const rest = lines.length - most;
  const shown = lines.slice(0, most).map((line) => coloured(line, paint));
  return rest > 0 ? [...shown, paint.faint(`… and ${rest} more lines (--verbose shows all)`)] : shown;
}

/** A line of a unified diff. */
export function coloured(line: string, paint: Paint): string {
  if (/^(?:---|\+\+\+) /.test(line)) return paint.strong(line.trimEnd());
  return line.startsWith('+') ? paint.good(line) : line.startsWith('-') ? paint.bad(line) : line.startsWith('@@') ? paint.name(line) : line;
}
