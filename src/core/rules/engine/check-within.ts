import { FailedOperationError, RefusedError } from '../../errors.ts';
import { placeOnDisk } from '../../files/disk.ts';
import { DiskTree } from '../../files/disk-tree.ts';
import { isBuilt, LimitError, Workers } from '../../parallel/workers.ts';
import type { CheckedFolder, FoldersToCheck } from './check-folders.ts';
import { CHECK_TASKS } from './check-in-thread.ts';

/** How a theme is checked by a program that goes on with other work meanwhile. */
export interface CheckWithin {
  /** Where relative paths start; absolute. */
  readonly currentFolder: string;
  /** A platform's name or file; told from the theme's files when left out. */
  readonly platform?: string | undefined;
  readonly shelves?: readonly string[] | undefined;
  readonly purpose?: FoldersToCheck['purpose'];
  /** Ends the check when it is aborted. */
  readonly signal?: AbortSignal | undefined;
  /** Ends the check when it takes longer. */
  readonly milliseconds?: number | undefined;
  /** Ends the check when it takes more memory, in MiB. */
  readonly mebibytes?: number | undefined;
  /** The most that the theme's files may hold together, in bytes: larger ones are refused unread. */
  readonly bytes?: number | undefined;
}

/**
 * Checks the theme in a folder in a thread of its own, so that it can be ended at any time. Rule modules are not run.
 * @throws RefusedError when the theme is larger than it may be
 * @throws FailedOperationError when the check was ended, or no thread can be started
 */
export async function checkWithin(folder: string, limits: CheckWithin): Promise<CheckedFolder> {
  const { currentFolder, platform, shelves = [], purpose, bytes } = limits;
  const path = placeOnDisk(currentFolder, folder);
  const size = bytes === undefined ? 0 : new DiskTree(path).entries.reduce((sum, entry) => sum + entry.size, 0);
  if (bytes !== undefined && size > bytes)
    throw new RefusedError({ what: `${folder} holds ${size} bytes, and may hold ${bytes}`, hint: 'allow more, or leave files out' });
  const input: FoldersToCheck = { currentFolder, folders: [path], platform, shelves, purpose, agreed: [] };
  if (!isBuilt(CHECK_TASKS))
    throw new FailedOperationError({ what: 'the program of the thread that checks is not there', hint: 'install the package again' });
  const workers = new Workers({ count: 1, mebibytes: limits.mebibytes });
  try {
    const [only] = await workers.run(CHECK_TASKS, 'check', input, limits);
    if (only === undefined) throw new Error('nothing came of the check');
    return only;
  } catch (error) {
    if (!(error instanceof LimitError)) throw error;
    const why = {
      signal: 'it was not wanted any more',
      time: `it took more than ${limits.milliseconds} milliseconds`,
      memory: `it took more than ${limits.mebibytes} MiB`,
    };
    throw new FailedOperationError({ what: `the check of ${folder} was ended`, why: why[error.limit], cause: error });
  } finally {
    await workers.end();
  }
}
