import { choice, renamed, flag, type Values } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import { findDrift, hasDrifted, type Drift } from '../../core/lineage/drift.ts';
import { planMerge, type Merging, type MergeStep } from '../../core/lineage/merge-drift.ts';
import type { Decide } from '../../core/lineage/merge-files.ts';
import { soundRecord } from '../../core/lineage/override.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { originalsFor, warnUnrecognised, withDecisions } from '../lineage-context.ts';
import { driftHeadline, driftText } from '../output/drift-text.ts';
import { findingJson } from '../output/json.ts';
import { openThemes } from '../opened-themes.ts';
import { forceOption, isHarmless, mergeErrors } from '../proof-gate.ts';
import { count, plural } from '../../core/text/sentence.ts';

const OPTIONS = {
  merge: flag('bring in what the parent changed, three ways: from the original that is on record'),
  side: renamed(
    choice(['mine', 'parent'], 'SIDE', 'with --merge: whose is taken of what cannot be merged, such as pictures: mine, parent'),
    'take',
    { ours: 'mine', theirs: 'parent' },
  ),
  ...forceOption,
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'themes’ folders, their ids on a shelf, or shelves; default: the current folder' }],
  options: OPTIONS,
  examples: [
    'pionero drift lumbre',
    'pionero drift lumbre --merge',
    'pionero drift shelf',
    'pionero drift lumbre --merge --side parent --yes',
  ],
  async run(context, args, options) {
    if (options.side !== undefined && !options.merge)
      throw new UsageError({ what: '--side chooses sides of a merge', hint: 'add --merge' });
    const opened = await openThemes(args, context, { isLenient: true });
    const [only, ...others] = opened;
    if (only !== undefined && others.length === 0) return driftOf(context, only, options);
    if (options.merge)
      throw new UsageError({
        what: 'one theme at a time is merged, so that each can be looked at',
        hint: 'name the theme: pionero drift THEME --merge',
      });
    return driftOfAll(context, opened);
  },
});

async function driftOf(context: Context, opened: OpenedTheme, options: Options): Promise<ExitStatus> {
  const { paint } = context;
  const id = opened.theme.names.id;
  warnUnrecognised(context, opened);
  soundRecord(opened.theme);
  const originals = originalsFor(context, opened);
  const drift = await findDrift(opened.chain, originals);
  context.say(driftHeadline(drift, id, paint));
  const text = driftText(drift, paint, context.options.verbose);
  if (!options.merge) {
    if (text !== '') context.say(text);
    sayBroken(context, opened);
    context.result(driftJson(id, drift));
    return ExitStatus.ok;
  }
  const planned = async (decide: Decide): Promise<Merging> =>
    planMerge(opened, drift, originals, {
      decide,
      whole: options.side === undefined ? undefined : options.side === 'mine' ? 'ours' : 'theirs',
      now: context.io.now(),
    });
  const merging = await withDecisions(context, !options.yes && !options.dryRun, planned);
  const { plan, steps } = merging;
  for (const step of steps) context.say(`  ${stepText(context, step)}`);
  const conflicts = steps.reduce((sum, { outcome }) => sum + (outcome.kind === 'merged' ? outcome.merged.conflicts : 0), 0);
  const left = steps.filter(({ outcome }) => outcome.kind === 'left').length;
  const files = plan.operations.filter(({ op }) => op !== 'folder').length;
  if (files === 0) context.say(left > 0 ? `${paint.warn('▲')} Nothing could be merged.` : `${paint.good('✓')} There is nothing to merge.`);
  const broken = files === 0 ? [] : await mergeErrors(opened, merging, conflicts, planned);
  const isFit = files > 0 && isHarmless(context, options, id, broken);
  const isApplied = isFit && (await isConfirmed(context, options, `Write ${count(steps.length - left, 'file')}?`));
  if (isApplied) {
    await context.apply(plan);
    const rest =
      conflicts === 0
        ? ''
        : ` ${paint.warn('▲')} ${count(conflicts, 'conflict')} left in them, marked with <<<<<<<: “pionero check” finds each.`;
    const kept = steps.filter(({ outcome }) => outcome.kind === 'chosen' && outcome.side === 'ours').length;
    const done = [
      ...(steps.length > left + kept ? [`${count(steps.length - left - kept, 'file')} merged`] : []),
      ...(kept > 0 ? [`${count(kept, 'file')} kept as yours`] : []),
    ];
    context.say(`${paint.good('✓')} ${done.join(', ')}; “pionero undo” reverts it.${rest}`);
  }
  context.result({
    ...driftJson(id, drift),
    merge: steps.map(({ file, outcome }) => ({
      file,
      outcome: outcome.kind,
      conflicts: outcome.kind === 'merged' ? outcome.merged.conflicts : 0,
      ...(outcome.kind === 'left' ? { why: outcome.why } : {}),
    })),
    newFindings: broken.map(findingJson),
    applied: isApplied,
  });
  return conflicts + left + broken.length > 0 ? ExitStatus.findings : ExitStatus.ok;
}

