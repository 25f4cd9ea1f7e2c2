import { dirname } from 'node:path';
import { checkOpened, type CheckedFolder, type FoldersToCheck } from '../core/rules/engine/check-folders.ts';
import { CHECK_WORK } from '../core/rules/engine/check-in-thread.ts';
import { FolderPool } from '../core/parallel/folder-pool.ts';
import { PACKAGE_COSTS, type TaskCosts } from '../core/parallel/task-pool.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { findConfiguration, type Configuration } from '../core/configuration/configuration.ts';
import { PioneroError } from '../core/errors.ts';
import { buildOf } from './build.ts';
import { agreedRules } from './rule-agreement.ts';
import { commonToOpen, doEach } from './each-target.ts';
import { checkCacheFolder } from './own-folders.ts';
import { openSource, sayLeftBehind } from './theme-argument.ts';

/** The purpose of the check; and whether a theme that cannot be opened ends the check instead of becoming a finding. */
export type CheckHow = Pick<FoldersToCheck, 'purpose' | 'release' | 'preview' | 'isThrowing' | 'needsBasis'> & {
  readonly isCached: boolean;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
  readonly limits?: TaskCosts | undefined;
};

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
  const { limits = PACKAGE_COSTS, jobs } = how;
  const hint = 'allow more with --time-limit, or look at what it holds';
  const work = { ...CHECK_WORK, hint };
  for await (const each of doEach(context, targets, { work, common, limits, jobs })) {
    sayLeftBehind(context, context.shown(each.folder), each.leftBehind);
    yield each;
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
  const pool = FolderPool.worthFor(CHECK_WORK, folders.length, PACKAGE_COSTS, jobs);
  if (pool === undefined) return undefined;
  const common = await commonOf(context, { purpose: undefined, isCached: false }, folders);
  const checks = new Map<string, Promise<CheckedFolder | undefined>>();
  for (const folder of folders) {
    const check = pool.run({ ...common, folders: [folder], asPacked: true }).then(([only]) => only);
    // Whoever asks for it hears of a failure.
    check.catch(() => undefined);
    checks.set(folder, check);
  }
  return { of: async (folder) => checks.get(folder), end: async () => pool.end() };
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
  const agreed = new Set<string>();
  for (const folder of folders) for (const digest of await agreedIn(context, folder)) agreed.add(digest);
  return {
    ...commonToOpen(context),
    agreed: [...agreed],
    copy: context.copy,
    purpose: how.purpose,
    release: how.release,
    preview: how.preview,
    isThrowing: how.isThrowing,
    needsBasis: how.needsBasis ?? false,
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
