import { Workers } from '../core/parallel/workers.ts';
import {
  checkedOrFailed,
  checkFolders,
  checkOpened,
  failedCheck,
  type CheckedFolder,
  type FoldersToCheck,
} from '../core/rules/engine/check-folders.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { findConfiguration, type Configuration } from '../core/configuration/configuration.ts';
import { PioneroError } from '../core/errors.ts';
import { buildOf } from './build.ts';
import { agreedRules } from './rule-agreement.ts';
import { checkCacheFolder, userPlatformFolder } from './own-folders.ts';
import { openSource } from './theme-argument.ts';
import { CHECK_TASKS } from '../core/rules/engine/check-in-thread.ts';

/** What the themes are checked for; and whether what cannot be opened ends the check, and is no finding. */
export type CheckHow = Pick<FoldersToCheck, 'purpose' | 'release' | 'isThrowing'> & {
  readonly isCached: boolean;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
};

/** With fewer themes a worker takes longer to start than it saves. */
const WORTH_A_WORKER = 12;

/**
 * Checks themes, on several threads when there are many, with a line of progress on a terminal. A theme that cannot be opened is reported
 * in its place; the result has the order of the targets.
 */
export async function checkMany(context: Context, targets: readonly CheckTarget[], how: CheckHow): Promise<CheckedFolder[]> {
  const folders = targets.flatMap((target) => (target.kind === 'folder' ? [target.path] : []));
  const checked = new Map((await checkAllFolders(context, folders, how)).map((each) => [each.folder, each]));
  const all: CheckedFolder[] = [];
  for (const target of targets) {
    const known = checked.get(target.path);
    if (known !== undefined) all.push(known);
    else if (target.kind === 'failed') all.push(failedCheck(target.path, target.error));
    else if (how.isThrowing === true) all.push(await checkArchive(context, target.path, how));
    else all.push(await checkedOrFailed(target.path, async () => checkArchive(context, target.path, how)));
  }
  return all;
}

async function checkArchive(context: Context, path: string, { purpose, release }: CheckHow): Promise<CheckedFolder> {
  const opened = await openSource(context.shown(path), context);
  const agreed = [...(await agreedRules(context, opened.configuration, opened.folder))];
  return checkOpened(opened, { purpose, release, currentFolder: context.io.folder, agreed, copy: context.copy });
}

async function checkAllFolders(context: Context, folders: readonly string[], how: CheckHow): Promise<CheckedFolder[]> {
  const common = await commonOf(context, how, folders);
  const here = async (part: readonly string[]): Promise<CheckedFolder[]> =>
    checkFolders({ ...common, folders: part }, (done) => progress(context, done, part.length));
  const workers = Workers.worthFor(CHECK_TASKS, folders.length, WORTH_A_WORKER, how.jobs);
  try {
    if (workers === undefined) return await here(folders);
    return await workers.share(
      folders,
      () => 1,
      async (part) => workers.run(CHECK_TASKS, 'check', { ...common, folders: part }),
      here,
    );
  } finally {
    await workers?.end();
    clear(context);
  }
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
    isThrowing: how.isThrowing,
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

function progress({ io, isMachine }: Context, done: number, of: number): void {
  if (io.isInteractive && io.hasControls && !isMachine) io.stderr.write(`\rchecking … ${Math.floor((100 * done) / of)} %`);
}

function clear({ io, isMachine }: Context): void {
  if (io.isInteractive && io.hasControls && !isMachine) io.stderr.write('\r\u001b[K');
}
