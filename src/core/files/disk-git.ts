import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ConfigurationError, UsageError } from '../errors.ts';
import { MemoryTree, type MemoryItem } from './memory-tree.ts';

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

/** Where a folder is in a Git repository. */
export interface RepositoryPlace {
  /** The repository’s folder; absolute. */
  readonly root: string;
  /** The folder, from there; '' for the repository’s own. */
  readonly place: string;
}

/** @throws UsageError when the folder is in no repository, or there is no git */
export function repositoryOf(folder: string): RepositoryPlace {
  const root = git(folder, ['rev-parse', '--show-toplevel'], `${folder} is in no Git repository`).trim();
  const place = git(folder, ['rev-parse', '--show-prefix']).trim().replace(/\/$/, '');
  return { root, place };
}

/** The tags of a repository, newest first. @throws UsageError when Git cannot tell */
export function tagsOf(root: string): string[] {
  return git(root, ['tag', '--list', '--sort=-creatordate'])
    .split('\n')
    .filter((tag) => tag !== '');
}

/**
 * The files below a place as they were at a revision, in memory. Links are links.
 * @throws UsageError when Git knows no such revision
 */
export function treeOfCommit(root: string, revision: string, place: string): MemoryTree {
  const listed = git(root, ['ls-tree', '-r', '-z', '--full-tree', `${revision}^{commit}`, ...(place === '' ? [] : ['--', place])]);
  const files = listed.split('\0').flatMap((line) => {
    const [, mode = '', hash = '', path = ''] = /^(\d+) blob ([0-9a-f]+)\t([^]*)$/.exec(line) ?? [];
    return path === '' ? [] : [{ mode, hash, path: place === '' ? path : path.slice(place.length + 1) }];
  });
  const contents = readObjects(
    root,
    files.map(({ hash }) => hash),
  );
  return new MemoryTree(
    files.map(({ mode, path }, i): MemoryItem => {
      const bytes = contents[i] ?? Buffer.alloc(0);
      if (mode === '120000') return { kind: 'link', path, target: bytes.toString('utf8') };
      return { kind: 'file', path, content: { bytes }, size: bytes.length, mode: mode === '100755' ? 0o755 : 0o644 };
    }),
  );
}

/** So many commits of a file are looked through. */
const MOST_COMMITS = 2000;

/** What a file held in each commit that changed it, the newest first. @throws UsageError when Git cannot tell */
export function contentsInHistory(root: string, path: string): { readonly commit: string; readonly bytes: Buffer }[] {
  const log = git(root, ['log', '--all', `--max-count=${MOST_COMMITS}`, '--format=%H', '--', path]);
  const commits = log.split('\n').filter((commit) => commit !== '');
  const contents = /[\n\r]/.test(path)
    ? []
    : readObjects(
        root,
        commits.map((commit) => `${commit}:${path}`),
      );
  return commits.flatMap((commit, i) => {
    const bytes = contents[i];
    return bytes === undefined ? [] : [{ commit, bytes }];
  });
}

/** What is in objects of a repository, in their order (git-cat-file(1), batch output); undefined for one that is not there. */
function readObjects(root: string, names: readonly string[]): (Buffer | undefined)[] {
  if (names.length === 0) return [];
  const { stdout, status } = spawnSync('git', [...HARMLESS, 'cat-file', '--batch'], {
    cwd: root,
    input: `${names.join('\n')}\n`,
    maxBuffer: 1 << 30,
    env: { ...process.env, GIT_OPTIONAL_LOCKS: '0' },
  });
  if (status !== 0) throw new UsageError({ what: 'git cat-file failed', hint: 'look at the repository with git fsck' });
  let at = 0;
  return names.map(() => {
    const end = stdout.indexOf('\n', at);
    const size = Number(/ blob (\d+)$/.exec(stdout.toString('latin1', at, end))?.[1] ?? NaN);
    if (Number.isNaN(size)) {
      at = end + 1;
      return undefined;
    }
    const bytes = stdout.subarray(end + 1, end + 1 + size);
    at = end + 1 + size + 1;
    return bytes;
  });
}

/** A repository's own settings name programs that Git runs; none of them is needed here. */
const HARMLESS = [
  ...['-c', 'core.fsmonitor=false', '-c', 'core.hooksPath=/dev/null', '-c', 'diff.external='],
  // Signatures are checked by a program, and what is missing is fetched by one.
  ...['-c', 'log.showSignature=false', '-c', 'protocol.allow=never'],
];

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
