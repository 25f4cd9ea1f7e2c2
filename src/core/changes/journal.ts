import { promises as fs } from 'node:fs';
import { join } from 'node:path';
import { randomBytes } from 'node:crypto';
import { systemCode } from '../errors.ts';
import { realDiskWriter, type DiskWriter } from './disk-writer.ts';
import { isAlive, thisProcess, type ProcessIdentity } from './process-identity.ts';
import type { CarriedFolder } from './plan.ts';
import { compareText, resolveInTree } from '../files/file-tree.ts';

/** How a file looked, so that a later change of it by someone else is noticed. Times in milliseconds. */
export interface FileStamp {
  readonly path: string;
  readonly kind: 'file' | 'folder' | 'link';
  readonly size: number;
  readonly mtimeMs: number;
}

/** The change to one file of an existing folder, and where its earlier bytes are kept. */
export interface JournaledEdit {
  readonly path: string;
  /** True for a folder that was made. */
  readonly isFolder?: boolean | undefined;
  /** For a link that was made: where it points, as stored. */
  readonly linksTo?: string | undefined;
  /** The name of the file in the journal with the bytes before; undefined when the file was created. */
  readonly before?: string | undefined;
  /** When the file had been changed last before that, in milliseconds. */
  readonly beforeTime?: number | undefined;
  /** The file's permission bits before that. */
  readonly beforeMode?: number | undefined;
  /** True for a file that was removed. */
  readonly isRemoved?: boolean | undefined;
  /** Of the bytes written, in hexadecimal. */
  readonly sha256: string;
}

/** The entry that a replaced folder held at one path, and where it is now. Times in milliseconds. */
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
export interface JournalEntry extends ProcessIdentity {
  readonly id: string;
  readonly title: string;
  readonly root: string;
  /** Milliseconds since 1970. */
  readonly time: number;
  /** For a new root: where it is built, and where it goes before it is removed. */
  readonly staging?: string | undefined;
  /** For a new root, once applied: all that it held. */
  readonly stamps?: readonly FileStamp[] | undefined;
  /** For a new root: folders above it that were made for it, the outermost first. */
  readonly above?: readonly string[] | undefined;
  /** For a new root: whether it is being taken back. */
  readonly isTakenBack?: boolean | undefined;
  /** For a new root in place of another one: that one, all that it held, and where it goes before it is removed. */
  readonly replaced?: ReplacedRoot | undefined;
  /** For the taking back of an entry: that entry. */
  readonly undoes?: string | undefined;
  /** What plans for several folders have in common that are one change. */
  readonly together?: string | undefined;
  /** For the last of them: whether all are applied. */
  readonly isWhole?: boolean | undefined;
  /** For an existing root. */
  readonly edits?: readonly JournaledEdit[] | undefined;
}

/** Entries wait in `pending` while a plan is applied or taken back; a move between the folders changes their state. */
export type JournalState = 'pending' | 'done' | 'undone';

const ENTRY_FILE = 'entry.json';

/** How the name of an entry begins that is not complete, or not any more; the number of its process follows. */
const PARTIAL = '.partial-';

/** As much as a reader must be able to rely on. */
function isEntry(value: unknown): value is JournalEntry {
  if (typeof value !== 'object' || value === null) return false;
  const entry = value as Record<string, unknown>;
  return (
    typeof entry['id'] === 'string' &&
    typeof entry['title'] === 'string' &&
    typeof entry['root'] === 'string' &&
    typeof entry['time'] === 'number' &&
    typeof entry['process'] === 'number' &&
    (entry['edits'] === undefined || (Array.isArray(entry['edits']) && entry['edits'].every(isEditInside))) &&
    (entry['stamps'] === undefined || Array.isArray(entry['stamps']))
  );
}

