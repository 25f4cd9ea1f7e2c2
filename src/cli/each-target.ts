import { randomUUID } from 'node:crypto';
import { inOrder, piecesOf } from '../core/parallel/in-order.ts';
import { FolderPool, type FolderWork } from '../core/parallel/folder-pool.ts';
import type { TaskCosts } from '../core/parallel/task-pool.ts';
import type { FoldersToOpen } from '../core/theme/folders-to-open.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { userPlatformFolder } from './own-folders.ts';
import { Progress } from './progress.ts';

/** So many packages are given to a thread at once: fewer cost time to give, and more keep others waiting for the last ones. */
const BATCH = 8;
/** So many batches for each thread may wait for one that takes long. */
const AHEAD = 8;

/** The work for each of many themes, and its limits. */
interface Doing<I extends FoldersToOpen, R, N extends string> {
  readonly work: FolderWork<I, R, N>;
  /** The settings that all themes share. */
  readonly common: Omit<I, 'folders' | 'archives'>;
  readonly limits: TaskCosts;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs: number | undefined;
}

/**
 * Does something with many themes, on several threads, with a line of progress on a terminal; what comes of each is given in the order of the
 * targets, as soon as those before it are done. Few are begun that nobody has taken: memory holds a bounded number.
 */
export async function* doEach<I extends FoldersToOpen, R, N extends string>(
  context: Context,
  targets: readonly CheckTarget[],
  { work, common, limits, jobs }: Doing<I, R, N>,
): AsyncGenerator<R> {
  const pool = FolderPool.worthFor(work, targets.length, limits, jobs);
  const doAll = pool === undefined ? work.here : async (input: I) => pool.run(input);
  const batchOf = async (batch: readonly CheckTarget[]): Promise<readonly R[]> => {
    const places = batch.filter(({ kind }) => kind !== 'failed');
    const folders = places.map(({ path }) => path);
    const archives = places.flatMap(({ kind, path }) => (kind === 'archive' ? [path] : []));
    const done = folders.length === 0 ? [] : await doAll({ ...common, folders, archives } as unknown as I);
    return batch.map((target) =>
      target.kind === 'failed' ? work.failed(target.path, target.error) : (done[folders.indexOf(target.path)] ?? lost(target)),
    );
  };
  const progress = new Progress(context, work.doing, targets.length);
  const [size, ahead] = pool === undefined ? [1, 1] : [BATCH, AHEAD * pool.width];
  try {
    for await (const batch of inOrder(piecesOf(targets, size), ahead, batchOf)) {
      progress.clear();
      yield* batch;
      progress.add(batch.length);
    }
  } finally {
    await pool?.end();
    progress.clear();
  }
}

function lost({ path }: CheckTarget): never {
  throw new Error(`nothing came of ${path}`);
}

/** How the themes of a run are opened, as the command line says it. */
export function commonToOpen(context: Context): Omit<FoldersToOpen, 'folders'> {
  const { platform, shelf } = context.options;
  return {
    currentFolder: context.io.folder,
    platform,
    preferred: context.workspacePlatform,
    shelves: shelf,
    platformFolder: userPlatformFolder(context.io.env),
    run: randomUUID(),
  };
}
