import type { Drift, DriftedFile, DriftState } from '../../core/lineage/drift.ts';
import { SourceDocument } from '../../core/text/source-document.ts';
import { patchLines } from './diff-text.ts';
import { type Paint } from './paint.ts';
import { count } from '../../core/text/sentence.ts';

/** The step to take for each state, in the order in which they are listed. */
const TITLES: readonly (readonly [state: DriftState, title: string, advice: string])[] = [
  ['changed', 'Changed by the parent since', '“pionero drift --merge” merges the changes'],
  ['removed', 'Removed by the parent', 'only this theme has it now: it is yours, or to be removed'],
  ['moved', 'Moved by the parent', 'the copy takes no file’s place any more: move it as well'],
  ['equal', 'As the parent has it by now', '“pionero override --drop” gives it up'],
  ['kept', 'Unchanged in the parent', ''],
  ['gone', 'On record, and not there any more', '“pionero override --drop” takes it off the record'],
  ['no-parent', 'Taken from a theme that is not in the chain', 'put that theme on a shelf, or name its shelf with --shelf'],
];

export function driftText(drift: Drift, paint: Paint, isWhole: boolean): string {
  const lines: string[] = [];
  for (const [state, title, advice] of TITLES) {
    const own = drift.files.filter((file) => file.state === state);
    if (own.length === 0) continue;
    lines.push('', paint.strong(title) + (advice === '' ? '' : paint.faint(`: ${advice}`)));
    for (const file of own) {
      lines.push(`  ${fileText(file, paint)}`);
      if (state === 'changed') lines.push(...changeLines(file, paint, isWhole));
    }
  }
  if (drift.lacking.length > 0) {
    lines.push('', paint.strong('New in the parent'));
    const kinds = { include: 'includes', region: 'declares the region', text: 'has the text', field: 'states' } as const;
    for (const { kind, name, file, of } of drift.lacking) lines.push(`  ${file}  ${paint.faint(`${of} ${kinds[kind]}`)} ${name}`);
  }
  const unrecorded = drift.unrecorded;
  if (unrecorded.length > 0) {
    lines.push('', paint.strong('In the place of a parent’s file, and not on record'));
    const shown = isWhole ? unrecorded : unrecorded.slice(0, 12);
    for (const { file, theme, isEqual } of shown)
      lines.push(`  ${file}  ${paint.faint(`${theme}’s${isEqual ? ', the same: it could be removed' : ''}`)}`);
    if (shown.length < unrecorded.length) lines.push(paint.faint(`  … and ${unrecorded.length - shown.length} more (--verbose shows all)`));
  }
  if (drift.notMadeFor !== undefined) {
    const { parent, version, range } = drift.notMadeFor;
    lines.push('', `${paint.warn('▲')} It is made for ${parent} ${range}, and ${parent} is ${version}.`);
  }
  return lines.join('\n');
}

function fileText({ record, isOurs, version, isDowngraded, movedTo, original, state }: DriftedFile, paint: Paint): string {
  const was = record.version === undefined ? '' : ` ${record.version}`;
  const now = version === undefined || version === record.version ? '' : `, now ${version}${isDowngraded ? ' (an older one)' : ''}`;
  const notes = [
    `${record.theme}${was}${now}`,
    ...(record.from === record.file ? [] : [`there ${record.from}`]),
    ...(movedTo === undefined ? [] : [`now in ${movedTo}`]),
    ...(state === 'gone' || state === 'equal' ? [] : [ownText(state, isOurs)]),
    ...(state === 'changed' && original === undefined && isOurs ? ['nobody keeps the original: it cannot be merged'] : []),
  ];
  return `${record.file}  ${paint.faint(notes.join('; '))}`;
}

/** What became of the copy here. */
function ownText(state: DriftState, isOurs: boolean): string {
  if (state === 'kept') return isOurs ? 'changed here' : 'unchanged here too: you can drop it';
  return isOurs ? 'changed here too' : 'not changed here';
}

/** The changes of the parent: from the original, or from what is here, where nobody keeps that. */
function changeLines({ record, original, ours, theirs }: DriftedFile, paint: Paint, isWhole: boolean): string[] {
  const base = original?.bytes ?? ours;
  if (base === undefined || theirs === undefined) return [];
  const [before, after] = [base, theirs].map((bytes) => SourceDocument.decode(record.from, bytes)?.text);
  if (before === undefined || after === undefined) return [`    ${paint.faint('not text: choose with --side mine or --side parent')}`];
  return patchLines(before, after, paint, isWhole ? Infinity : 14).map((line) => `    ${line}`);
}

/** One line: what there is to do. */
export function driftHeadline({ files, lacking, notMadeFor }: Drift, id: string, paint: Paint): string {
  const number = (state: DriftState): number => files.filter((file) => file.state === state).length;
  const parts = [
    ...(number('changed') > 0 ? [`${count(number('changed'), 'file')} changed by the parent`] : []),
    ...(number('removed') + number('moved') > 0 ? [`${number('removed') + number('moved')} removed or moved there`] : []),
    ...(number('equal') > 0 ? [`${number('equal')} could be options up`] : []),
    ...(number('gone') + number('no-parent') > 0 ? [`${number('gone') + number('no-parent')} on record, and not found`] : []),
    ...(lacking.length > 0 ? [`${lacking.length} new in the parent`] : []),
    ...(notMadeFor === undefined ? [] : ['not made for this version']),
  ];
  const taken = files.length === 0 ? 'nothing is on record as taken from a parent' : `${count(files.length, 'file')} on record`;
  return parts.length === 0
    ? `${paint.good('✓')} ${paint.strong(id)}: ${taken}; nothing changed there`
    : `${paint.warn('▲')} ${paint.strong(id)}: ${taken}; ${parts.join(', ')}`;
}
