import { promises as fs } from 'node:fs';
import { dirname, join } from 'node:path';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { FailedOperationError, RefusedError } from '../errors.ts';
import { kindOnDisk } from '../files/disk.ts';
import { readContent } from '../files/memory-tree.ts';
import { makeFolders, realDiskWriter, type DiskWriter } from './disk-writer.ts';
import { guarded } from './guarded.ts';
import { Journal, type JournalEntry, type JournaledEdit } from './journal.ts';
import type { ChangePlan, Operation } from './plan.ts';
import { recover, restore } from './recover.ts';
import { sha256, stampTree } from './stamps.ts';

export interface ApplyOptions {
  readonly journal: Journal;
  /** Milliseconds since 1970. */
  readonly now: number;
  /** Aborting it takes back what was done. */
  readonly signal?: AbortSignal | undefined;
  readonly writer?: DiskWriter | undefined;
}

/**
 * Applies a change plan wholly or not at all, and enters it into the journal.
 * @throws FailedOperationError when a step failed or was interrupted; what had been done is taken back
 * @throws RefusedError when the place of a new folder is taken
 */
export async function applyPlan(plan: ChangePlan, options: ApplyOptions): Promise<void> {
  await recover(options.journal, options.writer);
  const writer = options.writer ?? realDiskWriter;
  await (plan.isNewRoot ? applyNewRoot(plan, options, writer) : applyInPlace(plan, options, writer));
}

/** Builds the folder beside its place, then moves it there: the move is the moment at which the plan is applied. */
async function applyNewRoot(plan: ChangePlan, options: ApplyOptions, writer: DiskWriter): Promise<void> {
  const { journal, signal } = options;
  if (kindOnDisk(plan.root) !== undefined)
    throw new RefusedError({ what: `${plan.root} is there already`, hint: 'choose another name, or move it away' });
  const id = Journal.newId(options.now);
  const parent = dirname(plan.root);
  const staging = join(firstExisting(parent), `.pionero-${id}`);
  const entry: JournalEntry = { id, title: plan.title, root: plan.root, time: options.now, process: process.pid, staging };
  await guarded(plan.title, async () => {
    await journal.open(entry, new Map());
    try {
      await writer.makeFolder(staging, 0o755);
      for (const operation of plan.operations) {
        await stopIfAborted(signal);
        await carryOut(operation, staging, writer);
      }
      const stamps = stampTree(staging);
      await journal.save('pending', { ...entry, stamps });
      await stopIfAborted(signal);
      await makeFolders(parent);
      await writer.rename(staging, plan.root);
    } catch (error) {
      await realDiskWriter.remove(staging).catch(() => undefined);
      await journal.drop('pending', id);
      throw error;
    }
    await journal.move(id, 'pending', 'done');
  });
}

/** A theme's folder may go into folders that are not there yet; the staging folder needs one on the same file system. */
function firstExisting(folder: string): string {
  let at = folder;
  while (kindOnDisk(at) === undefined && dirname(at) !== at) at = dirname(at);
  return at;
}

/** Keeps the earlier bytes in the journal, then changes file by file; a failure restores them. */
async function applyInPlace(plan: ChangePlan, options: ApplyOptions, writer: DiskWriter): Promise<void> {
  const { journal, signal } = options;
  const id = Journal.newId(options.now);
  await guarded(plan.title, async () => {
    const kept = new Map<string, Buffer>();
    const edits: JournaledEdit[] = [];
    for (const [index, operation] of plan.operations.entries()) {
      const { path } = operation;
      if (operation.op === 'folder') edits.push({ path, isFolder: true, sha256: '' });
      else if (operation.op === 'create') edits.push({ path, sha256: sha256(readContent(operation.content)) });
      else if (operation.op === 'edit') {
        const before = String(index);
        kept.set(before, await fs.readFile(join(plan.root, path)));
        const { mtimeMs } = await fs.stat(join(plan.root, path));
        edits.push({ path, before, beforeTime: mtimeMs, sha256: sha256(operation.bytes) });
      }
    }
    const entry: JournalEntry = { id, title: plan.title, root: plan.root, time: options.now, process: process.pid, edits };
    await journal.open(entry, kept);
    try {
      for (const operation of plan.operations) {
        await stopIfAborted(signal);
        await carryOut(operation, plan.root, writer);
      }
    } catch (error) {
      await restore(entry, journal);
      await journal.drop('pending', id);
      throw error;
    }
    await journal.move(id, 'pending', 'done');
  });
}

async function carryOut(operation: Operation, root: string, writer: DiskWriter): Promise<void> {
  const path = join(root, operation.path);
  switch (operation.op) {
    case 'folder':
      return writer.makeFolder(path, operation.mode);
    case 'link':
      return writer.makeLink(path, operation.target);
    case 'edit':
      return writer.replaceFile(path, operation.bytes);
    case 'create': {
      await makeFolders(dirname(path));
      const { content } = operation;
      const source = 'tree' in content ? content.tree.diskPath?.(content.path) : undefined;
      if (source !== undefined) return writer.copyFile(source, path, operation.mode);
      return writer.createFile(path, readContent(content), operation.mode);
    }
  }
}

/** Lets signals in, and stops when one asked to. */
async function stopIfAborted(signal: AbortSignal | undefined): Promise<void> {
  await nextTurn();
  if (signal?.aborted === true) {
    throw new FailedOperationError({ what: 'interrupted: what had been done was taken back', hint: 'nothing was changed' });
  }
}
