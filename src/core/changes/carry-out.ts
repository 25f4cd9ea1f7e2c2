import { dirname, join } from 'node:path';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { FailedOperationError, systemCode } from '../errors.ts';
import { folderOf } from '../files/file-tree.ts';
import { contentParts, diskPathOf } from '../files/memory-tree.ts';
import { forEachConcurrently } from './concurrently.ts';
import type { DiskWriter } from './disk-writer.ts';
import type { FileStamp } from './journal.ts';
import type { Operation } from './plan.ts';
import { stampTree } from './stamps.ts';

/** More than the system's threads, so that none of them waits. */
const FILES_AT_A_TIME = 16;

/** So many steps are made before signals are let in. */
const STEPS_WITHOUT_PAUSE = 50;

/** Larger files are made one by one: what is edited passes through memory. */
const LARGE_BYTES = 1 << 20;

export interface BuildOptions {
  readonly signal?: AbortSignal | undefined;
  /** Whether files that go on unchanged get a second place instead of a copy. */
  readonly isShared?: boolean | undefined;
  /** Whether to wait until the disk has a file: not needed for one that could be made again. */
  readonly isDurable?: ((operation: Operation) => boolean) | undefined;
}

/**
 * Makes all that a plan for a new root holds, below a folder that nobody looks at yet. Links come last, so that nothing
 * can be written through one of them, and what was built is compared with the plan.
 * @returns how everything below the folder looks now
 * @throws FailedOperationError when something is not where the plan has it
 */
export async function buildTree(
  operations: readonly Operation[],
  root: string,
  writer: DiskWriter,
  { signal, isShared = false, isDurable = () => false }: BuildOptions = {},
): Promise<FileStamp[]> {
  const folders = new Set<string>();
  for (const operation of operations) {
    if (operation.op !== 'folder') continue;
    await stopIfAborted(signal);
    await writer.makeFolder(join(root, operation.path), operation.mode);
    folders.add(operation.path);
  }
  let made = 0;
  const make = async (operation: Operation): Promise<void> => {
    // Small files are made without a pause: signals are heard between some of them.
    if (signal?.aborted === true || ++made % STEPS_WITHOUT_PAUSE === 0) await stopIfAborted(signal);
    if (!folders.has(folderOf(operation.path))) await writer.makeFolders(dirname(join(root, operation.path)));
    await carryOut(operation, root, writer, { isShared, isDurable: isDurable(operation) });
  };
  const files = operations.filter((operation) => operation.op === 'create');
  const isLarge = (operation: Operation): boolean => operation.op === 'create' && operation.size > LARGE_BYTES;
  await forEachConcurrently(
    files.filter((file) => !isLarge(file)),
    FILES_AT_A_TIME,
    make,
  );
  await forEachConcurrently(files.filter(isLarge), 1, make);
  await forEachConcurrently(
    operations.filter((operation) => operation.op === 'link'),
    FILES_AT_A_TIME,
    make,
  );
  // Folders that their owner may not write get that mode once they are full.
  for (const operation of operations.toReversed()) {
    if (operation.op === 'folder' && (operation.mode & 0o700) !== 0o700) await writer.setMode(join(root, operation.path), operation.mode);
  }
  const stamps = stampTree(root);
  assertBuilt(operations, stamps);
  return stamps;
}

/** The walk over what was built follows no link: what was written through one is not where it belongs. */
function assertBuilt(operations: readonly Operation[], stamps: readonly FileStamp[]): void {
  const built = new Map(stamps.map((stamp) => [stamp.path, stamp.kind]));
  const wanted = { create: 'file', folder: 'folder', link: 'link', edit: 'file', remove: undefined } as const;
  for (const { op, path } of operations) {
    if (op === 'link' && built.get(path) === undefined) throw noLinks(path);
    if (built.get(path) !== wanted[op])
      throw new FailedOperationError({ what: `${path} could not be made as a ${wanted[op]} in its place`, hint: 'nothing was changed' });
  }
}

/** Codes of systems that have no symbolic links, or let only some people make them. */
const NO_LINKS = new Set(['EPERM', 'ENOTSUP', 'ENOSYS']);

function noLinks(path: string): FailedOperationError {
  return new FailedOperationError({
    what: `${path} cannot be made: it is a symbolic link`,
    why: 'this system has none, or does not let you make them',
    hint: 'allow it (on Windows: developer mode), or put a copy in its place; “install” copies without --link',
  });
}

/** Carries out one step of a plan below a folder. */
export async function carryOut(
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
      return writer.makeLink(path, operation.target).catch((error: unknown) => {
        throw NO_LINKS.has(systemCode(error) ?? '') ? noLinks(operation.path) : error;
      });
    case 'edit':
      return writer.replaceFile(path, operation.bytes);
    case 'remove':
      return writer.remove(path);
    case 'create': {
      const { content, mode, mtimeMs } = operation;
      const source = diskPathOf(content);
      if (source !== undefined) return isShared ? writer.shareFile(source, path, mode) : writer.copyFile(source, path, mode);
      return writer.createFile(path, contentParts(content), { mode, mtimeMs, isDurable });
    }
  }
}

/** Lets signals in, and stops when one asked to. @throws FailedOperationError when one did */
export async function stopIfAborted(signal: AbortSignal | undefined): Promise<void> {
  await nextTurn();
  if (signal?.aborted === true) {
    throw new FailedOperationError({ what: 'interrupted: what had been done was taken back', hint: 'nothing was changed' });
  }
}
