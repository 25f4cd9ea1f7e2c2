import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readlinkSync,
  rmSync,
  symlinkSync,
  writeFileSync,
  type BigIntStats,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { ConfigurationError, systemReason, UsageError } from '../errors.ts';
import { findProgram } from './disk-programs.ts';
import { MemoryTree, type MemoryItem } from './memory-tree.ts';

/** What differs between a commit and the files as they are now. Paths are absolute. */
export interface Changes {
  /** The repository's folder. */
  readonly root: string;
  /** The folder that its files lie in: its own, or a copy of what is staged. */
  readonly files: string;
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
  const args = ['rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`];
  const commit = git(folder, args, `Git knows no revision “${revision}”`).trim();
  const then = new Map(blobsOf(root, commit, '').map(({ path, hash }) => [path, hash]));
  const now = new Map(indexOf(root).map((entry) => [entry.path, entry]));
  const touched = new WorkFiles(root, now);
  const paths = [...new Set([...then.keys(), ...now.keys()])].filter((path) => touched.differs(path, then.get(path)));
  const untracked = git(root, ['ls-files', '--others', '--exclude-standard', '-z']).split('\0');
  return { root, files: root, commit, paths: [...paths, ...untracked.filter((path) => path !== '')].map((path) => join(root, path)) };
}

/** A file as the index has it (git-ls-files(1), `--stage --debug`): its object, and how the file looked then. */
interface IndexEntry {
  readonly path: string;
  readonly hash: string;
  readonly size: number;
  /** Nanoseconds since 1970. */
  readonly mtimeNs: bigint;
}

function indexOf(root: string): IndexEntry[] {
  const listed = git(root, ['ls-files', '--stage', '--debug', '-z']);
  const pattern = /\d{6} ([0-9a-f]+) \d\t([^\0]*)\0 *ctime: [\d:]+\n *mtime: (\d+):(\d+)\n[^\n]*\n[^\n]*\n *size: (\d+)[^\n]*\n/g;
  return [...listed.matchAll(pattern)].map(([, hash = '', path = '', seconds = '0', rest = '0', size = '0']) => ({
    path,
    hash,
    size: Number(size),
    mtimeNs: BigInt(seconds) * 1_000_000_000n + BigInt(rest),
  }));
}

/**
 * The files of a work tree, compared with objects by their bytes. Git itself would first have the repository’s filters change them,
 * which are programs that its settings name. A file that looks as it did when it was put into the index has that content.
 */
class WorkFiles {
  readonly #root: string;
  readonly #index: ReadonlyMap<string, IndexEntry>;
  /** A file that was written at that time or later may have been changed again within the same moment (racy-git). */
  readonly #indexed: bigint;

  constructor(root: string, index: ReadonlyMap<string, IndexEntry>) {
    this.#root = root;
    this.#index = index;
    const file = git(root, ['rev-parse', '--git-path', 'index']).trim();
    this.#indexed = lstatSync(resolve(root, file), { bigint: true, throwIfNoEntry: false })?.mtimeNs ?? 0n;
  }

