import { promises as fs } from 'node:fs';
import { join } from 'node:path';
import { kindOnDisk } from '../files/disk.ts';
import { realDiskWriter, type DiskWriter } from './disk-writer.ts';
import type { Journal, JournalEntry } from './journal.ts';
import { recoverSwap } from './swap.ts';

/** Brings the files of an existing folder back to their bytes before the entry. Can be repeated. */
export async function restore(entry: JournalEntry, journal: Journal): Promise<void> {
  for (const edit of (entry.edits ?? []).toReversed()) {
    const path = join(entry.root, edit.path);
    if (edit.isFolder === true) {
      // Somebody may have put files into it since: then it stays.
      await fs.rmdir(path).catch(() => undefined);
      continue;
    }
    if (edit.before === undefined) {
      await realDiskWriter.remove(path);
      continue;
    }
    const bytes = await journal.readKept('pending', entry.id, edit.before);
    const now = await fs.readFile(path).catch(() => undefined);
    if (now === undefined || !now.equals(bytes)) await realDiskWriter.replaceFile(path, bytes);
    // The file is the earlier one again, so an undo of what was done before this still knows it.
    if (edit.beforeTime !== undefined) await fs.utimes(path, edit.beforeTime / 1000, edit.beforeTime / 1000);
  }
}

/**
 * Tidies up after a run that was killed: plans that had not been applied wholly are taken back.
 * @returns the titles of those plans
 */
export async function recover(journal: Journal, writer: DiskWriter = realDiskWriter): Promise<string[]> {
  const titles: string[] = [];
  for (const entry of await journal.list('pending')) {
    if (isAlive(entry.process)) continue;
    if (entry.isTakenBack === true) {
      // Its folder leaves its place in one step, before or after which the run was killed.
      const isThere = kindOnDisk(entry.root) !== undefined;
      if (entry.staging !== undefined) await writer.remove(entry.staging);
      await journal.save('pending', { ...entry, isTakenBack: undefined });
      await journal.move(entry.id, 'pending', isThere ? 'done' : 'undone');
      continue;
    }
    const isApplied = await finishOrTakeBack(entry, journal, writer);
    await settle(journal, entry, isApplied);
    if (!isApplied) titles.push(entry.title);
  }
  return titles;
}

async function finishOrTakeBack(entry: JournalEntry, journal: Journal, writer: DiskWriter): Promise<boolean> {
  const { staging, replaced, stamps, root } = entry;
  if (staging === undefined) {
    await restore(entry, journal);
    return false;
  }
  if (replaced !== undefined) return recoverSwap(entry, replaced, writer);
  if (kindOnDisk(staging) === undefined && stamps !== undefined && kindOnDisk(root) !== undefined) return true;
  await writer.remove(staging);
  return false;
}

/** Puts an entry where it belongs once its plan is applied or taken back. */
export async function settle(journal: Journal, entry: JournalEntry, isApplied: boolean): Promise<void> {
  if (!isApplied) await journal.drop('pending', entry.id);
  else if (entry.undoes === undefined) await journal.move(entry.id, 'pending', 'done');
  else {
    await journal.move(entry.undoes, 'done', 'undone').catch(() => undefined);
    await journal.drop('pending', entry.id);
  }
}

function isAlive(pid: number): boolean {
  if (pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}
