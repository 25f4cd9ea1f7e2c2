import { promises as fs } from 'node:fs';
import { dirname, join } from 'node:path';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { FailedOperationError, RefusedError } from '../errors.ts';
import { folderOf } from '../files/file-tree.ts';
import { kindOnDisk } from '../files/disk.ts';
import { forEachConcurrently } from './concurrently.ts';
import { diskPathOf, readContent, type FileContent } from '../files/memory-tree.ts';
import { makeFolders, realDiskWriter, type DiskWriter } from './disk-writer.ts';
import { guarded } from './guarded.ts';
import { Journal, type JournalEntry, type JournaledEdit } from './journal.ts';
import type { ChangePlan, Operation } from './plan.ts';
import { recover, restore, settle } from './recover.ts';
import { sha256, stampTree } from './stamps.ts';
import { describeReplaced, isInPlace, PACK, swapRoots } from './swap.ts';

export interface ApplyOptions {
  readonly journal: Journal;
  /** Milliseconds since 1970. */
  readonly now: number;
  /** Aborting it takes back what was done. */
  readonly signal?: AbortSignal | undefined;
  readonly writer?: DiskWriter | undefined;
  /** The journal entry that the plan takes back. */
  readonly undoes?: string | undefined;
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
  if (!isInPlace(plan) && kindOnDisk(plan.root) !== undefined)
    throw new RefusedError({ what: `${plan.root} is there already`, hint: 'choose another name, or move it away' });
  const id = Journal.newId(options.now);
  const parent = dirname(plan.root);
  const staging = join(firstExisting(parent), `.pionero-${id}`);
  const opened: JournalEntry = {
    id,
    title: plan.title,
    root: plan.root,
    time: options.now,
    process: process.pid,
    staging,
    undoes: options.undoes,
  };
  await guarded(plan.title, async () => {
    const before = plan.replaces === undefined ? undefined : describeReplaced(plan, join(dirname(plan.replaces), `.pionero-${id}-old`));
    const entry = { ...opened, replaced: before?.replaced };
    await journal.open(entry, new Map(before === undefined ? [] : [[PACK, before.pack]]));
    let isSettled = true;
    try {
      await writer.makeFolder(staging, 0o755);
      await build(plan, staging, writer, signal);
      const rootMode = plan.rootMode ?? before?.replaced.mode;
      if (rootMode !== undefined) await writer.setMode(staging, rootMode);
      const stamped = { ...entry, stamps: stampTree(staging) };
      await journal.save('pending', stamped);
      await stopIfAborted(signal);
      if (before === undefined) {
        await makeFolders(parent);
        await writer.rename(staging, plan.root);
      } else isSettled = await swapRoots(stamped, before.replaced, writer);
    } catch (error) {
      await realDiskWriter.remove(staging).catch(() => undefined);
      await journal.drop('pending', id);
      throw error;
    }
    // What is left of an old folder is cleared away by the next command.
    if (isSettled) await settle(journal, entry, true);
  });
}

/** More than the system's threads, so that none of them waits. */
const FILES_AT_A_TIME = 16;

/** Makes all that a plan for a new root holds, below a folder that nobody looks at yet. */
async function build(plan: ChangePlan, staging: string, writer: DiskWriter, signal: AbortSignal | undefined): Promise<void> {
  const folders = new Set<string>();
  for (const operation of plan.operations) {
    if (operation.op !== 'folder') continue;
    await stopIfAborted(signal);
    await writer.makeFolder(join(staging, operation.path), operation.mode);
    folders.add(operation.path);
  }
  const isReplacing = plan.replaces !== undefined;
  const rest = plan.operations.filter((operation) => operation.op !== 'folder');
  await forEachConcurrently(rest, FILES_AT_A_TIME, async (operation) => {
    if (signal?.aborted === true) await stopIfAborted(signal);
    if (!folders.has(folderOf(operation.path))) await makeFolders(dirname(join(staging, operation.path)));
    // A clone's files can be made again from their source; of a renamed theme there will be no other copy.
    await carryOut(operation, staging, writer, {
      isShared: isReplacing,
      isDurable: isReplacing || operation.op !== 'create' || 'bytes' in operation.content,
    });
  });
  // Folders that their owner may not write get that mode once they are full.
  for (const operation of plan.operations.toReversed()) {
    if (operation.op === 'folder' && (operation.mode & 0o700) !== 0o700)
      await writer.setMode(join(staging, operation.path), operation.mode);
  }
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
        await makeFolders(dirname(join(plan.root, operation.path)));
        await carryOut(operation, plan.root, writer, { isShared: false, isDurable: true });
      }
    } catch (error) {
      await restore(entry, journal);
      await journal.drop('pending', id);
      throw error;
    }
    await journal.move(id, 'pending', 'done');
  });
}

async function carryOut(
  operation: Operation,
  root: string,
  writer: DiskWriter,
  { isShared, isDurable }: { isShared: boolean; isDurable: boolean },
): Promise<void> {
  const path = join(root, operation.path);
  switch (operation.op) {
    case 'folder':
      return writer.makeFolder(path, operation.mode);
    case 'link':
      return writer.makeLink(path, operation.target);
    case 'edit':
      return writer.replaceFile(path, operation.bytes);
    case 'create': {
      const { content, mode, mtimeMs } = operation;
      await assertAsPlanned(content);
      const source = diskPathOf(content);
      if (source !== undefined) return isShared ? writer.shareFile(source, path, mode) : writer.copyFile(source, path, mode);
      return writer.createFile(path, readContent(content), { mode, mtimeMs, isDurable });
    }
  }
}

/** Edits fit only the text that they were planned on. @throws FailedOperationError when somebody changed it since */
async function assertAsPlanned(content: FileContent): Promise<void> {
  if ('bytes' in content || content.edits === undefined) return;
  const { tree, path } = content;
  const planned = tree.get(path);
  const file = tree.diskPath?.(path);
  if (file === undefined || planned?.mtimeMs === undefined) return;
  const { mtimeMs, size } = await fs.stat(file);
  if (mtimeMs !== planned.mtimeMs || size !== planned.size)
    throw new FailedOperationError({ what: `${path} was changed in the meantime`, hint: 'nothing was written; do it again' });
}

/** Lets signals in, and stops when one asked to. */
async function stopIfAborted(signal: AbortSignal | undefined): Promise<void> {
  await nextTurn();
  if (signal?.aborted === true) {
    throw new FailedOperationError({ what: 'interrupted: what had been done was taken back', hint: 'nothing was changed' });
  }
}
