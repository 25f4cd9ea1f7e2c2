import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ConfigurationError, UsageError } from '../errors.ts';

/** What differs between a commit and the files as they are now. Paths are absolute. */
export interface Changes {
  /** The repository's folder. */
  readonly root: string;
  readonly commit: string;
  /** Files that changed, came or went; those that Git does not know and does not ignore are among them. */
  readonly paths: readonly string[];
}

/**
 * Asks the git program what changed since a revision.
 * @param folder a folder of the repository; absolute
 * @throws UsageError when there is no such revision, no repository, or no git
 */
export function changesSince(folder: string, revision: string): Changes {
  const root = git(folder, ['rev-parse', '--show-toplevel'], `${folder} is in no Git repository`).trim();
  const asked = ['rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`];
  const commit = git(folder, asked, `Git knows no revision “${revision}”`).trim();
  const changed = git(root, ['diff', '--name-only', '--no-renames', '--no-ext-diff', '--no-textconv', '-z', commit, '--']);
  const untracked = git(root, ['ls-files', '--others', '--exclude-standard', '-z']);
  const paths = [...changed.split('\0'), ...untracked.split('\0')].filter((path) => path !== '');
  return { root, commit, paths: [...new Set(paths)].map((path) => join(root, path)) };
}

/**
 * Lets work be done on the files of a commit, in a temporary folder that is removed afterwards.
 * @param places paths from the repository's folder; '' for all of it
 */
export async function withCommit<T>(
  { root, commit }: Changes,
  places: readonly string[],
  work: (folder: string) => Promise<T>,
): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-since-'));
  try {
    const index = { GIT_INDEX_FILE: join(folder, '.index') };
    git(root, ['read-tree', commit], undefined, { env: index });
    const files = git(root, ['ls-files', '-z', '--', ...places.map((place) => (place === '' ? '.' : place))], undefined, { env: index });
    git(root, ['checkout-index', '-f', '-q', '-z', '--stdin', `--prefix=${join(folder, 'files')}/`], undefined, {
      env: index,
      input: files,
    });
    return await work(join(folder, 'files'));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A repository's own settings name programs that Git runs; none of them is needed here. */
const HARMLESS = ['-c', 'core.fsmonitor=false', '-c', 'core.hooksPath=/dev/null', '-c', 'diff.external='];

function git(
  folder: string,
  args: readonly string[],
  problem = `git ${args[0]} failed`,
  { env, input }: { readonly env?: Readonly<Record<string, string>>; readonly input?: string } = {},
): string {
  const { status, stdout, stderr, error } = spawnSync('git', [...HARMLESS, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, GIT_OPTIONAL_LOCKS: '0', ...env },
    ...(input === undefined ? {} : { input }),
  });
  if (error !== undefined)
    throw new ConfigurationError({ what: 'the git program cannot be started', why: error.message, hint: 'install Git', cause: error });
  if (status !== 0)
    throw new UsageError({ what: problem, why: stderr.trim().split('\n')[0] || undefined, hint: 'name a commit, a branch or a tag' });
  return stdout;
}
