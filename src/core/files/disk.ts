import { existsSync, lstatSync, readdirSync, readlinkSync, realpathSync, statSync, type Dirent, type Stats } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';
import { ConfigurationError, PioneroError, systemCode, systemReason } from '../errors.ts';
import { readRange, withFile, type OpenFile } from './disk-file.ts';
import { isWritten, namesIn, tellsNamesApart } from './disk-names.ts';
import { TOOL_FOLDERS } from './disk-tree.ts';
import { compareText } from './file-tree.ts';
import { foldedPath } from './portable-names.ts';
import { withSlashes } from './paths.ts';

/** The kind of entry at a path on disk, links followed. */
export function kindOnDisk(path: string): 'file' | 'folder' | 'other' | undefined {
  const stat = statOrNothing(path);
  if (stat === undefined) return undefined;
  return stat.isFile() ? 'file' : stat.isDirectory() ? 'folder' : 'other';
}

/** Whether what lies at a path was written, moved or changed in its rights since a time, in milliseconds since 1970; also when it is gone. */
export function wasChangedSince(path: string, time: number): boolean {
  const stat = lstatSync(path, { throwIfNoEntry: false });
  return stat === undefined || stat.ctimeMs >= time;
}

/** Below a file, at the end of a circle of links, or under a name that is too long there is nothing. */
function statOrNothing(path: string): Stats | undefined {
  try {
    return statSync(path, { throwIfNoEntry: false });
  } catch (error) {
    if (['ENOTDIR', 'ELOOP', 'ENAMETOOLONG'].includes(systemCode(error) ?? '')) return undefined;
    throw error;
  }
}

/** Where temporary files of the system go. */
export function temporaryFolder(): string {
  return tmpdir();
}

/** Whether two paths lead to the same file or folder: on some systems albar and Albar do. */
export function isSameFolder(a: string, b: string): boolean {
  // Numbers of files have 64 bits on some systems.
  const [left, right] = [a, b].map((path) => statSync(path, { throwIfNoEntry: false, bigint: true }));
  return left !== undefined && right !== undefined && left.dev === right.dev && left.ino === right.ino;
}

/**
 * Whether a path is a folder or lies below it, as the system sees it: links on the way are followed, and the folder may be written in another
 * way (`ALBAR`, `z:`). False for a path that does not exist.
 */
export function isBelowOnDisk(path: string, folder: string): boolean {
  try {
    if (statOrNothing(path) === undefined || statOrNothing(folder) === undefined) return false;
    for (let at = realPlace(path); ; at = dirname(at)) {
      if (isSameFolder(at, folder)) return true;
      if (dirname(at) === at) return false;
    }
  } catch {
    return false;
  }
}

/** Where a symbolic link points, as stored; undefined when the path is not a link. */
export function linkTarget(path: string): string | undefined {
  return lstatSync(path, { throwIfNoEntry: false })?.isSymbolicLink() === true ? withSlashes(readlinkSync(path)) : undefined;
}

/**
 * A path with each name as it is written on the disk, links kept: some systems find `albar` under `ALBAR`, and a letter with its mark under
 * a letter and a mark. A name that is not there stays as it is given.
 * @param path absolute
 */
export function asWritten(path: string): string {
  if (tellsNamesApart()) return path;
  const seen = realPlace(path);
  // No link on the way: then the system has told it.
  if (foldedPath(seen) === foldedPath(path)) return seen;
  const folder = dirname(path);
  if (folder === path) return path;
  const [above, name] = [asWritten(folder), basename(path)];
  return join(above, nameInFolder(above, name));
}

/** Where an argument leads that is given in a folder, with each name as it is written on the disk. */
export function placeOnDisk(currentFolder: string, given: string): string {
  return asWritten(resolve(currentFolder, given));
}

function nameInFolder(folder: string, name: string): string {
  const names = namesIn(folder);
  if (names.includes(name)) return name;
  return names.find((each) => foldedPath(each) === foldedPath(name) && isSameFolder(join(folder, each), join(folder, name))) ?? name;
}

/** A path as the system sees it: links on the way are followed as far as it is there. */
export function realPlace(path: string): string {
  try {
    // The engine's own does not know in which case a name is written on the disk.
    return realpathSync.native(path);
  } catch {
    const parent = dirname(path);
    return parent === path ? path : join(realPlace(parent), basename(path));
  }
}

/** Whether anything lies at the `/` path below a folder, under exactly these names. */
export function existsBelow(folder: string, path: string): boolean {
  return existsSync(join(folder, path)) && isWritten(folder, path);
}

/** Names of the folders in a folder, sorted; none when it is not there or cannot be listed. */
export function subfoldersOf(folder: string): string[] {
  try {
    return readdirSync(folder, { withFileTypes: true })
      .filter(({ name }) => !name.startsWith('.') && !TOOL_FOLDERS.has(name))
      .flatMap((entry) => (isKind(entry, folder, 'folder') ? [entry.name] : []))
      .sort(compareText);
  } catch {
    return [];
  }
}

/** Names of the files in a folder, links to files among them, sorted; none when it is not there or cannot be listed. */
export function filesOf(folder: string): string[] {
  try {
    return readdirSync(folder, { withFileTypes: true })
      .flatMap((entry) => (isKind(entry, folder, 'file') ? [entry.name] : []))
      .sort(compareText);
  } catch {
    return [];
  }
}

/** Whether an entry of a folder is of a kind, links followed. */
function isKind(entry: Dirent, folder: string, kind: 'file' | 'folder'): boolean {
  if (kind === 'file' ? entry.isFile() : entry.isDirectory()) return true;
  return entry.isSymbolicLink() && kindOnDisk(join(folder, entry.name)) === kind;
}

/** None of our files, whether a configuration, a plan, a kit or a report, is larger. */
const MAX_SINGLE_BYTES = 64 * 1024 * 1024;

/**
 * Returns the bytes of a single file that is not part of a theme, or undefined when there is none.
 * @throws ConfigurationError when it is there but cannot be read, is not a file (a pipe, a device), or is far too large
 */
export function readIfThere(path: string): Buffer | undefined {
  return withFileIfThere(path, (file) => {
    if (file.size > MAX_SINGLE_BYTES) throw new ConfigurationError({ what: `${path} is too large`, why: 'it has more than 64 MiB' });
    return readRange(file, 0, file.size);
  });
}

/**
 * The same for a file that is read piece by piece.
 * @throws ConfigurationError when it is there but cannot be read, or is not a file (a pipe, a device)
 */
export function withFileIfThere<T>(path: string, work: (file: OpenFile) => T): T | undefined {
  try {
    // Configurations are looked for in every folder above a theme: to make an error takes longer than to ask.
    if (lstatSync(path, { throwIfNoEntry: false }) === undefined) return undefined;
    return withFile(path, work);
  } catch (error) {
    if (error instanceof PioneroError) throw error;
    const code = systemCode(error);
    if (code === 'ENOENT' || code === 'ENOTDIR') return undefined;
    throw new ConfigurationError({ what: `${path} cannot be read`, why: systemReason(error), cause: error });
  }
}

/** Whether nobody but its owner may read or write a file. */
export function isPrivateOnDisk(path: string): boolean {
  // Where files have no modes, the system keeps a user's folders from others.
  return process.platform === 'win32' || (statSync(path).mode & 0o077) === 0;
}
