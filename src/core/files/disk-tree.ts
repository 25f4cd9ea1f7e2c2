import { closeSync, lstatSync, openSync, readFileSync, readlinkSync, readSync, statSync, type Stats } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { systemCode, systemReason } from '../errors.ts';
import { isWritten, namesOnDisk } from './disk-names.ts';
import {
  compareEntries,
  followLinks,
  HEAD_BYTES,
  UnreadableFileError,
  type DiskOrigin,
  type FileEntry,
  type FileTree,
} from './file-tree.ts';
import { withSlashes } from './paths.ts';

/** Folders that belong to a developer's tools, not to the theme: never listed, copied or packed. */
export const TOOL_FOLDERS: ReadonlySet<string> = new Set(['.git', '.hg', '.svn', 'node_modules']);

/**
 * Whether a name is one that we give to what is there only while a change is made. A run that was killed may have left it:
 * it is not part of a theme.
 */
export function isOurTemporary(name: string): boolean {
  return /^\.pionero-[0-9a-f]{12}$|^\.pionero-\d{15}-[0-9a-f]{8}(?:-old)?$/.test(name);
}

/** The entries that a walk over a folder found. */
interface Listing {
  readonly entries: readonly FileEntry[];
  readonly byPath: ReadonlyMap<string, FileEntry>;
  /** Where an entry lies that the disk writes otherwise, by its path. */
  readonly onDisk: ReadonlyMap<string, string>;
  readonly skipped: DiskOrigin['skipped'];
  readonly unlisted: DiskOrigin['unlisted'];
  readonly special: DiskOrigin['special'];
}

/**
 * A folder on disk as a file tree. The listing is taken once, when it is first asked for: whoever wants only a manifest
 * of each of a thousand themes pays for no walk. Bytes are read when asked for.
 */
export class DiskTree implements FileTree, DiskOrigin {
  readonly root: string;
  readonly openedAt = Date.now();
  #listing: Listing | undefined;
  readonly #asked = new Map<string, FileEntry | undefined>();
  readonly #platform: NodeJS.Platform;
  /** The only file of the folder that is in the tree, where it is not the whole folder. */
  readonly #only: string | undefined;

  constructor(root: string, platform: NodeJS.Platform = process.platform, only?: string) {
    this.root = root;
    this.#platform = platform;
    this.#only = only;
  }

  /** A tree with one file in it, by its absolute path, and nothing that lies beside it. */
  static ofFile(file: string): DiskTree {
    return new DiskTree(dirname(file), process.platform, basename(file));
  }

  get disk(): DiskOrigin {
    return this;
  }

  get entries(): readonly FileEntry[] {
    return this.#listed().entries;
  }

  get skipped(): readonly string[] {
    return this.#listed().skipped;
  }

  get unlisted(): DiskOrigin['unlisted'] {
    return this.#listed().unlisted;
  }

  get special(): readonly string[] {
    return this.#listed().special;
  }

