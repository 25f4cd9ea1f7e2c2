import { promises as fs } from 'node:fs';
import { basename, join } from 'node:path';
import { RefusedError } from '../errors.ts';
import { kindOnDisk, linkTarget } from '../files/disk.ts';
import { isWritten } from '../files/disk-names.ts';
import { isWithin } from '../files/paths.ts';
import { stopIfAborted } from './carry-out.ts';
import { guarded, takeBackAfter } from './guarded.ts';
import type { Journal, JournalEntry } from './journal.ts';
import { applyLocked, rootsOf, type ApplyOptions } from './apply.ts';
import { withLocks } from './lock.ts';
import { thisProcess } from './process-identity.ts';
import { recover, restore } from './recover.ts';
import { PACK, planBack } from './swap.ts';
import { isSameStamp, sha256, stampTree } from './stamps.ts';
import { count, listed, plural } from '../text/sentence.ts';

/** The effect of an undo: the entry, and what stands in its way. */
export interface UndoProposal {
  readonly entry: JournalEntry;
  /** Paths that are not as the plan left them. */
  readonly changed: readonly string[];
  /** Whether the folder that it is about is not there any more: then there is nothing to copy back. */
  readonly isGone: boolean;
}

/** The plans that were applied in a folder, to it, or above it, newest first. */
export async function listApplied(journal: Journal, folder: string): Promise<JournalEntry[]> {
  const entries = (await journal.list('done')).filter((each) => isWithin(each.root, folder) || isWithin(folder, each.root));
  return entries.toReversed();
}

/** What taking an entry back would do. */
export async function proposeUndo(entry: JournalEntry): Promise<UndoProposal> {
  const isGone = kindOnDisk(entry.root) === undefined;
  return { entry, isGone, changed: await changedSince(entry) };
}

/** Finds the last plan that was applied in a folder, to it, or above it; undefined when there is none. */
export async function findLastApplied(journal: Journal, folder: string): Promise<UndoProposal | undefined> {
  await recover(journal);
  const [entry] = await listApplied(journal, folder);
  return entry === undefined ? undefined : proposeUndo(entry);
}

async function changedSince(entry: JournalEntry): Promise<string[]> {
  if (entry.stamps !== undefined) {
    const now = new Map((kindOnDisk(entry.root) === 'folder' ? stampTree(entry.root) : []).map((stamp) => [stamp.path, stamp]));
    const then = new Map(entry.stamps.map((stamp) => [stamp.path, stamp]));
    return [...new Set([...then.keys(), ...now.keys()])].filter((path) => !isSameStamp(then.get(path), now.get(path))).sort();
  }
  const changed: string[] = [];
  for (const edit of entry.edits ?? []) {
    if (edit.isFolder === true) continue;
    if (edit.linksTo !== undefined) {
      if (linkTarget(join(entry.root, edit.path)) !== edit.linksTo) changed.push(edit.path);
      continue;
    }
    const bytes = await fs.readFile(join(entry.root, edit.path)).catch(() => undefined);
    if (edit.isRemoved === true) {
      // Some systems find the new file under the old name, where only its case changed.
      if (bytes !== undefined && isWritten(entry.root, edit.path)) changed.push(edit.path);
      continue;
    }
    if (bytes === undefined || sha256(bytes) !== edit.sha256) changed.push(edit.path);
  }
  return changed;
}

/**
 * Takes an applied plan back.
 * @throws RefusedError when files were changed since, or another run changes them: taking it back would lose that work
 */
export async function undoEntry({ entry }: UndoProposal, options: ApplyOptions): Promise<void> {
  const { journal } = options;
  const roots = rootsOf({ root: entry.root, replaces: entry.replaced?.root });
  const title = `undo “${entry.title}”`;
  const takeBackLocked = async (): Promise<void> => {
    if ((await journal.find('done', entry.id)) === undefined)
      throw new RefusedError({
        what: `“${entry.title}” was taken back by another run`,
        hint: 'run “pionero undo --list” to see what is left',
      });
    // Looked at again: a question may have been on the screen.
    assertUntouched(entry, await changedSince(entry));
    if (entry.replaced === undefined) await takeBack(entry, title, options);
    else {
      const plan = planBack(entry, entry.replaced, await journal.readKept('done', entry.id, PACK));
      await applyLocked(plan, { ...options, now: entry.time, undoes: entry.id });
    }
  };
  await guarded(title, async () => withLocks(journal, { roots, title, now: options.now }, takeBackLocked));
}

/** @throws RefusedError when someone has worked on the files since */
function assertUntouched(entry: JournalEntry, changed: readonly string[]): void {
  if (changed.length === 0) return;
  throw new RefusedError({
    what: `${count(changed.length, 'file')} of ${basename(entry.root)} ${plural(changed.length, 'was', 'were')} changed after “${entry.title}”: ${listed(changed, 5)}`,
    why: 'taking the plan back would lose these changes',
    hint: 'move them elsewhere first',
  });
}

async function takeBack(entry: JournalEntry, title: string, { journal, signal }: ApplyOptions): Promise<void> {
  await guarded(title, async () => {
    await stopIfAborted(signal);
    await journal.save('done', { ...entry, ...thisProcess });
    await journal.move(entry.id, 'done', 'pending');
    try {
      if (entry.staging === undefined) await restore(entry, journal);
      else {
        await journal.save('pending', { ...entry, isTakenBack: true, ...thisProcess });
        await journal.writer.rename(entry.root, entry.staging);
        await journal.writer.remove(entry.staging);
        // Someone may have put files into them since: then they stay.
        for (const folder of (entry.above ?? []).toReversed()) await journal.writer.removeEmptyFolder(folder).catch(() => undefined);
      }
    } catch (error) {
      await takeBackAfter(error, title, async () => {
        if (entry.staging !== undefined && kindOnDisk(entry.root) === undefined) return;
        await journal.save('pending', entry);
        await journal.move(entry.id, 'pending', 'done');
      });
    }
    // It is taken back by now; an entry that cannot leave its place is tidied up by the next command.
    await journal.move(entry.id, 'pending', 'undone').catch(() => undefined);
  });
}
