import { lstatSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { randomUUID } from 'node:crypto';

/** The bytes that all entries together may take; beyond it the oldest half is dropped. */
const MAX_BYTES = 1 << 30;
/** Entries lie in as many folders as two hexadecimal digits tell apart, each with its part of the room. */
const FOLDERS = 256;

/**
 * Texts kept on disk under their keys, to be had again in a later run, on any machine that has the folder: an entry is written whole or not
 * at all, and nobody waits for a lock. It can be deleted at any time: an entry that cannot be read or written counts as missing, silently.
 */
export class DiskCache {
  readonly #folder: string;
  readonly #maxBytes: number;
  /** The folders of entries that were looked through for room. */
  readonly #pruned = new Set<string>();

  /** @param folder absolute; made when something is first kept */
  constructor(folder: string, maxBytes = MAX_BYTES) {
    this.#folder = folder;
    this.#maxBytes = maxBytes;
  }

  /** @param key a SHA-256, in hexadecimal */
  find(key: string): string | undefined {
    try {
      return readFileSync(this.#path(key), 'utf8');
    } catch {
      return undefined;
    }
  }

  keep(key: string, text: string): void {
    const path = this.#path(key);
    const temporary = `${path}.${randomUUID()}`;
    try {
      mkdirSync(join(path, '..'), { recursive: true });
      writeFileSync(temporary, text);
      // Whole or not at all: another run may read it meanwhile.
      renameSync(temporary, path);
    } catch {
      return;
    }
    this.#prune(dirname(path));
  }

  #path(key: string): string {
    return join(this.#folder, key.slice(0, 2), key);
  }

  /** How many entries there are, and their bytes together. */
  size(): { readonly entries: number; readonly bytes: number } {
    const all = foldersIn(this.#folder).flatMap((folder) => entriesIn(folder));
    return { entries: all.length, bytes: all.reduce((sum, { bytes }) => sum + bytes, 0) };
  }

  /** Drops all entries, and nothing else that lies there. @returns how many, and how many the system did not let go */
  clear(): { readonly dropped: number; readonly left: number } {
    const all = foldersIn(this.#folder).flatMap((folder) => entriesIn(folder));
    const dropped = all.filter(({ path }) => isDropped(path)).length;
    return { dropped, left: all.length - dropped };
  }

  /** Once a run for each folder: another run that prunes at the same time does no harm. */
  #prune(folder: string): void {
    if (this.#pruned.has(folder)) return;
    this.#pruned.add(folder);
    const all = entriesIn(folder).sort((a, b) => a.time - b.time);
    const bytes = all.reduce((sum, each) => sum + each.bytes, 0);
    if (bytes <= this.#maxBytes / FOLDERS) return;
    for (const { path } of all.slice(0, Math.floor(all.length / 2))) isDropped(path);
  }
}

interface CacheEntry {
  readonly path: string;
  readonly bytes: number;
  readonly time: number;
}

/** The folders of entries; a link may lead to files of someone else. */
function foldersIn(folder: string): string[] {
  return namesIn(folder)
    .filter((name) => /^[0-9a-f]{2}$/.test(name))
    .map((name) => join(folder, name))
    .filter((path) => lstatSync(path, { throwIfNoEntry: false })?.isDirectory() === true);
}

/** An entry is called by its key; one that a killed run left half written has more behind it. */
const ENTRY = /^[0-9a-f]{64}(?:\.[0-9a-f-]{36})?$/;

function entriesIn(folder: string): CacheEntry[] {
  return namesIn(folder).flatMap((name) => {
    const path = join(folder, name);
    const stat = ENTRY.test(name) ? lstatSync(path, { throwIfNoEntry: false }) : undefined;
    return stat?.isFile() === true ? [{ path, bytes: stat.size, time: stat.mtimeMs }] : [];
  });
}

/** Whether an entry is gone: another run may have been faster. */
function isDropped(path: string): boolean {
  try {
    rmSync(path, { force: true });
    return true;
  } catch {
    return false;
  }
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}
