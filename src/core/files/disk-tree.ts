import { lstatSync, readdirSync, readFileSync, readlinkSync } from 'node:fs';
import { join } from 'node:path';
import { systemReason } from '../errors.ts';
import { compareEntries, followLinks, UnreadableFileError, type FileEntry, type FileTree } from './file-tree.ts';

/** Folders that belong to a developer's tools, not to the theme: never listed, copied or packed. */
export const TOOL_FOLDERS: ReadonlySet<string> = new Set(['.git', '.hg', '.svn', 'node_modules']);

/** A folder on disk as a file tree. The listing is taken once, when it is made; bytes are read when asked for. */
export class DiskTree implements FileTree {
  readonly root: string;
  readonly entries: readonly FileEntry[];
  /** Paths of tool folders that were left out of the listing. */
  readonly skipped: readonly string[];
  /** Folders that could not be listed, with the system's reason. */
  readonly unlisted: readonly { readonly path: string; readonly reason: string }[];
  readonly #byPath = new Map<string, FileEntry>();

  constructor(root: string) {
    this.root = root;
    const skipped: string[] = [];
    const unlisted: { path: string; reason: string }[] = [];
    const folders = [''];
    for (let folder = folders.pop(); folder !== undefined; folder = folders.pop()) {
      for (const name of listNames(root, folder, unlisted)) {
        const path = folder === '' ? name : `${folder}/${name}`;
        if (TOOL_FOLDERS.has(name)) {
          skipped.push(path);
          continue;
        }
        const entry = describe(root, path);
        if (entry === undefined) continue;
        this.#byPath.set(path, entry);
        if (entry.kind === 'folder') folders.push(path);
      }
    }
    this.entries = [...this.#byPath.values()].sort(compareEntries);
    this.skipped = skipped.sort();
    this.unlisted = unlisted;
  }

  get(path: string): FileEntry | undefined {
    return this.#byPath.get(path);
  }

  read(path: string): Buffer {
    const entry = followLinks(this, path);
    if (entry?.kind !== 'file') throw new UnreadableFileError(path, 'no such file');
    try {
      return readFileSync(join(this.root, entry.path));
    } catch (error) {
      throw new UnreadableFileError(path, systemReason(error), error);
    }
  }

  diskPath(path: string): string {
    return join(this.root, path);
  }
}

function listNames(root: string, folder: string, unlisted: { path: string; reason: string }[]): string[] {
  try {
    return readdirSync(join(root, folder));
  } catch (error) {
    unlisted.push({ path: folder, reason: systemReason(error) });
    return [];
  }
}

/** Sockets, pipes and devices are no part of a theme: they are not listed. */
function describe(root: string, path: string): FileEntry | undefined {
  const full = join(root, path);
  const stat = lstatSync(full, { throwIfNoEntry: false });
  if (stat === undefined) return undefined;
  const mode = stat.mode & 0o777;
  if (stat.isFile()) return { path, kind: 'file', size: stat.size, mode };
  if (stat.isDirectory()) return { path, kind: 'folder', size: 0, mode };
  if (stat.isSymbolicLink()) return { path, kind: 'link', size: 0, mode: 0o777, target: readlinkSync(full) };
  return undefined;
}
