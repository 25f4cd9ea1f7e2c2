import { flag, texts } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import { planDrop, planOverride } from '../../core/lineage/override.ts';
import type { TakingNote } from '../../core/scaffold/take.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { planEntries } from '../../core/lineage/entries.ts';
import { changeOptions, defineCommand, type ChangeOptions, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { originalsFor, warnUnrecognised } from '../lineage-context.ts';
import { openArgument, themeFirst } from '../theme-argument.ts';
import { count, plural } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [
    { form: '[theme]', about: 'the child’s folder, or its id on a shelf; default: the current folder' },
    { form: '[files...]', about: 'files of a parent by their paths, or page roles' },
  ],
  options: {
    drop: flag('give copies up again that were not changed; without files: all of them'),
    entry: texts('KEY', 'of a file that the host merges: one entry of it, by its key; repeatable'),
    ...changeOptions,
  },
  examples: [
    'pionero override lumbre front',
    'pionero override lumbre partials/header.html styles/print.css',
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

async function take(context: Context, opened: OpenedTheme, files: readonly string[], options: ChangeOptions): Promise<ExitStatus> {
  const { paint } = context;
  const { plan, taken, notes } = await planOverride(opened, files, originalsFor(context, opened), context.io.now());
  context.say(`${paint.strong(opened.theme.names.id)} takes ${count(taken.length, 'file')} from its parents:`);
  for (const { file, from, theme, version } of taken)
    context.say(
      `  ${paint.good('+')} ${file}  ${paint.faint(`${theme} ${version ?? ''}`.trim() + (file === from ? '' : `, there ${from}`))}`,
    );
  for (const note of notes) context.say(`  ${noteText(note, opened, context)}`);
  const isApplied = await isConfirmed(context, options, `Copy ${count(taken.length, 'file')}?`);
  if (isApplied) {
    await context.apply(plan);
    context.say(
      `${paint.good('✓')} Copied, and on record in pionero.overrides.yaml; “pionero drift” tells what changes there; “pionero undo” reverts it.`,
    );
  }
  context.result({ theme: opened.theme.names.id, taken: taken.map(({ original: _original, ...each }) => each), notes, applied: isApplied });
  return ExitStatus.ok;
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

function noteText(note: TakingNote, { theme }: OpenedTheme, { paint }: Context): string {
  const mark = paint.warn('▲');
  if (note.code === 'address-changed') return `${mark} ${note.file}: “${note.from}” became “${note.to}”, so that it still leads there`;
  const { 'sheets-fact': sheets } = theme.platform.contract.assets;
  const other =
    sheets === undefined
      ? 'to add to it only, put your rules into a stylesheet of another name'
      : `to add to it only, put your rules into a stylesheet of another name, and list it: pionero meta set ${theme.names.id} ${sheets}+=PATH`;
  return `${mark} ${note.file} takes the place of ${note.theme}’s as a whole: what you take out of it is gone from the pages; ${other}`;
}

async function drop(context: Context, opened: OpenedTheme, files: readonly string[], options: ChangeOptions): Promise<ExitStatus> {
  const { paint } = context;
  const { plan, dropped } = planDrop(opened, files);
  if (dropped.length === 0) {
    context.say(`${paint.good('✓')} ${opened.theme.names.id} has no copy that is as the parent has it: nothing to give up.`);
    context.result({ theme: opened.theme.names.id, dropped: [], applied: false });
    return ExitStatus.ok;
  }
  context.say(`${paint.strong(opened.theme.names.id)} gives up ${count(dropped.length, 'copy', 'copies')}, and inherits again:`);
  for (const { file, theme } of dropped) context.say(`  ${paint.bad('−')} ${file}  ${paint.faint(theme)}`);
  const isApplied = await isConfirmed(context, options, `Remove ${count(dropped.length, 'file')}?`);
  if (isApplied) {
    await context.apply(plan);
    context.say(`${paint.good('✓')} Removed; “pionero undo” brings ${plural(dropped.length, 'it', 'them')} back.`);
  }
  context.result({ theme: opened.theme.names.id, dropped: dropped.map(({ file }) => file), applied: isApplied });
  return ExitStatus.ok;
}