/** How one file is decided that cannot be merged. */
const CHOOSE = 'choose with --side mine or --side parent';

function stepText({ paint }: Context, { file, outcome }: MergeStep): string {
  if (outcome.kind === 'left') {
    const why = {
      binary: `not text, and changed on both sides: ${CHOOSE}`,
      'no-original': `nobody keeps the original: ${CHOOSE}`,
    };
    return `${paint.bad('✗')} ${file}  ${why[outcome.why]}`;
  }
  if (outcome.kind === 'chosen')
    return `${paint.good('✓')} ${file}  ${outcome.side === 'ours' ? 'yours is kept' : 'the parent’s is taken'}`;
  const { conflicts, added, removed } = outcome.merged;
  const parts = [
    ...(added + removed === 0 ? [] : [`${paint.good(`+${added}`)} ${paint.bad(`−${removed}`)}`]),
    ...(conflicts === 0 ? [] : [count(conflicts, 'conflict')]),
  ];
  return `${conflicts === 0 ? paint.good('✓') : paint.warn('▲')} ${file}  ${parts.join(', ')}`;
}

function sayBroken(context: Context, { chain }: OpenedTheme): void {
  if (chain.broken?.kind === 'missing')
    context.say(
      `\n${context.paint.warn('▲')} The parent “${chain.broken.id}” is on no shelf: what became of its files nobody here can tell.`,
    );
}

/** Over many themes: a line each, those with something to do first named, and the whole in one number. */
async function driftOfAll(context: Context, opened: readonly OpenedTheme[]): Promise<ExitStatus> {
  const results: Record<string, unknown>[] = [];
  let busy = 0;
  for (const each of opened.filter(({ theme }) => theme.parents.length > 0)) {
    warnUnrecognised(context, each);
    soundRecord(each.theme);
    const drift = await findDrift(each.chain, originalsFor(context, each));
    if (hasDrifted(drift)) busy += 1;
    context.say(driftHeadline(drift, each.theme.names.id, context.paint));
    results.push(driftJson(each.theme.names.id, drift));
  }
  const children = results.length;
  context.say(
    `\n${count(opened.length, 'theme')}, ${children} of them build on others; ${busy === 0 ? 'nothing changed under them' : `${busy} ${plural(busy, 'has', 'have')} something to do: “pionero drift THEME” shows what`}.`,
  );
  context.result(results);
  return ExitStatus.ok;
}

function driftJson(id: string, { files, lacking, unrecorded, notMadeFor }: Drift): Record<string, unknown> {
  return {
    theme: id,
    files: files.map(({ record, state, isOurs, movedTo, version, isDowngraded, original }) => ({
      file: record.file,
      of: record.theme,
      from: record.from,
      taken: record.version ?? null,
      now: version ?? null,
      state,
      changedHere: isOurs,
      movedTo: movedTo ?? null,
      downgraded: isDowngraded,
      original: original?.where ?? null,
    })),
    lacking,
    unrecorded,
    notMadeFor: notMadeFor ?? null,
  };
}
