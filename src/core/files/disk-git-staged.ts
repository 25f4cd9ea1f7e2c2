import { existsSync, lstatSync, mkdirSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { UsageError } from '../errors.ts';
import { blobsOf, git, LINK, readObjects, repositoryOf, writeObject } from './disk-git.ts';

/** The files of the next commit of a repository, in a folder of their own. Paths are absolute. */
export interface StagedFiles {
  /** The repository’s folder. */
  readonly root: string;
  /** The folder in which its files are as they would be committed. */
  readonly copy: string;
  /** The last commit; undefined before the first. */
  readonly commit: string | undefined;
  /** The files, in the copy, that the commit changes, brings or takes out. */
  readonly paths: readonly string[];
}

/** A file as the index has it (git-ls-files(1), `--stage --debug`). */
interface StagedBlob {
  readonly path: string;
  readonly mode: string;
  readonly hash: string;
}

/** Of an entry that only says that a file will be added: no commit holds it (gitformat-index(5), intent-to-add). */
const INTENT_TO_ADD = 0x2000_0000;
const MODULE = '160000';

/**
 * Lets work be done on what the next commit would hold: a temporary copy of the index, which is removed afterward.
 * @param folder a folder of the repository; absolute
 * @throws UsageError when there is no repository, no git, or a merge is not ended
 */
export async function withStaged<T>(folder: string, work: (staged: StagedFiles) => Promise<T>): Promise<T> {
  const { root } = repositoryOf(folder);
  const blobs = stagedBlobs(root);
  const commit = lastCommit(root);
  const before = new Map((commit === undefined ? [] : blobsOf(root, commit, '')).map(({ path, mode, hash }) => [path, `${mode} ${hash}`]));
  const now = new Map(blobs.map(({ path, mode, hash }) => [path, `${mode} ${hash}`]));
  const changed = [...new Set([...before.keys(), ...now.keys()])].filter((path) => before.get(path) !== now.get(path));
  const place = mkdtempSync(join(tmpdir(), 'pionero-staged-'));
  const copy = join(place, 'files');
  try {
    const contents = readObjects(
      root,
      blobs.map(({ hash }) => hash),
    );
    mkdirSync(copy, { recursive: true });
    const written = blobs.map((blob, i) => ({ ...blob, bytes: contents[i] ?? Buffer.alloc(0) }));
    // Links last: nothing is written through one.
    for (const { path, mode, bytes } of written.toSorted((a, b) => Number(a.mode === LINK) - Number(b.mode === LINK)))
      writeObject(join(copy, path), mode, bytes);
    linkPackages(root, copy);
    return await work({ root, copy, commit, paths: changed.map((path) => join(copy, path)) });
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
}

function stagedBlobs(root: string): StagedBlob[] {
  const listed = git(root, ['ls-files', '--stage', '--debug', '-z']);
  const pattern = /(\d{6}) ([0-9a-f]+) (\d)\t([^\0]*)\0(?: *[\w ]+:[^\n]*\n){4} *size: \d+\tflags: ([0-9a-f]+)\n/g;
  return [...listed.matchAll(pattern)].flatMap(([, mode = '', hash = '', stage, path = '', flags = '0']) => {
    if (stage !== '0')
      throw new UsageError({ what: `${path} is in conflict: nothing can be committed`, hint: 'end the merge first, and add the file' });
    const isHeld = mode !== MODULE && (Number.parseInt(flags, 16) & INTENT_TO_ADD) === 0 && !path.split('/').includes('..');
    return isHeld ? [{ path, mode, hash }] : [];
  });
}

function lastCommit(root: string): string | undefined {
  try {
    return git(root, ['rev-parse', '--verify', '--quiet', 'HEAD^{commit}']).trim();
  } catch (error) {
    if (error instanceof UsageError) return undefined;
    throw error;
  }
}

/** Modules of rules load packages, which no repository holds. */
function linkPackages(root: string, copy: string): void {
  const packages = join(root, 'node_modules');
  const place = join(copy, 'node_modules');
  if (existsSync(packages) && lstatSync(place, { throwIfNoEntry: false }) === undefined) symlinkSync(packages, place, 'junction');
}
