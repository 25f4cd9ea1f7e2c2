import { promises as fs } from 'node:fs';
import { dirname, join } from 'node:path';
import { FailedOperationError, systemCode, systemReason } from '../errors.ts';
import { kindOnDisk } from '../files/disk.ts';
import { isOurTemporary } from '../files/disk-tree.ts';
import type { DiskWriter } from './disk-writer.ts';
import type { Journal, JournalEntry } from './journal.ts';
import { clearLocks, LockedError, withLocks } from './lock.ts';
import { isAlive, isSameProcess, thisProcess } from './process-identity.ts';
import { recoverSwap } from './swap.ts';
import { clearTemporaries } from './temporary.ts';

/** Brings the files of an existing folder back to their bytes before the entry. Can be repeated. */
export async function restore(entry: JournalEntry, journal: Journal): Promise<void> {
  // The folder was deleted since: there is nothing to bring back into it.
  if (kindOnDisk(entry.root) === undefined) return;
  await removeHalfFiles(entry, journal.writer);
  for (const edit of (entry.edits ?? []).toReversed()) {
    const path = join(entry.root, edit.path);
    if (edit.isFolder === true) {
      // Someone may have put files into it since: then it stays.
      await journal.writer.removeEmptyFolder(path).catch(() => undefined);
      continue;
    }
    if (edit.before === undefined) {
      await journal.writer.remove(path);
      continue;
    }
    const bytes = await journal.readKept('pending', entry.id, edit.before);
    const now = await fs.readFile(path).catch(() => undefined);
    if (now === undefined) {
      await journal.writer.makeFolders(dirname(path));
      await journal.writer.createFile(path, [bytes], { mode: edit.beforeMode ?? 0o644 });
    } else if (!now.equals(bytes)) await journal.writer.replaceFile(path, bytes);
    // The file is the earlier one again, so an undo of what was done before this still knows it.
    // One that nothing was done to is left alone: only its owner may set its time, to whatever it is.
    const { mtimeMs } = await fs.stat(path);
    if (edit.beforeTime !== undefined && mtimeMs !== edit.beforeTime) await journal.writer.setTime(path, edit.beforeTime);
  }
}

/** A run that was killed while it replaced a file has left the new one beside it. Nobody else writes there: the folder is locked. */
async function removeHalfFiles({ root, edits = [] }: JournalEntry, writer: DiskWriter): Promise<void> {
  for (const folder of new Set(edits.map((edit) => dirname(join(root, edit.path))))) {
    for (const name of await fs.readdir(folder).catch(() => [])) if (isOurTemporary(name)) await writer.remove(join(folder, name));
  }
}

/** The remains of a run that was broken off, and what became of them. */
export interface Recovery {
  /** Titles of the plans that were taken back. */
  readonly takenBack: readonly string[];
  /** Titles of the plans that were brought to their end. */
  readonly finished: readonly string[];
  /** Files that the system did not let us tidy up. */
  readonly failed: readonly FailedOperationError[];
  /** Where entries of the journal lie now that could not be read. */
  readonly setAside: readonly string[];
}

/**
 * Tidies up after runs that were killed: plans that had not been applied wholly are taken back, or finished when all of
 * their new files are there; temporary files go. To be called before anything is read. What another run is changing just
 * now is left to it.
 */
export async function recover(journal: Journal): Promise<Recovery> {
  // Remains that cannot be cleared away now are left to the next command.
  await clearTemporaries(journal).catch(() => undefined);
  const setAside = await journal.setBrokenAside();
  const takenBack: string[] = [];
  const finished: string[] = [];
  const failed: FailedOperationError[] = [];
  for (const listed of await journal.list('pending')) {
    if (isAlive(listed) && !isSameProcess(listed, thisProcess)) continue;
    const roots = [listed.root, ...(listed.replaced === undefined ? [] : [listed.replaced.root])];
    const work = async (): Promise<void> => {
      // Another run may have tidied up while this one came to the lock.
      const entry = await journal.find('pending', listed.id);
      if (entry === undefined) return;
      ((await recoverEntry(entry, journal)) ? finished : takenBack).push(entry.title);
    };
    await withLocks(journal, { roots, title: `tidying up after “${listed.title}”`, now: listed.time }, work).catch((error: unknown) => {
      if (!(error instanceof LockedError)) failed.push(notTidiedUp(listed, error));
    });
  }
  await clearLocks(journal).catch(() => undefined);
  return { takenBack, finished, setAside, failed };
}

/** One entry that the system stops does not stop the others; it is tried again by the next run. */
function notTidiedUp({ title }: JournalEntry, error: unknown): FailedOperationError {
  if (systemCode(error) === undefined) throw error;
  return new FailedOperationError({
    what: `“${title}”, which was broken off before, cannot be tidied up`,
    why: error instanceof Error && 'path' in error ? `${systemReason(error)}: ${String(error.path)}` : systemReason(error),
    hint: 'remove the cause; the next command tries again',
    cause: error,
  });
}

/** @returns whether the entry's plan is applied now */
async function recoverEntry(entry: JournalEntry, journal: Journal): Promise<boolean> {
  if (entry.isTakenBack === true) {
    // Its folder leaves its place in one step, before or after which the run was killed.
    const isThere = kindOnDisk(entry.root) !== undefined;
    if (entry.staging !== undefined) await journal.writer.remove(entry.staging);
    await journal.save('pending', { ...entry, isTakenBack: undefined });
    await journal.move(entry.id, 'pending', isThere ? 'done' : 'undone');
    return !isThere;
  }
  const isApplied = await finishOrTakeBack(entry, journal);
  await settle(journal, entry, isApplied);
  return isApplied;
}

async function finishOrTakeBack(entry: JournalEntry, journal: Journal): Promise<boolean> {
  const { staging, replaced, stamps, root } = entry;
  if (staging === undefined) {
    await restore(entry, journal);
    return false;
  }
  if (replaced !== undefined) return recoverSwap(entry, replaced, journal);
  if (kindOnDisk(staging) === undefined && stamps !== undefined && kindOnDisk(root) !== undefined) return true;
  await journal.writer.remove(staging);
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
