import { promises as fs } from 'node:fs';
import { basename, join } from 'node:path';
import { RefusedError } from '../errors.ts';
import { kindOnDisk } from '../files/disk.ts';
import { realDiskWriter, type DiskWriter } from './disk-writer.ts';
import { guarded } from './guarded.ts';
import type { Journal, JournalEntry } from './journal.ts';
import { applyPlan } from './apply.ts';
import { recover, restore } from './recover.ts';
import { PACK, planBack } from './swap.ts';
import { isSameStamp, sha256, stampTree } from './stamps.ts';

/** What an undo would do: the entry, and what somebody changed since. */
export interface UndoProposal {
  readonly entry: JournalEntry;
  /** Paths that are not as the plan left them. */
  readonly changed: readonly string[];
}

/** Finds the last plan that was applied in a folder, to it, or above it; undefined when there is none. */
export async function findLastApplied(journal: Journal, folder: string): Promise<UndoProposal | undefined> {
  await recover(journal);
  const entry = (await journal.list('done')).findLast((each) => isBelow(each.root, folder) || isBelow(folder, each.root));
  return entry === undefined ? undefined : { entry, changed: await changedSince(entry) };
}

function isBelow(path: string, folder: string): boolean {
  return path === folder || path.startsWith(folder.endsWith('/') ? folder : `${folder}/`);
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
    const bytes = await fs.readFile(join(entry.root, edit.path)).catch(() => undefined);
    if (bytes === undefined || sha256(bytes) !== edit.sha256) changed.push(edit.path);
  }
  return changed;
}

/**
 * Takes an applied plan back.
 * @throws RefusedError when files were changed since: taking it back would lose that work
 */
export async function undoEntry(proposal: UndoProposal, journal: Journal, writer: DiskWriter = realDiskWriter): Promise<void> {
  const { entry, changed } = proposal;
  if (changed.length > 0) {
    throw new RefusedError({
      what: `${changed.length} files of ${basename(entry.root)} were changed after “${entry.title}”: ${changed.slice(0, 5).join(', ')}${changed.length > 5 ? ', …' : ''}`,
      why: 'taking the plan back would lose these changes',
      hint: 'move them elsewhere first',
    });
  }
  if (entry.replaced !== undefined) {
    const plan = planBack(entry, entry.replaced, await journal.readKept('done', entry.id, PACK));
    await applyPlan(plan, { journal, now: entry.time, writer, undoes: entry.id });
    return;
  }
  await guarded(`undo “${entry.title}”`, async () => {
    await journal.move(entry.id, 'done', 'pending');
    try {
      if (entry.staging === undefined) await restore(entry, journal);
      else {
        await journal.save('pending', { ...entry, isTakenBack: true, process: process.pid });
        await writer.rename(entry.root, entry.staging);
        await writer.remove(entry.staging);
      }
    } catch (error) {
      if (entry.staging === undefined || kindOnDisk(entry.root) !== undefined) {
        await journal.save('pending', entry);
        await journal.move(entry.id, 'pending', 'done');
      }
      throw error;
    }
    await journal.move(entry.id, 'pending', 'undone');
  });
}
