import { flag } from '../option.ts';
import { basename } from 'node:path';
import type { JournalEntry } from '../../core/changes/journal.ts';
import { listApplied, proposeUndo, undoEntry, type UndoProposal } from '../../core/changes/undo.ts';
import { dropTogether, withTogether } from '../../core/changes/together.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { defineCommand, type ChangeOptions, type Context, changeOptions } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { oneLine } from '../output/visible.ts';
import { count, listed } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '[number]', about: 'which change, as “undo --list” numbers them; default: the last one' }],
  options: {
    list: flag('list the changes that can be undone here, the last one first'),
    drop: flag('take a change off the list instead, and leave the files as they are'),
    ...changeOptions,
  },
  examples: ['pionero undo', 'pionero undo --list', 'pionero undo 2 --yes', 'pionero undo --dry-run'],
  async run(context, args, options) {
    const entries = await listApplied(context.journal, context.io.folder);
    if (options.list) return list(context, entries);
    const entry = choose(entries, args[0]);
    if (options.drop) return drop(context, entry, options);
    const [first = entry, ...others] = await withTogether(context.journal, entry);
    if (others.length > 0) return undoAll(context, [first, ...others], options);
    const proposal = await proposeUndo(entry);
    const { paint } = context;
    const [effect, outcome] = effectOf(context, entry);
    context.say(`${paint.strong(`“${oneLine(entry.title)}”`)} ${paint.faint(`(${age(context, entry)})`)}: taking it back ${effect}`);
    if (proposal.isGone) return offerDrop(context, proposal, options);
    // With someone's work in the way it is refused; there is nothing to ask.
    const isApplied = await isConfirmed(context, { ...options, yes: options.yes || proposal.changed.length > 0 }, 'Undo it?');
    if (isApplied) {
      await context.changing(async (options) => undoEntry(proposal, options));
      context.say(`${paint.good('✓')} ${outcome}.`);
    }
    context.result({ title: entry.title, root: entry.root, changed: proposal.changed, applied: isApplied });
    return ExitStatus.ok;
  },
});

/** Takes back a change of several folders, when none of them was worked on since. */
async function undoAll(context: Context, entries: readonly JournalEntry[], options: ChangeOptions): Promise<ExitStatus> {
  const { paint } = context;
  const proposals = await Promise.all(entries.map(async (entry) => proposeUndo(entry)));
  const title = entries.at(-1)?.title ?? '';
  context.say(`${paint.strong(`“${oneLine(title)}”`)}: taking it back changes ${count(entries.length, 'folder')}`);
  for (const entry of entries) context.say(`  it ${effectOf(context, entry)[0]}`);
  const inTheWay = proposals.filter(({ changed, isGone }) => changed.length > 0 || isGone);
  if (inTheWay.length > 0)
    throw new RefusedError({
      what: `“${oneLine(title)}” cannot be taken back as a whole`,
      details: inTheWay.map(
        ({ entry, changed, isGone }) =>
          `  ${context.shown(entry.root)}: ${isGone ? 'it is not there any more' : `changed since: ${listed(changed, 5)}`}`,
      ),
      hint: 'move what was changed elsewhere first, or take it off the list with “pionero undo --drop”',
    });
  const isApplied = await isConfirmed(context, options, 'Undo it?');
  if (isApplied) {
    await context.changing(async (options) => {
      for (const proposal of proposals) await undoEntry(proposal, options);
    });
    context.say(`${paint.good('✓')} All of them are as they were before.`);
  }
  context.result({ title, roots: entries.map(({ root }) => root), changed: [], applied: isApplied });
  return ExitStatus.ok;
}

/** @throws RefusedError when there is none; UsageError when it is no number of the list */
function choose(entries: readonly JournalEntry[], wanted: string | undefined): JournalEntry {
  const [last] = entries;
  if (last === undefined) {
    throw new RefusedError({
      what: 'there is nothing to undo: no change was applied in this folder',
      hint: 'run it in the theme’s folder, or above it',
    });
  }
  if (wanted === undefined) return last;
  const entry = /^\d+$/.test(wanted) ? entries[Number(wanted) - 1] : undefined;
  if (entry !== undefined) return entry;
  throw new UsageError({
    what: `there is no change ${wanted} to undo here`,
    hint: `the list has 1 to ${entries.length}; “pionero undo --list” shows it`,
  });
}

function list(context: Context, entries: readonly JournalEntry[]): ExitStatus {
  const { paint } = context;
  if (entries.length === 0) context.say('There is nothing to undo in this folder.');
  for (const [i, entry] of entries.entries()) {
    const number = String(i + 1).padStart(String(entries.length).length);
    context.say(`${paint.name(number)}  ${oneLine(entry.title)}  ${paint.faint(`${age(context, entry)}, ${context.shown(entry.root)}`)}`);
  }
  context.result(entries.map(({ title, root, time }, i) => ({ number: i + 1, title, root, time: new Date(time).toISOString() })));
  return ExitStatus.ok;
}

/** A change whose folder the user has deleted can only be forgotten; else it would stand before all older ones. */
async function offerDrop(context: Context, { entry }: UndoProposal, options: ChangeOptions): Promise<ExitStatus> {
  const what = `${context.shown(entry.root)} is not there any more, so there is nothing to undo`;
  if (!context.io.isInteractive || context.isMachine || options.yes)
    throw new RefusedError({ what, hint: 'take it off the list with “pionero undo --drop”, to come to older changes' });
  context.say(`${context.paint.warn('▲')} ${what}.`);
  return drop(context, entry, options);
}

async function drop(context: Context, entry: JournalEntry, options: ChangeOptions): Promise<ExitStatus> {
  const title = `“${oneLine(entry.title)}”`;
  const isDropped = await isConfirmed(context, options, `Take ${title} off the list? Its files stay as they are.`);
  if (isDropped) {
    await dropTogether(context.journal, entry);
    context.say(`${context.paint.good('✓')} ${title} is off the list; its files are as they were.`);
  }
  context.result({ title: entry.title, root: entry.root, dropped: isDropped });
  return ExitStatus.ok;
}

function age({ io }: Context, { time }: JournalEntry): string {
  const minutes = Math.round((io.now() - time) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 120) return `${count(minutes, 'minute')} ago`;
  return minutes < 2880 ? `${count(Math.round(minutes / 60), 'hour')} ago` : `${count(Math.round(minutes / 1440), 'day')} ago`;
}

/** What taking an entry back does, before and after it is done. */
function effectOf(context: Context, { root, stamps, edits, replaced }: JournalEntry): [effect: string, outcome: string] {
  const local = context.shown(root);
  const shown = local === '.' ? basename(root) : local;
  if (replaced !== undefined)
    return [`puts ${context.shown(replaced.root)} back in place of ${shown}`, `${context.shown(replaced.root)} is as it was before`];
  if (stamps !== undefined) return [`removes ${shown}`, `${basename(root)} is gone; nothing else was touched`];
  const files = (edits ?? []).filter(({ isFolder }) => isFolder !== true);
  const restored = files.filter(({ before }) => before !== undefined).length;
  const parts = [
    ...(restored > 0 ? [`restores ${count(restored, 'file')}`] : []),
    ...(files.length > restored ? [`removes ${count(files.length - restored, 'file')} that came with it`] : []),
  ];
  return [`${parts.join(' and ')} in ${shown}`, `${basename(root)} is as it was before`];
}
