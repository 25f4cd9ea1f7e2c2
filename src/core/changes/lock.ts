import { createHash, randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import { join } from 'node:path';
import { RefusedError, systemCode } from '../errors.ts';
import { realPlace } from '../files/disk.ts';
import { compareText } from '../files/file-tree.ts';
import { foldedPath } from '../files/portable-names.ts';
import type { DiskWriter } from './disk-writer.ts';
import { isAlive, isSameProcess, thisProcess, type ProcessIdentity } from './process-identity.ts';
import type { Journal } from './journal.ts';

/** Who changes a folder. */
export interface LockHolder extends ProcessIdentity {
  /** The work of the holder, for people. */
  readonly title: string;
  readonly root: string;
  /** Milliseconds since 1970. */
  readonly since: number;
}

/** The locks that calls of this process hold. */
const heldHere = new Set<string>();

/** A folder is being changed by someone else. */
export class LockedError extends RefusedError {
  readonly holder: LockHolder;

  constructor(holder: LockHolder) {
    super({
      what: `${holder.root} is being changed by another run: “${holder.title}” (process ${holder.process}, since ${clock(holder.since)})`,
      why: 'two changes at once would undo each other',
      hint: 'wait until it is done, and run it again',
    });
    this.holder = holder;
  }
}

function clock(time: number): string {
  return new Date(time).toTimeString().slice(0, 8);
}

/**
 * Does some work while nobody else changes the given folders. A lock whose holder is gone is taken over. Locks of other
 * folders do not matter.
 * @param place where locks are kept, and what writes there
 * @throws LockedError when someone else holds one of them
 */
export async function withLocks<T>(
  { locks: folder, writer }: Pick<Journal, 'locks' | 'writer'>,
  { roots, title, now }: { readonly roots: readonly string[]; readonly title: string; readonly now: number },
  work: () => Promise<T>,
): Promise<T> {
  await writer.makeFolders(folder);
  const taken: string[] = [];
  try {
    // In one order, so that two that want the same two never hold one each.
    const places = new Map(roots.map(realPlace).map((root) => [lockName(root), root]));
    for (const [name, root] of [...places].sort(([a], [b]) => compareText(a, b))) {
      const path = join(folder, name);
      await take(writer, path, { ...thisProcess, title, root, since: now });
      taken.push(path);
      heldHere.add(path);
    }
    return await work();
  } finally {
    for (const path of taken) {
      heldHere.delete(path);
      // A lock that cannot be removed now belongs to no process any more, and the next one takes it over or clears it away.
      await writer.remove(path).catch(() => undefined);
    }
  }
}

/** Clears away the locks of runs that are gone. */
export async function clearLocks({ locks: folder, writer }: Pick<Journal, 'locks' | 'writer'>): Promise<void> {
  for (const name of await fs.readdir(folder).catch(() => [])) {
    const path = join(folder, name);
    const process = Number(/\.lock-(\d+)-/.exec(name)?.[1]);
    if (!Number.isNaN(process)) {
      // One that was being written, or moved away.
      if (!isAlive({ process })) await writer.remove(path);
      continue;
    }
    const holder = await readHolder(path);
    if (holder === undefined || isHeld(path, holder)) continue;
    if (name.endsWith('.lock')) {
      const aside = besides(path);
      await moveAway(writer, path, aside);
      await writer.remove(aside);
    }
  }
}

/** For tests that die in the middle of a change: this process holds nothing any more, as if it had been killed. */
export function forgetLocks(): void {
  heldHere.clear();
}

/** Two spellings of one folder get one lock, also where the folder is not there yet, and no system says that they are the same. */
function lockName(root: string): string {
  return `${createHash('sha256').update(foldedPath(root)).digest('hex').slice(0, 32)}.lock`;
}

async function take(writer: DiskWriter, path: string, holder: LockHolder): Promise<void> {
  // Written whole under another name, so that nobody ever reads half a lock.
  const own = besides(path);
  await writer.createFile(own, [Buffer.from(JSON.stringify(holder))], { mode: 0o600, isDurable: false });
  try {
    for (let tries = 0; tries < 20; tries++) {
      if (await isLinked(writer, own, path)) return;
      const other = await readHolder(path);
      if (other !== undefined && isHeld(path, other)) throw new LockedError(other);
      await moveAway(writer, path, `${own}-old`);
    }
    throw new RefusedError({ what: `${holder.root} cannot be locked`, hint: 'run it again' });
  } finally {
    // The names of what stays tell whose it was.
    for (const left of [own, `${own}-old`]) await writer.remove(left).catch(() => undefined);
  }
}

/** Another name for a lock, that tells whose it is. */
function besides(path: string): string {
  return `${path}-${thisProcess.process}-${randomBytes(6).toString('hex')}`;
}

async function isLinked(writer: DiskWriter, own: string, path: string): Promise<boolean> {
  try {
    await writer.linkFile(own, path);
    return true;
  } catch (error) {
    if (systemCode(error) === 'EEXIST') return false;
    throw error;
  }
}

function isHeld(path: string, holder: LockHolder): boolean {
  return isSameProcess(holder, thisProcess) ? heldHere.has(path) : isAlive(holder);
}

/** Moves a lock away whose holder is gone; one that someone took in between is put back. */
async function moveAway(writer: DiskWriter, path: string, aside: string): Promise<void> {
  try {
    await writer.rename(path, aside);
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return;
    throw error;
  }
  const holder = await readHolder(aside);
  if (holder !== undefined && isHeld(path, holder)) await isLinked(writer, aside, path);
}

/** Undefined when the lock is gone, or cannot have been written by us. */
async function readHolder(path: string): Promise<LockHolder | undefined> {
  try {
    const holder = JSON.parse(await fs.readFile(path, 'utf8')) as LockHolder;
    return typeof holder.process === 'number' && typeof holder.since === 'number' ? holder : undefined;
  } catch {
    return undefined;
  }
}
