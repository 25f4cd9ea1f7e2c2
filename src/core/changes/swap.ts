import { readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { isSameFolder, kindOnDisk } from '../files/disk.ts';
import { DiskTree } from '../files/disk-tree.ts';
import type { FileStamp, Journal, JournalEntry, ReplacedItem, ReplacedRoot } from './journal.ts';
import type { ChangePlan, Operation } from './plan.ts';
import { isSameStamp, stampTree } from './stamps.ts';
import { takeBackAfter } from './guarded.ts';
import { clearLater } from './temporary.ts';

/** The file in the journal that holds the earlier bytes of all changed files, one after another. */
export const PACK = 'before.pack';

/** Whether the new root has the place of the old one, so that there is no moment at which both are there. */
export function isInPlace({ root, replaces }: Pick<ChangePlan, 'root' | 'replaces'>): boolean {
  return replaces !== undefined && (root === replaces || isSameFolder(root, replaces));
}

/** Describes a folder that a plan replaces, with the bytes that cannot be had from the new one. */
export function describeReplaced(plan: ChangePlan, trash: string): { replaced: ReplacedRoot; pack: Buffer } {
  const root = plan.replaces ?? plan.root;
  const goesOn = new Map(plan.operations.flatMap((operation): [string, string][] => whereGoesOn(operation, root)));
  const parts: Buffer[] = [];
  let offset = 0;
  const items = new DiskTree(root).entries.map((entry): ReplacedItem => {
    const { path, kind, size, mode, target, mtimeMs = 0 } = entry;
    const item = { path, kind, size, mode, mtimeMs, target };
    if (kind !== 'file') return item;
    const now = goesOn.get(path);
    if (now !== undefined) return { ...item, now };
    const bytes = readFileSync(join(root, path));
    parts.push(bytes);
    offset += bytes.length;
    return { ...item, size: bytes.length, offset: offset - bytes.length };
  });
  const mode = statSync(root).mode & 0o777;
  return { replaced: { root, mode, trash, items, carried: plan.carried ?? [] }, pack: Buffer.concat(parts) };
}

/** Where a file of the replaced folder lies unchanged in the new one. */
function whereGoesOn(operation: Operation, root: string): [string, string][] {
  if (operation.op !== 'create' || !('tree' in operation.content) || operation.content.edits !== undefined) return [];
  const { tree, path } = operation.content;
  return tree.diskPath?.(path) === join(root, path) ? [[path, operation.path]] : [];
}

/**
 * Puts a folder that was built beside into the place of the one it replaces. Failing, it takes all steps back.
 * @returns false when the old folder could not be cleared away, and that could not even be put on record
 */
export async function swapRoots(entry: JournalEntry, replaced: ReplacedRoot, journal: Journal): Promise<boolean> {
  const { writer } = journal;
  const { root, staging = '' } = entry;
  const done: (() => Promise<void>)[] = [];
  const move = async (from: string, to: string): Promise<void> => {
    await writer.rename(from, to);
    done.unshift(async () => writer.rename(to, from));
  };
  try {
    await writer.makeFolders(dirname(root));
    if (isInPlace({ root, replaces: replaced.root })) {
      await move(replaced.root, replaced.trash);
      await move(staging, root);
    } else {
      // First the new, then away with the old: at no moment is there none.
      await move(staging, root);
      await move(replaced.root, replaced.trash);
    }
    for (const { from, to } of replaced.carried) await move(join(replaced.trash, from), join(root, to));
  } catch (error) {
    await takeBackAfter(error, entry.title, async () => {
      for (const step of done) await step();
    });
  }
  return tidyUp(replaced, root, journal).then(
    () => true,
    () => false,
  );
}

async function tidyUp(replaced: ReplacedRoot, root: string, journal: Journal): Promise<void> {
  const { writer } = journal;
  // The change is whole: that another program has something of the old folder open need stop neither what follows nor the next command.
  await writer.remove(replaced.trash).catch(async () => clearLater(journal, replaced.trash));
  // A vendor's folder whose last theme went away.
  if (dirname(root) !== dirname(replaced.root)) await writer.removeEmptyFolder(dirname(replaced.root)).catch(() => undefined);
}

/**
 * Finishes or takes back a swap that was interrupted.
 * @returns whether the new root is in its place now
 */
export async function recoverSwap(entry: JournalEntry, replaced: ReplacedRoot, journal: Journal): Promise<boolean> {
  const { writer } = journal;
  const { root, staging = '', stamps } = entry;
  const hasStaging = kindOnDisk(staging) !== undefined;
  const hasTrash = kindOnDisk(replaced.trash) !== undefined;
  if (stamps === undefined || (hasStaging && !hasTrash)) {
    await writer.remove(staging);
    return false;
  }
  if (hasStaging) await writer.rename(staging, root);
  const isOldThere = !hasTrash && replaced.root !== root && kindOnDisk(replaced.root) !== undefined;
  if (isOldThere) {
    const isOldAsItWas = isUnchanged(replaced.root, replaced.items);
    if (!isOldAsItWas && isUnchanged(root, stamps)) {
      // Someone went on working in the old one: that is the one to keep.
      await writer.remove(root);
      return false;
    }
    // Both were worked in: neither is thrown away.
    if (!isOldAsItWas) return true;
    await writer.rename(replaced.root, replaced.trash);
  }
  for (const { from, to } of replaced.carried) {
    const source = join(replaced.trash, from);
    if (kindOnDisk(source) !== undefined && kindOnDisk(join(root, to)) === undefined) await writer.rename(source, join(root, to));
  }
  await tidyUp(replaced, root, journal);
  return true;
}

function isUnchanged(root: string, stamps: readonly FileStamp[]): boolean {
  const now = new Map(stampTree(root).map((stamp) => [stamp.path, stamp]));
  return now.size === stamps.length && stamps.every((stamp) => isSameStamp(stamp, now.get(stamp.path)));
}

/** The plan that brings a replaced folder back, out of the new one and the journal's pack. */
export function planBack(entry: JournalEntry, replaced: ReplacedRoot, pack: Buffer): ChangePlan {
  const tree = new DiskTree(entry.root);
  const operations = replaced.items.map((item): Operation => {
    const { path, kind, mode, size, mtimeMs, now, offset = 0 } = item;
    if (kind === 'folder') return { op: 'folder', path, mode };
    if (kind === 'link') return { op: 'link', path, target: item.target ?? '' };
    if (now !== undefined) return { op: 'create', path, content: { tree, path: now }, size, mode };
    return { op: 'create', path, content: { bytes: pack.subarray(offset, offset + size) }, size, mode, mtimeMs };
  });
  const carried = replaced.carried.map(({ from, to }) => ({ from: to, to: from }));
  const title = `undo “${entry.title}”`;
  return { title, root: replaced.root, isNewRoot: true, replaces: entry.root, carried, operations, rootMode: replaced.mode };
}
