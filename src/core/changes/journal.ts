import { promises as fs } from 'node:fs';
import { join } from 'node:path';
import { randomBytes } from 'node:crypto';
import { makeFolders } from './disk-writer.ts';
import type { CarriedFolder } from './plan.ts';
import { compareText } from '../files/file-tree.ts';

/** How a file looked, so that a later change of it by somebody else is noticed. Times in milliseconds. */
export interface FileStamp {
  readonly path: string;
  readonly kind: 'file' | 'folder' | 'link';
  readonly size: number;
  readonly mtimeMs: number;
}

/** What was done to one file of an existing folder, and where its earlier bytes are kept. */
export interface JournaledEdit {
  readonly path: string;
  /** True for a folder that was made. */
  readonly isFolder?: boolean | undefined;
  /** The name of the file in the journal with the bytes before; undefined when the file was created. */
  readonly before?: string | undefined;
  /** When the file had been changed last before that, in milliseconds. */
  readonly beforeTime?: number | undefined;
  /** Of the bytes written, in hexadecimal. */
  readonly sha256: string;
}

/** What a replaced folder held at one path, and where it is now. Times in milliseconds. */
export interface ReplacedItem extends FileStamp {
  readonly mode: number;
  /** For a link: where it points. */
  readonly target?: string | undefined;
  /** For a file that went on unchanged: its path in the new folder. */
  readonly now?: string | undefined;
  /** For a file that was changed: where its bytes begin in the journal's pack. */
  readonly offset?: number | undefined;
}

export interface ReplacedRoot {
  readonly root: string;
  readonly mode: number;
  readonly trash: string;
  readonly items: readonly ReplacedItem[];
  readonly carried: readonly CarriedFolder[];
}

/** One change plan in the journal. */
export interface JournalEntry {
  readonly id: string;
  readonly title: string;
  readonly root: string;
  /** Milliseconds since 1970. */
  readonly time: number;
  readonly process: number;
  /** For a new root: where it is built, and where it goes before it is removed. */
  readonly staging?: string | undefined;
  /** For a new root, once applied: all that it held. */
  readonly stamps?: readonly FileStamp[] | undefined;
  /** For a new root: whether it is being taken back. */
  readonly isTakenBack?: boolean | undefined;
  /** For a new root in place of another one: that one, all that it held, and where it goes before it is removed. */
  readonly replaced?: ReplacedRoot | undefined;
  /** For the taking back of an entry: that entry. */
  readonly undoes?: string | undefined;
  /** For an existing root. */
  readonly edits?: readonly JournaledEdit[] | undefined;
}

/** Entries wait in `pending` while a plan is applied or taken back; a move between the folders changes their state. */
export type JournalState = 'pending' | 'done' | 'undone';

/** How many plans can be taken back. */
const KEPT_ENTRIES = 50;

/** The record of change plans, in a folder of the user's state (XDG Base Directory Specification). */
export class Journal {
  readonly folder: string;

  constructor(folder: string) {
    this.folder = folder;
  }

  static newId(time: number): string {
    return `${String(time).padStart(15, '0')}-${randomBytes(4).toString('hex')}`;
  }

  /** Puts a new entry into `pending`, with the bytes that it must be able to restore. */
  async open(entry: JournalEntry, kept: ReadonlyMap<string, Buffer>): Promise<void> {
    const folder = this.path('pending', entry.id);
    await makeFolders(folder);
    for (const [name, bytes] of kept) await writeSynced(join(folder, name), bytes);
    await this.save('pending', entry);
  }

  /** Writes an entry anew in one step. */
  async save(state: JournalState, entry: JournalEntry): Promise<void> {
    const file = join(this.path(state, entry.id), 'entry.json');
    await writeSynced(`${file}.new`, Buffer.from(JSON.stringify(entry)));
    await fs.rename(`${file}.new`, file);
  }

  async move(id: string, from: JournalState, to: JournalState): Promise<void> {
    await makeFolders(this.path(to));
    await fs.rename(this.path(from, id), this.path(to, id));
    if (to === 'done') await this.#prune();
  }

  async drop(state: JournalState, id: string): Promise<void> {
    await fs.rm(this.path(state, id), { recursive: true, force: true });
  }

  /** Entries of a state, oldest first. An entry that cannot be read was never complete; it is passed over. */
  async list(state: JournalState): Promise<JournalEntry[]> {
    const ids = await fs.readdir(this.path(state)).catch(() => []);
    const entries: JournalEntry[] = [];
    for (const id of ids.sort(compareText)) {
      const json = await fs.readFile(join(this.path(state, id), 'entry.json'), 'utf8').catch(() => undefined);
      if (json !== undefined) entries.push(JSON.parse(json) as JournalEntry);
    }
    return entries;
  }

  /** Entry `id` of a state; undefined when there is none. */
  async find(state: JournalState, id: string): Promise<JournalEntry | undefined> {
    return (await this.list(state)).find((entry) => entry.id === id);
  }

  async readKept(state: JournalState, id: string, name: string): Promise<Buffer> {
    return fs.readFile(join(this.path(state, id), name));
  }

  path(state: JournalState, ...parts: string[]): string {
    return join(this.folder, state, ...parts);
  }

  async #prune(): Promise<void> {
    for (const state of ['done', 'undone'] as const) {
      const ids = (await fs.readdir(this.path(state)).catch(() => [])).sort(compareText);
      for (const id of ids.slice(0, Math.max(0, ids.length - KEPT_ENTRIES))) await this.drop(state, id);
    }
  }
}

async function writeSynced(path: string, bytes: Buffer): Promise<void> {
  const handle = await fs.open(path, 'w', 0o600);
  try {
    await handle.writeFile(bytes);
    await handle.sync();
  } finally {
    await handle.close();
  }
}
