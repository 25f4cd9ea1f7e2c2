import { randomUUID } from 'node:crypto';
import { dirname } from 'node:path';
import { inOrder, piecesOf } from '../core/parallel/in-order.ts';
import { checkFolders, checkOpened, failedCheck, type CheckedFolder, type FoldersToCheck } from '../core/rules/engine/check-folders.ts';
import { CheckPool } from '../core/rules/engine/check-pool.ts';
import { PACKAGE_COSTS, type TaskCosts } from '../core/parallel/task-pool.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { findConfiguration, type Configuration } from '../core/configuration/configuration.ts';
import { PioneroError } from '../core/errors.ts';
import { buildOf } from './build.ts';
import { agreedRules } from './rule-agreement.ts';
import { checkCacheFolder, userPlatformFolder } from './own-folders.ts';
import { Progress } from './progress.ts';
import { openSource, sayLeftBehind } from './theme-argument.ts';

/** The purpose of the check; and whether a theme that cannot be opened ends the check instead of becoming a finding. */
export type CheckHow = Pick<FoldersToCheck, 'purpose' | 'release' | 'preview' | 'isThrowing' | 'needsBasis'> & {
  readonly isCached: boolean;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
  readonly limits?: TaskCosts | undefined;
};

/** So many packages are given to a thread at once: fewer cost time to give, and more keep others waiting for the last ones. */
const BATCH = 8;
/** So many batches for each thread may wait for one that takes long. */
const AHEAD = 8;

/** Checks themes, and gives what was found in the order of the targets: see {@link checkEach}. */
export async function checkMany(context: Context, targets: readonly CheckTarget[], how: CheckHow): Promise<CheckedFolder[]> {
  const checked: CheckedFolder[] = [];
  for await (const each of checkEach(context, targets, how)) checked.push(each);
  return checked;
}

/**
 * Checks themes, on several threads when there are many, with a line of progress on a terminal. One that cannot be opened has a finding
 * that says so. Gives each as soon as those before it are done, and begins few that nobody has taken: memory holds a bounded number.
 */
export async function* checkEach(context: Context, targets: readonly CheckTarget[], how: CheckHow): AsyncGenerator<CheckedFolder> {
  const isOnly = how.isThrowing === true && targets.length === 1;
  const [only] = targets;
  if (isOnly && only?.kind === 'archive') return yield await checkArchive(context, only.path, how);
  const common = await commonOf(
    context,
    how,
    targets.flatMap(({ kind, path }) => (kind === 'failed' ? [] : [kind === 'archive' ? dirname(path) : path])),
  );
  const { limits = PACKAGE_COSTS } = how;
  const pool = CheckPool.worthFor(targets.length, limits, how.jobs);
  const check = pool === undefined ? checkFolders : async (input: FoldersToCheck) => pool.check(input);
  const work = async (batch: readonly CheckTarget[]): Promise<readonly CheckedFolder[]> => {
    const places = batch.filter(({ kind }) => kind !== 'failed');
    const folders = places.map(({ path }) => path);
    const archives = places.flatMap(({ kind, path }) => (kind === 'archive' ? [path] : []));
    const checked = folders.length === 0 ? [] : await check({ ...common, folders, archives });
    return batch.map((target) =>
      target.kind === 'failed' ? failedCheck(target.path, target.error) : (checked[folders.indexOf(target.path)] ?? lost(target)),
    );
  };
  const progress = new Progress(context, targets.length);
  try {
    for await (const batch of inOrder(
      piecesOf(targets, pool === undefined ? 1 : BATCH),
      pool === undefined ? 1 : AHEAD * pool.width,
      work,
    )) {
      progress.clear();
      for (const each of batch) {
        sayLeftBehind(context, context.shown(each.folder), each.leftBehind);
        yield each;
      }
      progress.add(batch.length);
    }
  } finally {
    await pool?.end();
    progress.clear();
  }
}

/** Checks of packages that are made one after another: threads are ahead of whoever makes them. */
export interface ChecksAhead {
  /** The errors of a theme as its package will hold it. @param folder absolute */
  readonly of: (folder: string) => Promise<CheckedFolder | undefined>;
  readonly end: () => Promise<void>;
}

/** Begins the checks of packages; undefined where they are so few that each is checked in its turn. @param folders absolute */
export async function checkPackagesAhead(context: Context, folders: readonly string[], jobs?: number): Promise<ChecksAhead | undefined> {
  const pool = CheckPool.worthFor(folders.length, PACKAGE_COSTS, jobs);
  if (pool === undefined) return undefined;
  const common = await commonOf(context, { purpose: undefined, isCached: false }, folders);
  const checks = new Map<string, Promise<CheckedFolder | undefined>>();
  for (const folder of folders) {
    const check = pool.check({ ...common, folders: [folder], asPacked: true }).then(([only]) => only);
    // Whoever asks for it hears of a failure.
    check.catch(() => undefined);
    checks.set(folder, check);
  }
  return { of: async (folder) => checks.get(folder), end: async () => pool.end() };
}

function lost({ path }: CheckTarget): never {
  throw new Error(`nothing came of the check of ${path}`);
}

async function checkArchive(context: Context, path: string, { purpose, release, needsBasis, preview }: CheckHow): Promise<CheckedFolder> {
  const opened = await openSource(context.shown(path), context);
  const agreed = [...(await agreedRules(context, opened.configuration, opened.folder))];
  const checked = await checkOpened(opened, {
    purpose,
    release,
    currentFolder: context.io.folder,
    agreed,
    copy: context.copy,
    needsBasis,
    preview,
  });
  return { ...checked, leftBehind: [] };
}

/** All that the themes of a check share. @param folders absolute */
export async function commonOf(context: Context, how: CheckHow, folders: readonly string[]): Promise<Omit<FoldersToCheck, 'folders'>> {
  const { platform, shelf } = context.options;
  const agreed = new Set<string>();
  for (const folder of folders) for (const digest of await agreedIn(context, folder)) agreed.add(digest);
  return {
    currentFolder: context.io.folder,
    platform,
    preferred: context.workspacePlatform,
    shelves: shelf,
    agreed: [...agreed],
    copy: context.copy,
    platformFolder: userPlatformFolder(context.io.env),
    purpose: how.purpose,
    release: how.release,
    preview: how.preview,
    isThrowing: how.isThrowing,
    needsBasis: how.needsBasis ?? false,
    run: randomUUID(),
    cache: how.isCached ? { folder: checkCacheFolder(context.io.env), build: buildOf(context.version) } : undefined,
  };
}

/** The rules that may be run on a theme; none where its configuration is wrong, which its check then says. */
async function agreedIn(context: Context, folder: string): Promise<ReadonlySet<string>> {
  let configuration: Configuration;
  try {
    configuration = findConfiguration(folder);
  } catch (error) {
    if (error instanceof PioneroError) return new Set();
    throw error;
  }
  return agreedRules(context, configuration, folder);
}