/** Whether an edit speaks of a file below the entry’s root, and its earlier bytes lie in the entry itself. */
function isEditInside(edit: unknown): boolean {
  if (typeof edit !== 'object' || edit === null) return false;
  const { path, before } = edit as Partial<Record<keyof JournaledEdit, unknown>>;
  const isPath = typeof path === 'string' && resolveInTree('', path) === path;
  return isPath && (before === undefined || (typeof before === 'string' && /^\w[\w.-]*$/.test(before)));
}

/** How an applied entry looked when it was found to be whole, and the entry that says so where it is one of a set. */
interface SettledEntry {
  readonly look: string;
  readonly whole?: string | undefined;
}

/** How many plans can be taken back. */
const KEPT_ENTRIES = 50;

/** The record of change plans, in a folder of the user's state (XDG Base Directory Specification). */
export class Journal {
  readonly folder: string;
  /** What changes the disk, for the journal and for all that is on record in it. */
  readonly writer: DiskWriter;

  constructor(folder: string, writer = realDiskWriter) {
    this.folder = folder;
    this.writer = writer;
  }

  /** Where locks are kept. */
  get locks(): string {
    return join(this.folder, 'locks');
  }

  /** Where records of temporary files are kept. */
  get temporaries(): string {
    return join(this.folder, 'temporary');
  }

  static newId(time: number): string {
    return `${String(time).padStart(15, '0')}-${randomBytes(4).toString('hex')}`;
  }

  /** Puts a new entry into `pending` in one step, with the bytes that it must be able to restore. */
  async open(entry: JournalEntry, kept: Iterable<readonly [name: string, bytes: Buffer]>): Promise<void> {
    const folder = this.path('pending', `${PARTIAL}${entry.process}-${entry.id}`);
    await this.writer.makeFolders(folder);
    for (const [name, bytes] of kept) await this.writer.createFile(join(folder, name), [bytes], { mode: 0o600 });
    await this.writer.putFile(join(folder, ENTRY_FILE), Buffer.from(JSON.stringify(entry)), true);
    await this.writer.rename(folder, this.path('pending', entry.id));
  }

  /** Writes an entry again in one step. */
  async save(state: JournalState, entry: JournalEntry): Promise<void> {
    await this.writer.putFile(join(this.path(state, entry.id), ENTRY_FILE), Buffer.from(JSON.stringify(entry)), true);
  }

  async move(id: string, from: JournalState, to: JournalState): Promise<void> {
    await this.writer.makeFolders(this.path(to));
    await this.writer.rename(this.path(from, id), this.path(to, id));
    if (to === 'done') await this.#prune();
  }

  /** Removes an entry. It leaves its place in one step: of one that goes file by file, half would be left by a run that is killed. */
  async drop(state: JournalState, id: string): Promise<void> {
    const leaving = this.path('pending', `${PARTIAL}${thisProcess.process}-${id}`);
    await this.writer.makeFolders(this.path('pending'));
    await this.writer.rename(this.path(state, id), leaving).catch((error: unknown) => {
      if (systemCode(error) !== 'ENOENT') throw error;
    });
    await this.writer.remove(leaving);
  }

  /** Entries of a state, oldest first. One that cannot be read is passed over; see {@link Journal.setBrokenAside}. */
  async list(state: JournalState): Promise<JournalEntry[]> {
    const entries: JournalEntry[] = [];
    for (const id of await this.#ids(state)) {
      const entry = await this.#read(state, id);
      if (entry !== undefined) entries.push(entry);
    }
    return entries;
  }

