import { existsSync, lstatSync, readdirSync, readFileSync, readlinkSync, statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { ConfigurationError, systemCode, systemReason } from '../errors.ts';
import { TOOL_FOLDERS } from './disk-tree.ts';
import { compareText } from './file-tree.ts';

/** What lies at a path on disk, links followed. */
export function kindOnDisk(path: string): 'file' | 'folder' | 'other' | undefined {
  const stat = statSync(path, { throwIfNoEntry: false });
  if (stat === undefined) return undefined;
  return stat.isFile() ? 'file' : stat.isDirectory() ? 'folder' : 'other';
}

/** Whether two paths lead to the same folder: on some systems albar and Albar do. */
export function isSameFolder(a: string, b: string): boolean {
  const [left, right] = [a, b].map((path) => statSync(path, { throwIfNoEntry: false }));
  return left !== undefined && right !== undefined && left.dev === right.dev && left.ino === right.ino;
}

/** Where a symbolic link points, as stored; undefined when the path is none. */
export function linkTarget(path: string): string | undefined {
  return lstatSync(path, { throwIfNoEntry: false })?.isSymbolicLink() === true ? readlinkSync(path) : undefined;
}

/** Whether anything lies at the path below a folder. */
export function existsBelow(folder: string, path: string): boolean {
  return existsSync(join(folder, path));
}

/** Names of the folders in a folder, sorted; none when it is not there or cannot be listed. */
export function subfoldersOf(folder: string): string[] {
  try {
    return readdirSync(folder)
      .filter((name) => !name.startsWith('.') && !TOOL_FOLDERS.has(name) && kindOnDisk(join(folder, name)) === 'folder')
      .sort(compareText);
  } catch {
    return [];
  }
}

/** Names of the files in a folder, sorted; none when it is not there or cannot be listed. */
export function filesOf(folder: string): string[] {
  try {
    return readdirSync(folder, { withFileTypes: true })
      .flatMap((entry) => (entry.isFile() ? [entry.name] : []))
      .sort(compareText);
  } catch {
    return [];
  }
}

/**
 * Returns the bytes of a single file that is not part of a theme, or undefined when there is none.
 * @throws ConfigurationError when it is there but cannot be read
 */
export function readIfThere(path: string): Buffer | undefined {
  try {
    return readFileSync(path);
  } catch (error) {
    const code = systemCode(error);
    if (code === 'ENOENT' || code === 'ENOTDIR') return undefined;
    throw new ConfigurationError({ what: `${path} cannot be read`, why: systemReason(error), cause: error });
  }
}

/** A path as people would type it: relative when it lies below the current folder. */
export function displayPath(path: string): string {
  const local = relative(resolve('.'), path);
  return local === '' ? '.' : local.startsWith('..') ? path : local;
}
