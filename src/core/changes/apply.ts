import { promises as fs } from 'node:fs';
import { dirname, join } from 'node:path';
import { RefusedError } from '../errors.ts';
import { kindOnDisk } from '../files/disk.ts';
import { readContent } from '../files/memory-tree.ts';
import { assertAsPlanned } from './assert-as-planned.ts';
import { assertNamesFit, assertNoTwins } from './assert-fitting.ts';
import { buildTree, carryOut, stopIfAborted } from './carry-out.ts';
import { guarded, takeBackAfter } from './guarded.ts';
import { Journal, type JournalEntry, type JournaledEdit } from './journal.ts';
import { withLocks } from './lock.ts';
import type { ChangePlan } from './plan.ts';
import { planAroundFile } from './around-file.ts';
import { thisProcess } from './process-identity.ts';
import { recover, restore, settle } from './recover.ts';
import { sha256 } from './stamps.ts';
import { describeReplaced, isInPlace, PACK, swapRoots } from './swap.ts';

export interface ApplyOptions {
  readonly journal: Journal;
  /** Milliseconds since 1970. */
  readonly now: number;
  /** Aborting it takes back what was done. */
  readonly signal?: AbortSignal | undefined;
  /** The journal entry that the plan takes back. */
  readonly undoes?: string | undefined;
  /** The parts that it shares with plans for other folders that are one change with it. */
  readonly together?: string | undefined;
}

/**
 * Applies a change plan wholly or not at all, and enters it into the journal.
 * @throws FailedOperationError when a step failed or was interrupted; what had been done is taken back
 * @throws FailedOperationError when what another run had left cannot be tidied up
 * @throws RefusedError when the place of a new folder is taken, another run changes the same folder, or a file changed
 * since the plan was made
 */
export async function applyPlan(planned: ChangePlan, options: ApplyOptions): Promise<void> {
  // A file that is edited is read again: before that, it must be what the plan was made on.
  if (planned.isFile === true) await assertAsPlanned(planned);
  const plan = planAroundFile(planned);
  const { failed } = await recover(options.journal);
  if (failed[0] !== undefined) throw failed[0];
  const { journal, now } = options;
  await guarded(plan.title, async () =>
    withLocks(journal, { roots: rootsOf(plan), title: plan.title, now }, async () => applyLocked(plan, options)),
  );
}

/** Like {@link applyPlan}, for who holds the locks of the plan's folders. */
export async function applyLocked(plan: ChangePlan, options: ApplyOptions): Promise<void> {
  if (plan.isNewRoot && !isInPlace(plan) && kindOnDisk(plan.root) !== undefined)
    throw new RefusedError({ what: `${plan.root} is there already`, hint: 'choose another name, or move it away' });
  assertNamesFit(plan);
  await assertAsPlanned(plan);
  const id = await (plan.isNewRoot ? applyNewRoot(plan, options) : applyInPlace(plan, options));
  // A set of plans is whole with its last one.
  if (options.together === undefined) await options.journal.markSettled(new Set([id]));
}

/** The folders that a plan changes, which nobody else may change meanwhile. */
export function rootsOf({ root, replaces }: Pick<ChangePlan, 'root' | 'replaces'>): string[] {
  return replaces === undefined ? [root] : [root, replaces];
}

/**
 * Builds the folder beside its place, then moves it there: the move is the moment at which the plan is applied.
 * @returns the id of its entry
 */