  /**
   * Moves entries that cannot be read out of the way, so that they stop nobody, and clears away what a run that is gone
   * had begun to write or to remove.
   * @returns where they are now
   */
  async setBrokenAside(): Promise<string[]> {
    const aside: string[] = [];
    for (const name of await fs.readdir(this.path('pending')).catch(() => [])) {
      const process = Number(/^\.partial-(\d+)-/.exec(name)?.[1]);
      if (name.startsWith(PARTIAL) && !isAlive({ process })) await this.writer.remove(this.path('pending', name)).catch(() => undefined);
    }
    for (const state of ['pending', 'done'] as const) {
      for (const id of state === 'pending' ? await this.#ids(state) : (await this.#unsettled()).keys()) {
        if ((await this.#read(state, id)) !== undefined) continue;
        const place = join(this.folder, 'broken', id);
        // Where the journal cannot be written, what is broken in it is passed over.
        const isAside = await this.writer
          .makeFolders(join(this.folder, 'broken'))
          .then(async () => this.writer.remove(place))
          .then(async () => this.writer.rename(this.path(state, id), place))
          .then(
            () => true,
            () => false,
          );
        if (isAside) aside.push(place);
      }
    }
    return aside;
  }

  /**
   * The applied entries that nobody has looked at since they were written. An entry of a large theme is large, and every command looks
   * whether one was broken off.
   */
  async unsettled(): Promise<Pick<JournalEntry, 'id' | 'together'>[]> {
    const entries: Pick<JournalEntry, 'id' | 'together'>[] = [];
    for (const id of (await this.#unsettled()).keys()) {
      const entry = await this.#read('done', id);
      if (entry !== undefined) entries.push({ id, together: entry.together });
    }
    return entries;
  }

  /**
   * Takes note that entries are whole, so that they are not looked at again until someone changes them.
   * @param whole of those that are a set: the entry that says so. Where it is gone, the set is being taken back
   */
  async markSettled(ids: ReadonlySet<string>, whole?: string): Promise<void> {
    const looks = [...(await this.#unsettled())].filter(([id]) => ids.has(id));
    if (looks.length === 0) return;
    const known = await this.#settled();
    const kept = (await this.#ids('done')).flatMap((id) => (known[id] === undefined ? [] : [[id, known[id]] as const]));
    const fresh = looks.map(([id, look]): [string, SettledEntry] => [id, { look, whole }]);
    const settled = Buffer.from(JSON.stringify(Object.fromEntries([...kept, ...fresh])));
    // Where the journal cannot be written, the next command looks again.
    await this.writer.putFile(this.#settledFile, settled, false).catch(() => undefined);
  }

  get #settledFile(): string {
    return join(this.folder, 'settled.json');
  }

  async #settled(): Promise<Readonly<Record<string, SettledEntry | undefined>>> {
    try {
      const read: unknown = JSON.parse(await fs.readFile(this.#settledFile, 'utf8'));
      return typeof read === 'object' && read !== null ? (read as Record<string, SettledEntry>) : {};
    } catch {
      return {};
    }
  }

  /** The ids of applied entries that are not known to be whole, each with how it looks. */
  async #unsettled(): Promise<Map<string, string>> {
    const known = await this.#settled();
    const ids = await this.#ids('done');
    const looks = await Promise.all(
      ids.map(async (id): Promise<[string, string]> => {
        const stat = await fs.stat(this.path('done', id, ENTRY_FILE)).catch(() => undefined);
        return [id, `${stat?.size} ${stat?.mtimeMs}`];
      }),
    );
    const isSettled = (id: string, look: string): boolean =>
      known[id]?.look === look && (known[id].whole === undefined || ids.includes(known[id].whole));
    return new Map(looks.filter(([id, look]) => !isSettled(id, look)));
  }

  async #ids(state: JournalState): Promise<string[]> {
    const names = await fs.readdir(this.path(state)).catch(() => []);
    return names.filter((name) => !name.startsWith(PARTIAL)).sort(compareText);
  }

  async #read(state: JournalState, id: string): Promise<JournalEntry | undefined> {
    try {
      const read: unknown = JSON.parse(await fs.readFile(this.path(state, id, ENTRY_FILE), 'utf8'));
      return isEntry(read) && read.id === id ? read : undefined;
    } catch {
      return undefined;
    }
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
      const ids = await this.#ids(state);
      for (const id of ids.slice(0, Math.max(0, ids.length - KEPT_ENTRIES))) await this.drop(state, id);
    }
  }
}
