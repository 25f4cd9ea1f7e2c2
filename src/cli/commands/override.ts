import { flag, texts } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import { planDrop, planOverride } from '../../core/lineage/override.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { planEntries } from '../../core/lineage/entries.ts';
import { changeOptions, defineCommand, type ChangeOptions, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { findingJson } from '../output/json.ts';
import { forceOption, isHarmless } from '../proof-gate.ts';
import { answeringNeeds, mayLack, needJson, noteText, needsOption, type NeedsOptions } from '../needs.ts';
import { ExitStatus } from '../exit-status.ts';
import { originalsFor, warnUnrecognised } from '../lineage-context.ts';
import { openArgument, themeFirst } from '../theme-argument.ts';
import { count, listed, plural } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [
    { form: '[theme]', about: 'the child’s folder, or its id on a shelf; default: the current folder' },
    { form: '[files...]', about: 'files of a parent by their paths, or page roles' },
  ],
  options: {
    drop: flag('give copies up again that were not changed; without files: all that nothing else here needs'),
    entry: texts('KEY', 'of a file that the host merges: one entry of it, by its key; repeatable'),
    ...needsOption,
    ...forceOption,
    ...changeOptions,
  },
  examples: [
    'pionero override lumbre front',
    'pionero override lumbre partials/header.html styles/print.css',
    'pionero override lumbre front --needs take',
    'pionero override lumbre partials/header.html --drop',
    'pionero override lumbre --drop --dry-run',
    'pionero override lumbre strings/es.ini --entry read',
  ],
  async run(context, args, options) {
    const { theme: argument, rest: files } = themeFirst(args, context);
    const opened = await openArgument(argument, context, { isLenient: true });
    warnUnrecognised(context, opened);
    if (options.drop) return drop(context, opened, files, options);
    if (files.length === 0)
      throw new UsageError({ what: 'which file of the parent?', hint: 'name its path, or a page role; “pionero trace” lists them' });
    return options.entry.length > 0 ? takeEntries(context, opened, files, options) : take(context, opened, files, options);
  },
});

type TakeOptions = ChangeOptions & NeedsOptions & { readonly force: boolean };

async function take(context: Context, opened: OpenedTheme, files: readonly string[], options: TakeOptions): Promise<ExitStatus> {
  const { paint } = context;
  const planned = await answeringNeeds(context, options, (answer) =>
    planOverride(opened, files, originalsFor(context, opened), { now: context.io.now(), answer }),
  );
  const { plan, taken, notes, needs, errors } = planned;
  context.say(`${paint.strong(opened.theme.names.id)} takes ${count(taken.length, 'file')} from its parents:`);
  for (const { file, from, theme, version } of taken)
    context.say(
      `  ${paint.good('+')} ${file}  ${paint.faint(`${theme} ${version ?? ''}`.trim() + (file === from ? '' : `, there ${from}`))}`,
    );
  for (const note of notes) context.say(`  ${noteText(note, opened.theme, context)}`);
  const isFit = mayLack(context, options, opened.theme.names.id, needs) && isHarmless(context, options, opened.theme.names.id, errors);
  const isApplied = isFit && (await isConfirmed(context, options, `Copy ${count(taken.length, 'file')}?`));
  if (isApplied) {
    await context.apply(plan);
    context.say(
      `${paint.good('✓')} Copied, and on record in pionero.overrides.yaml; “pionero drift” tells what changes there; “pionero undo” reverts it.`,
    );
  }
  context.result({
    theme: opened.theme.names.id,
    taken: taken.map(({ original: _original, ...each }) => each),
    ...{ notes, needs: needs.map(needJson), newFindings: errors.map(findingJson), applied: isApplied },
  });
  return isFit ? ExitStatus.ok : ExitStatus.findings;
}

async function takeEntries(
  context: Context,
  opened: OpenedTheme,
  [file = '', ...more]: readonly string[],
  options: ChangeOptions & { readonly entry: readonly string[] },
): Promise<ExitStatus> {
  if (more.length > 0) throw new UsageError({ what: '--entry takes entries of one file', hint: `name ${file} alone` });
  const { paint } = context;
  const { plan, of, entries } = planEntries(opened, file.replace(/^\.?\//, ''), options.entry);
  context.say(`${paint.strong(opened.theme.names.id)} takes ${count(entries.length, 'entry', 'entries')} of ${file} from ${of}:`);
  for (const entry of entries) context.say(`  ${paint.good('+')} ${entry}`);
  const isApplied = await isConfirmed(context, options, `Copy ${count(entries.length, 'entry', 'entries')}?`);
  if (isApplied) {
    await context.apply(plan);
    context.say(`${paint.good('✓')} Copied; what is not in ${file} goes on coming from ${of}; “pionero undo” reverts it.`);
  }
  context.result({ theme: opened.theme.names.id, file, of, entries, applied: isApplied });
  return ExitStatus.ok;
}

async function drop(context: Context, opened: OpenedTheme, files: readonly string[], options: TakeOptions): Promise<ExitStatus> {
  const { paint } = context;
  const { plan, dropped, needed, errors } = planDrop(opened, files);
  const kept = needed.map(({ file }) => file);
  if (dropped.length === 0) {
    context.say(
      kept.length === 0
        ? `${paint.good('✓')} ${opened.theme.names.id} has no copy that is as the parent has it: nothing to give up.`
        : `${paint.good('✓')} Nothing to give up: other files of ${opened.theme.names.id} need ${listed(kept, 3)} here.`,
    );
    context.result({ theme: opened.theme.names.id, dropped: [], needed: kept, newFindings: [], applied: false });
    return ExitStatus.ok;
  }
  context.say(`${paint.strong(opened.theme.names.id)} drops ${count(dropped.length, 'copy', 'copies')} and inherits again:`);
  for (const { file, theme } of dropped) context.say(`  ${paint.bad('−')} ${file}  ${paint.faint(theme)}`);
  for (const file of kept) context.say(`  ${paint.faint(`${file} stays: other files need it here`)}`);
  const isFit = isHarmless(context, options, opened.theme.names.id, errors);
  const isApplied = isFit && (await isConfirmed(context, options, `Remove ${count(dropped.length, 'file')}?`));
  if (isApplied) {
    await context.apply(plan);
    context.say(`${paint.good('✓')} Removed; “pionero undo” brings ${plural(dropped.length, 'it', 'them')} back.`);
  }
  context.result({
    theme: opened.theme.names.id,
    dropped: dropped.map(({ file }) => file),
    ...{ needed: kept, newFindings: errors.map(findingJson), applied: isApplied },
  });
  return isFit ? ExitStatus.ok : ExitStatus.findings;
}
