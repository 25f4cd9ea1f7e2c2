/** An entry of a file tree at a path. Paths are relative to the tree's root, with `/`, never starting with it. */
export interface FileEntry {
  readonly path: string;
  readonly kind: 'file' | 'folder' | 'link';
  /** Bytes; 0 for folders and links. */
  readonly size: number;
  /** Permission bits, as in POSIX `st_mode & 0o777`. */
  readonly mode: number;
  /** When it was changed last, in milliseconds since 1970; undefined where that is not known. */
  readonly mtimeMs?: number | undefined;
  /** For a link: where it points, as stored. */
  readonly target?: string | undefined;
}

/** A folder on disk that a tree was listed from, and what lies there besides the entries. Paths are as in {@link FileEntry}. */
export interface DiskOrigin {
  /** Absolute. */
  readonly root: string;
  /** When it was opened, in milliseconds since 1970: what is read is no older. */
  readonly openedAt: number;
  /** Folders of tools, which do not belong to a theme. */
  readonly skipped: readonly string[];
  /** Folders that could not be listed, with the system's reason. */
  readonly unlisted: readonly { readonly path: string; readonly reason: string }[];
  /** Sockets, pipes and devices: no part of a theme, and not listed. */
  readonly special: readonly string[];
  /** Paths that changed, came or went since the listing was taken; none when it was not. Sorted. */
  changes(): string[];
}

/**
 * Files in one place: on disk, in memory, or in an archive. Rules, rename and package use only this interface and do
 * not know which. Entries are sorted by path (by code unit), so nothing depends on the file system's order.
 */
export interface FileTree {
  readonly entries: readonly FileEntry[];
  /** Where the tree lies on disk; undefined when it is in memory or an archive, or only a part of what lies there. */
  readonly disk?: DiskOrigin | undefined;
  /** The tree that this one lists only a part of: guesses at what was meant look at all of it. */
  readonly whole?: FileTree | undefined;
  get(path: string): FileEntry | undefined;
  /**
   * Returns a file's bytes; follows links that stay inside the tree.
   * @param isEnough is shown the head of a large file where reading takes time; when the head will do, no more is returned
   * @throws UnreadableFileError when it is not there, is a folder, or the system refuses.
   */
  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer;
  /**
   * A file's bytes in parts, so that memory need not hold them all; follows links that stay inside the tree.
   * @throws UnreadableFileError like {@link FileTree.read}, at the latest with the part that cannot be read
   */
  parts(path: string): Iterable<Buffer>;
  /**
   * The last bytes of a file, all when it has fewer: without reading the rest where that is not in memory.
   * @throws UnreadableFileError like {@link FileTree.read}
   */
  tail(path: string, length: number): Buffer;
  /** Where the file lies on disk, when it does: so that it can be copied without passing through memory. */
  diskPath?(path: string): string | undefined;
}

/** Bytes that are kept somewhere else than in memory. */
export interface StoredBytes {
  /** How many there are. */
  readonly size: number;
  /** The first `length` bytes; all when left out. */
  read(length?: number): Buffer;
  /** All bytes, in parts of at most 1 MiB. */
  parts(): Iterable<Buffer>;
}

/** As much of a large file as tells pictures from texts, and what kind of picture it is. */
export const HEAD_BYTES = 4096;

/** A file of a tree cannot be read. Callers in the core turn it into a finding or let it reach the edge. */
export class UnreadableFileError extends Error {
  readonly path: string;
  constructor(path: string, reason: string, cause?: unknown) {
    super(reason, { cause });
    this.name = 'UnreadableFileError';
    this.path = path;
  }
}

/** Sorts strings by UTF-16 code unit: the same on every machine, whatever its locale. */
export function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

export function compareEntries(a: FileEntry, b: FileEntry): number {
  return compareText(a.path, b.path);
}

/**
 * Joins a `/` path onto a folder of the tree and resolves `.` and `..`.
 * Returns undefined when the result would leave the tree.
 */
export function resolveInTree(folder: string, path: string): string | undefined {
  const parts: string[] = folder === '' ? [] : folder.split('/');
  for (const part of path.split('/')) {
    if (part === '' || part === '.') continue;
    if (part !== '..') parts.push(part);
    else if (parts.pop() === undefined) return undefined;
  }
  return parts.join('/');
}

/** A `/` path from a folder that holds it, '' for the folder itself; undefined when it lies elsewhere. */
export function pathBelow(folder: string, path: string): string | undefined {
  if (path === folder) return '';
  return isInFolder(path, folder) ? path.slice(folder.length + 1) : undefined;
}

/** A `/` path whose last part has no ending: `js/menu.js` is `js/menu`, `.menurc` stays. */
export function withoutEnding(path: string): string {
  return path.replace(/(?<=[^/])\.[^./]+$/, '');
}

/** Whether a `/` path lies below a folder, and is not the folder itself. */
export function isInFolder(path: string, folder: string): boolean {
  return path.startsWith(`${folder}/`);
}

/** Whether the target of a link begins at the root of a disk: of this system, or of one with drives. */
export function isRooted(target: string): boolean {
  return /^(?:[A-Za-z]:)?\//.test(target);
}

/** The folder part of a `/` path; '' for a file at the root. */
export function folderOf(path: string): string {
  const slash = path.lastIndexOf('/');
  return slash < 0 ? '' : path.slice(0, slash);
}

/** The last part of a `/` path. */
export function baseOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** Follows links inside the tree; returns the entry they end at, or undefined (broken, circular, or leaving the tree). */
export function followLinks(tree: FileTree, path: string): FileEntry | undefined {
  let entry = tree.get(path);
  for (let hops = 0; entry?.kind === 'link'; hops++) {
    if (hops > 40 || entry.target === undefined || isRooted(entry.target)) return undefined;
    const next = resolveInTree(folderOf(entry.path), entry.target);
    entry = next === undefined ? undefined : tree.get(next);
  }
  return entry;
}
