import { displayPath } from '../../core/files/disk.ts';
import { basename, resolve } from 'node:path';
import type { JournalEntry } from '../../core/changes/journal.ts';
import { findLastApplied, undoEntry } from '../../core/changes/undo.ts';
import { RefusedError } from '../../core/errors.ts';
import { changeOptions, defineCommand } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { count } from '../output/paint.ts';

export default defineCommand({
  arguments: [],
  options: changeOptions,
  examples: ['pionero undo', 'pionero undo --dry-run'],
  async run(context, _args, given) {
    const proposal = await findLastApplied(context.journal, resolve('.'));
    if (proposal === undefined) {
      throw new RefusedError({
        what: 'there is nothing to take back: no change was applied in this folder',
        hint: 'run it where the theme lies, or in a folder above',
      });
    }
    const { entry, changed } = proposal;
    const { paint } = context;
    const minutes = Math.round((context.io.now() - entry.time) / 60_000);
    const [effect, outcome] = effectOf(entry);
    context.say(
      `${paint.strong(`“${entry.title}”`)} ${paint.faint(minutes < 1 ? '(just now)' : `(${count(minutes, 'minute')} ago)`)}: taking it back ${effect}`,
    );
    // With somebody's work in the way it is refused; without, nothing is lost, and only a person at a terminal is asked.
    const isSafe = changed.length > 0 || !context.io.isInteractive;
    const isApplied = await isConfirmed(context, { ...given, yes: given.yes || isSafe }, 'Take it back?');
    if (isApplied) {
      await undoEntry(proposal, context.journal);
      context.say(`${paint.good('✓')} ${outcome}.`);
    }
    context.result({ title: entry.title, root: entry.root, changed, applied: isApplied });
    return ExitStatus.ok;
  },
});

/** What taking an entry back does, before and after it is done. */
function effectOf({ root, stamps, edits, replaced }: JournalEntry): [effect: string, outcome: string] {
  const shown = displayPath(root);
  if (replaced !== undefined)
    return [`puts ${displayPath(replaced.root)} back in place of ${shown}`, `${displayPath(replaced.root)} is as it was before`];
  if (stamps !== undefined) return [`removes ${shown}`, `${basename(root)} is gone; nothing else was touched`];
  return [`restores ${count(edits?.length ?? 0, 'file')} in ${shown}`, `${basename(root)} is as it was before`];
}