  differs(path: string, hash: string | undefined): boolean {
    const stat = statOf(join(this.#root, path));
    if (stat === undefined || hash === undefined) return (stat === undefined) !== (hash === undefined);
    const entry = this.#index.get(path);
    const isAsIndexed =
      entry !== undefined && BigInt(entry.size) === stat.size && entry.mtimeNs === stat.mtimeNs && stat.mtimeNs < this.#indexed;
    if (isAsIndexed) return entry.hash !== hash;
    if (stat.isDirectory()) return true;
    const bytes = stat.isSymbolicLink() ? Buffer.from(readlinkSync(join(this.#root, path))) : readFileSync(join(this.#root, path));
    if (blobHash(bytes, hash.length) === hash) return false;
    // Git may keep line feeds alone where the system has both (core.autocrlf).
    return (
      !bytes.includes('\r\n') || blobHash(Buffer.from(bytes.toString('latin1').replaceAll('\r\n', '\n'), 'latin1'), hash.length) !== hash
    );
  }
}

function statOf(path: string): BigIntStats | undefined {
  try {
    return lstatSync(path, { bigint: true, throwIfNoEntry: false });
  } catch {
    // A part of the path is no folder by now.
    return undefined;
  }
}

/** The name that Git gives to a file’s content, in hexadecimal of that many digits: SHA-1 has 40, SHA-256 has 64. */
export function blobHash(bytes: Buffer, digits: number): string {
  const hash = createHash(digits === 64 ? 'sha256' : 'sha1');
  return hash.update(`blob ${bytes.length}\0`).update(bytes).digest('hex');
}

/**
 * Lets work be done on the files of a commit, in a temporary folder that is removed afterward.
 * @param places paths from the repository's folder; '' for all of it
 */
export async function withCommit<T>(
  { root, commit }: Pick<Changes, 'root' | 'commit'>,
  places: readonly string[],
  work: (folder: string) => Promise<T>,
): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-since-'));
  try {
    const files = places.includes('') ? blobsOf(root, commit, '') : places.flatMap((place) => blobsOf(root, commit, place));
    const contents = readObjects(
      root,
      files.map(({ hash }) => hash),
    );
    const written = files.map(({ path, mode }, i) => ({
      path: join(folder, 'files', path),
      isLink: mode === LINK,
      mode,
      bytes: contents[i],
    }));
    // Links last: nothing is written through one.
    for (const each of written.toSorted((a, b) => Number(a.isLink) - Number(b.isLink)))
      writeObject(each.path, each.mode, each.bytes ?? Buffer.alloc(0));
    mkdirSync(join(folder, 'files'), { recursive: true });
    return await work(join(folder, 'files'));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The mode of a symbolic link in a tree. */
export const LINK = '120000';

/** Writes one file as an object has it. @param path absolute */
export function writeObject(path: string, mode: string, bytes: Buffer): void {
  mkdirSync(dirname(path), { recursive: true });
  // Places may lie in one another.
  if (statOf(path) !== undefined) return;
  if (mode === LINK) symlinkSync(bytes.toString('utf8'), path);
  else writeFileSync(path, bytes, { mode: mode === '100755' ? 0o755 : 0o644 });
}

/** A file of a commit: its permissions as Git writes them, and the name of its content. */
interface Blob {
  readonly mode: string;
  readonly hash: string;
  /** From the repository’s folder. */
  readonly path: string;
}

/** The files of a revision at or below a place. @throws UsageError when Git knows no such revision */
export function blobsOf(root: string, revision: string, place: string): Blob[] {
  const listed = git(root, ['ls-tree', '-r', '-z', '--full-tree', `${revision}^{commit}`, ...(place === '' ? [] : ['--', place])]);
  return listed.split('\0').flatMap((line) => {
    const [, mode = '', hash = '', path = ''] = /^(\d+) blob ([0-9a-f]+)\t([^]*)$/.exec(line) ?? [];
    return path === '' || path.split('/').includes('..') ? [] : [{ mode, hash, path }];
  });
}

/** The commits that changed something at or below a place, newest first. @throws UsageError when Git cannot tell */
export function commitsOf(root: string, place: string, most: number): string[] {
  const log = git(root, ['log', `--max-count=${most}`, '--format=%H', ...(place === '' ? [] : ['--', place])]);
  return log.split('\n').filter((commit) => commit !== '');
}

/** The answer of a history; undefined where there is no history: no repository, no such revision, or no git on this machine. */
export function ifHistoryTells<T>(ask: () => T): T | undefined {
  try {
    return ask();
  } catch (error) {
    if (error instanceof UsageError || error instanceof ConfigurationError) return undefined;
    throw error;
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
  const files = blobsOf(root, revision, place).map((blob) => ({
    ...blob,
    path: place === '' ? blob.path : blob.path.slice(place.length + 1),
  }));
  const contents = readObjects(
    root,
    files.map(({ hash }) => hash),
  );
  return new MemoryTree(
    files.map(({ mode, path }, i): MemoryItem => {
      const bytes = contents[i] ?? Buffer.alloc(0);
      if (mode === LINK) return { kind: 'link', path, target: bytes.toString('utf8') };
      return { kind: 'file', path, content: { bytes }, size: bytes.length, mode: mode === '100755' ? 0o755 : 0o644 };
    }),
  );
}

/** So many commits of a file are looked through. */
const MOST_COMMITS = 2000;

/** The bytes of a file in each commit that changed it, the newest first. @throws UsageError when Git cannot tell */
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

/** The contents of objects of a repository, in their order (git-cat-file(1), batch output); undefined for one that is not there. */
export function readObjects(root: string, names: readonly string[]): (Buffer | undefined)[] {
  if (names.length === 0) return [];
  const { stdout, status } = spawnSync(gitProgram(), [...HARMLESS, 'cat-file', '--batch'], {
    cwd: root,
    input: `${names.join('\n')}\n`,
    maxBuffer: 1 << 30,
    env: { ...process.env, ...QUIET_ENV },
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

/**
 * A repository's own settings name programs that Git runs; none of them is needed here. Settings that an option cannot overrule, such
 * as filters of files, is not asked for at all: only objects and the index are read.
 */
const HARMLESS = ['-c', 'core.fsmonitor=false', '-c', 'core.hooksPath=/dev/null', '-c', 'log.showSignature=false', '-c', 'core.pager=cat'];

/** No protocol, whatever a repository allows itself (git(1), GIT_ALLOW_PROTOCOL): objects that are missing are not fetched. */
const QUIET_ENV = { GIT_OPTIONAL_LOCKS: '0', GIT_ALLOW_PROTOCOL: 'none', GIT_NO_LAZY_FETCH: '1', GIT_TERMINAL_PROMPT: '0' };

/** The git program; one that is nowhere where there is none, or PIONERO_WITHOUT says so, for tests of machines that have none. */
function gitProgram(): string {
  const isHidden = /(?:^|,)(?:all|git)(?:,|$)/.test(process.env['PIONERO_WITHOUT'] ?? '');
  return (isHidden ? undefined : findProgram('git', { path: process.env['PATH'] ?? '' })) ?? NO_PROGRAM;
}

/** Whether there is a git program. */
export function isGitThere(): boolean {
  return gitProgram() !== NO_PROGRAM;
}

const NO_PROGRAM = '/nonexistent/git';

/** Asks the git program, and gives its answer. @throws UsageError when it refuses, ConfigurationError when it is not there */
export function git(folder: string, args: readonly string[], problem = `git ${args[0]} failed`): string {
  const { status, stdout, stderr, error } = spawnSync(gitProgram(), [...HARMLESS, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, ...QUIET_ENV },
  });
  if (error !== undefined)
    throw new ConfigurationError({
      what: 'the git program cannot be started',
      why: isGitThere() ? systemReason(error) : 'it is in no folder of PATH',
      hint: 'install Git',
      cause: error,
    });
  if (status !== 0)
    throw new UsageError({ what: problem, why: stderr.trim().split('\n')[0] || undefined, hint: 'name a commit, a branch or a tag' });
  return stdout;
}