async function applyNewRoot(plan: ChangePlan, options: ApplyOptions): Promise<string> {
  const { journal, signal } = options;
  const { writer } = journal;
  const id = Journal.newId(options.now);
  const parent = dirname(plan.root);
  const staging = join(firstExisting(parent), `.pionero-${id}`);
  const opened: JournalEntry = {
    id,
    title: plan.title,
    root: plan.root,
    time: options.now,
    ...thisProcess,
    staging,
    above: missingAbove(parent),
    undoes: options.undoes,
    together: options.together,
  };
  await guarded(plan.title, async () => {
    const before = plan.replaces === undefined ? undefined : describeReplaced(plan, join(dirname(plan.replaces), `.pionero-${id}-old`));
    const entry = { ...opened, replaced: before?.replaced };
    await journal.open(entry, new Map(before === undefined ? [] : [[PACK, before.pack]]));
    let isSettled = true;
    try {
      await writer.makeFolder(staging, 0o755);
      assertNoTwins(plan, staging);
      const isReplacing = before !== undefined;
      const stamps = await buildTree(plan.operations, staging, writer, {
        signal,
        isShared: isReplacing,
        // A clone's files can be made again from their source; of a renamed theme there will be no other copy.
        isDurable: (operation) => isReplacing || (operation.op === 'create' && 'bytes' in operation.content),
      });
      const rootMode = plan.rootMode ?? before?.replaced.mode;
      if (rootMode !== undefined) await writer.setMode(staging, rootMode);
      const stamped = { ...entry, stamps };
      await journal.save('pending', stamped);
      await stopIfAborted(signal);
      // Building takes a while: what was saved meanwhile is not in the new folder, or only half of it.
      await assertAsPlanned(plan);
      if (before === undefined) {
        await writer.makeFolders(parent);
        await writer.rename(staging, plan.root);
      } else isSettled = await swapRoots(stamped, before.replaced, journal);
    } catch (error) {
      await takeBackAfter(error, plan.title, async () => {
        await writer.remove(staging);
        await journal.drop('pending', id);
      });
    }
    // The next command clears away the rest of an old folder, and so is an entry that could not leave its place.
    if (isSettled) await settle(journal, entry, true).catch(() => undefined);
  });
  return id;
}

/** The folders that have to be made so that one is there, the outermost first. */
function missingAbove(folder: string): string[] {
  const missing: string[] = [];
  for (let at = folder; kindOnDisk(at) === undefined && dirname(at) !== at; at = dirname(at)) missing.unshift(at);
  return missing;
}

/** A theme's folder may go into folders that are not there yet; the staging folder needs one on the same file system. */
function firstExisting(folder: string): string {
  let at = folder;
  while (kindOnDisk(at) === undefined && dirname(at) !== at) at = dirname(at);
  return at;
}

/** Keeps the earlier bytes in the journal, then changes file by file; a failure restores them. */
async function applyInPlace(plan: ChangePlan, options: ApplyOptions): Promise<string> {
  const { journal, signal } = options;
  const { writer } = journal;
  const id = Journal.newId(options.now);
  await guarded(plan.title, async () => {
    const kept = new Map<string, Buffer>();
    const edits: JournaledEdit[] = [];
    for (const [index, operation] of plan.operations.entries()) {
      const { path } = operation;
      if (operation.op === 'folder') edits.push({ path, isFolder: true, sha256: '' });
      else if (operation.op === 'link') edits.push({ path, linksTo: operation.target, sha256: '' });
      else if (operation.op === 'create') edits.push({ path, sha256: sha256(readContent(operation.content)) });
      else {
        const before = String(index);
        kept.set(before, await fs.readFile(join(plan.root, path)));
        const { mtimeMs, mode } = await fs.stat(join(plan.root, path));
        const was = { path, before, beforeTime: mtimeMs, beforeMode: mode & 0o777 };
        edits.push(operation.op === 'remove' ? { ...was, isRemoved: true, sha256: '' } : { ...was, sha256: sha256(operation.bytes) });
      }
    }
    const entry: JournalEntry = {
      id,
      title: plan.title,
      root: plan.root,
      time: options.now,
      ...thisProcess,
      together: options.together,
      edits,
    };
    await journal.open(entry, kept);
    try {
      for (const operation of plan.operations) {
        await stopIfAborted(signal);
        await writer.makeFolders(dirname(join(plan.root, operation.path)));
        await carryOut(operation, plan.root, writer, { isShared: false, isDurable: true });
      }
      await journal.move(id, 'pending', 'done');
    } catch (error) {
      await takeBackAfter(error, plan.title, async () => {
        await restore(entry, journal);
        await journal.drop('pending', id);
      });
    }
  });
  return id;
}
