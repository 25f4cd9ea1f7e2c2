import { lstatSync, statSync, watch, type FSWatcher } from 'node:fs';
import { join } from 'node:path';
import { subfoldersOf } from '../core/files/disk.ts';
import { isWithin } from '../core/files/paths.ts';

/** Deeper than this nobody keeps a theme's files. */
const MAX_DEPTH = 24;

/**
 * Reports every change below folders. Folders are watched and never single files: an editor that writes a new file and
 * renames it over the old one leaves whoever watches the old one deaf.
 */
export class FolderWatcher {
  readonly #watched = new Map<string, { readonly watcher: FSWatcher; readonly inode: number; readonly isWhole: boolean }>();
  readonly #tell: (path: string) => void;

  /** @param tell is given the absolute path of what changed, came or went */
  constructor(tell: (path: string) => void) {
    this.#tell = tell;
  }

  /** Watches a folder, by its absolute path; `isWhole`: with all that is below it. Twice is as good as once. */
  add(folder: string, isWhole: boolean, depth = 0): void {
    const inode = inodeOf(folder);
    const known = this.#watched.get(folder);
    if (inode === undefined) return;
    if (known?.inode !== inode || (isWhole && !known.isWhole)) {
      known?.watcher.close();
      const watcher = watch(folder, (_event, name) => this.#onEvent(folder, name));
      // The folder above reports when a watched folder goes away.
      watcher.on('error', () => this.#forget(folder));
      this.#watched.set(folder, { watcher, inode, isWhole });
    }
    if (!isWhole || depth >= MAX_DEPTH) return;
    // A link leads out of the theme, in a circle, or to what is watched anyway.
    for (const name of subfoldersOf(folder)) if (isFolderItself(join(folder, name))) this.add(join(folder, name), true, depth + 1);
  }

  close(): void {
    for (const { watcher } of this.#watched.values()) watcher.close();
    this.#watched.clear();
  }

  #onEvent(folder: string, name: string | null): void {
    const path = name === null ? folder : join(folder, name);
    const isWhole = this.#watched.get(folder)?.isWhole === true;
    const inode = inodeOf(path);
    if (inode === undefined) this.#forget(path);
    // A folder that is new, or took the place of another one, is watched from now on.
    else if (this.#watched.has(path) || (isWhole && isFolderItself(path)))
      this.add(path, isWhole || this.#watched.get(path)?.isWhole === true);
    this.#tell(path);
  }

  #forget(folder: string): void {
    for (const [path, { watcher }] of this.#watched) {
      if (!isWithin(path, folder)) continue;
      watcher.close();
      this.#watched.delete(path);
    }
  }
}

/** Whether a path is a folder, and no link to one. */
function isFolderItself(path: string): boolean {
  return lstatSync(path, { throwIfNoEntry: false })?.isDirectory() === true;
}

/** The number of a folder in its file system; undefined when there is none. */
function inodeOf(path: string): number | undefined {
  const stat = statSync(path, { throwIfNoEntry: false });
  return stat?.isDirectory() === true ? stat.ino : undefined;
}