  get(path: string): FileEntry | undefined {
    if (this.#only !== undefined) return this.#listed().byPath.get(path);
    if (this.#listing !== undefined) return this.#listing.byPath.get(path);
    // Under which of two forms a letter with its mark lies there, only a listing tells.
    if (this.#platform === 'darwin' && NOT_ASCII.test(path)) return this.#listed().byPath.get(path);
    if (!this.#asked.has(path)) this.#asked.set(path, lookUp(this.root, path, this.#platform));
    return this.#asked.get(path);
  }

  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer {
    const { full, entry } = this.#fileAt(path);
    try {
      return isEnough === undefined || entry.size <= HEAD_BYTES ? readFileSync(full) : readInParts(full, isEnough);
    } catch (error) {
      throw new UnreadableFileError(path, systemReason(error), error);
    }
  }

  *parts(path: string): Generator<Buffer> {
    const { full, entry } = this.#fileAt(path);
    if (entry.size <= PART_BYTES) {
      yield this.read(path);
      return;
    }
    let file: number | undefined;
    try {
      file = openSync(full, 'r');
      for (;;) {
        const part = Buffer.allocUnsafe(PART_BYTES);
        const length = readSync(file, part, 0, PART_BYTES, null);
        if (length === 0) return;
        yield part.subarray(0, length);
      }
    } catch (error) {
      throw systemCode(error) === undefined ? error : new UnreadableFileError(path, systemReason(error), error);
    } finally {
      if (file !== undefined) closeSync(file);
    }
  }

  tail(path: string, length: number): Buffer {
    const { full, entry } = this.#fileAt(path);
    try {
      return readEnd(full, entry.size, length);
    } catch (error) {
      throw new UnreadableFileError(path, systemReason(error), error);
    }
  }

  changes(): string[] {
    if (this.#listing === undefined) return [];
    const now = this.#walk();
    const paths = new Set([...this.#listing.byPath.keys(), ...now.byPath.keys()]);
    return [...paths].filter((path) => !isSameEntry(this.#listing?.byPath.get(path), now.byPath.get(path))).sort();
  }

  diskPath(path: string): string {
    return join(this.root, this.#listing?.onDisk.get(path) ?? path);
  }

  #fileAt(path: string): { full: string; entry: FileEntry } {
    const entry = followLinks(this, path);
    if (entry?.kind !== 'file') throw new UnreadableFileError(path, 'no such file');
    return { full: this.diskPath(entry.path), entry };
  }

  #listed(): Listing {
    return (this.#listing ??= this.#walk());
  }

  #walk(): Listing {
    return this.#only === undefined ? walk(this.root, this.#platform) : listOne(this.root, this.#only, this.#platform);
  }
}

// eslint-disable-next-line no-control-regex
const NOT_ASCII = /[^\u0000-\u007f]/;

/** As many bytes as {@link DiskTree.parts} has in memory at a time. */
const PART_BYTES = 1 << 20;

/** Where heads are read to, one after the other: memory that was never touched before is dear. */
const headBuffer = Buffer.alloc(HEAD_BYTES);

/** Most bytes of a theme are in its pictures, of which only the heads are looked at. */
function readInParts(path: string, isEnough: (head: Buffer) => boolean): Buffer {
  const file = openSync(path, 'r');
  try {
    // At a given position, so that the file is read from its beginning afterward.
    const length = readSync(file, headBuffer, 0, HEAD_BYTES, 0);
    return length === HEAD_BYTES && isEnough(headBuffer) ? Buffer.from(headBuffer) : readFileSync(file);
  } finally {
    closeSync(file);
  }
}

function readEnd(path: string, size: number, length: number): Buffer {
  const file = openSync(path, 'r');
  try {
    const bytes = Buffer.alloc(Math.min(size, length));
    return bytes.subarray(0, readSync(file, bytes, 0, bytes.length, size - bytes.length));
  } finally {
    closeSync(file);
  }
}

function listOne(root: string, path: string, platform: NodeJS.Platform): Listing {
  // As a theme's folder may be, it can be a link.
  const stat = isWritten(root, path, platform) ? statFollowed(join(root, path)) : undefined;
  const entry: FileEntry | undefined =
    stat?.isFile() === true ? { path, kind: 'file', size: stat.size, mode: stat.mode & 0o777, mtimeMs: stat.mtimeMs } : undefined;
  const byPath = new Map(entry === undefined ? [] : [[path, entry]]);
  return { entries: [...byPath.values()], byPath, onDisk: new Map(), skipped: [], unlisted: [], special: [] };
}

function walk(root: string, platform: NodeJS.Platform): Listing {
  const byPath = new Map<string, FileEntry>();
  const onDisk = new Map<string, string>();
  const skipped: string[] = [];
  const unlisted: { path: string; reason: string }[] = [];
  const special: string[] = [];
  const folders = [''];
  for (let folder = folders.pop(); folder !== undefined; folder = folders.pop()) {
    const folderOnDisk = onDisk.get(folder) ?? folder;
    for (const { name, onDisk: written } of listNames(root, folderOnDisk, platform, unlisted)) {
      const path = folder === '' ? name : `${folder}/${name}`;
      const there = folderOnDisk === '' ? written : `${folderOnDisk}/${written}`;
      if (there !== path) onDisk.set(path, there);
      if (isOurTemporary(name)) continue;
      if (TOOL_FOLDERS.has(name)) {
        skipped.push(path);
        continue;
      }
      const entry = describe(root, path, there);
      if (entry === undefined) {
        special.push(path);
        continue;
      }
      byPath.set(path, entry);
      if (entry.kind === 'folder') folders.push(path);
    }
  }
  return { entries: [...byPath.values()].sort(compareEntries), byPath, onDisk, skipped: skipped.sort(), unlisted, special };
}

/** One path without a walk; a path through a link or a tool folder is not an entry of the tree. */
function lookUp(root: string, path: string, platform: NodeJS.Platform): FileEntry | undefined {
  const parts = path.split('/');
  if (parts.some((part) => part === '' || part === '..' || TOOL_FOLDERS.has(part))) return undefined;
  for (let length = 1; length < parts.length; length++) {
    if (describe(root, parts.slice(0, length).join('/'))?.kind !== 'folder') return undefined;
  }
  const entry = describe(root, path);
  return entry === undefined || isWritten(root, path, platform) ? entry : undefined;
}

/** Folders change their times for many reasons, so only what they are counts. */
function isSameEntry(a: FileEntry | undefined, b: FileEntry | undefined): boolean {
  if (a === undefined || b === undefined || a.kind !== b.kind) return false;
  if (a.kind === 'link') return a.target === b.target;
  return a.kind === 'folder' || (a.size === b.size && a.mtimeMs === b.mtimeMs);
}

function listNames(
  root: string,
  folder: string,
  platform: NodeJS.Platform,
  unlisted: { path: string; reason: string }[],
): { name: string; onDisk: string }[] {
  try {
    return namesOnDisk(join(root, folder), platform);
  } catch (error) {
    unlisted.push({ path: folder, reason: systemReason(error) });
    return [];
  }
}

function describe(root: string, path: string, onDisk = path): FileEntry | undefined {
  // Not joined: there is nothing to put right in the path of an entry, and a walk asks for many.
  const full = `${root}/${onDisk}`;
  const stat = statIfThere(full);
  if (stat === undefined) return undefined;
  const { mtimeMs } = stat;
  const mode = stat.mode & 0o777;
  if (stat.isFile()) return { path, kind: 'file', size: stat.size, mode, mtimeMs };
  if (stat.isDirectory()) return { path, kind: 'folder', size: 0, mode, mtimeMs };
  if (stat.isSymbolicLink()) return { path, kind: 'link', size: 0, mode: 0o777, mtimeMs, target: withSlashes(readlinkSync(full)) };
  return undefined;
}

function statFollowed(path: string): Stats | undefined {
  try {
    return statSync(path, { throwIfNoEntry: false });
  } catch {
    return undefined;
  }
}

/** A part of the path that is no folder, or may not be entered, means that there is nothing at its end. */
function statIfThere(path: string): Stats | undefined {
  try {
    return lstatSync(path, { throwIfNoEntry: false });
  } catch {
    return undefined;
  }
}
