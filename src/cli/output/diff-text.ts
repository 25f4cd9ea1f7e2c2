import { createTwoFilesPatch } from 'diff';
import type { ChangePlan } from '../../core/changes/plan.ts';
import { SourceDocument } from '../../core/text/source-document.ts';
import type { Paint } from './paint.ts';

/** What a plan of edits changes, as a unified diff. */
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

/** A line of a unified diff. */
export function coloured(line: string, paint: Paint): string {
  if (/^(?:---|\+\+\+) /.test(line)) return paint.strong(line.trimEnd());
  return line.startsWith('+') ? paint.good(line) : line.startsWith('-') ? paint.bad(line) : line.startsWith('@@') ? paint.name(line) : line;
}
