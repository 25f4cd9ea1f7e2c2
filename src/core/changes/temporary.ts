import { randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import { basename, join } from 'node:path';
import { isAlive, isSameProcess, thisProcess, type ProcessIdentity } from './process-identity.ts';
import type { DiskWriter } from './disk-writer.ts';
import type { Journal } from './journal.ts';

/** A file or folder that is there only while something is done. */
interface Temporary extends ProcessIdentity {
  readonly path: string;
  /** Whether no run works with it any more: it could not be cleared away, and each later run may do so. */
  readonly isLeft?: boolean | undefined;
}

/** All that we make for a while has such a name: nothing else is ever cleared away, whatever a record says. */
const TEMPORARY_NAME = /^\.?pionero-[\w-]+$/;

/**
 * Lets something be made at a temporary path, and clears it away afterward. It is on record before it is made, so that the
 * next command clears it away when this one is killed.
 * @param place where the records are kept, and what writes there
 */
export async function withTemporary<T>(
  { temporaries: folder, writer }: Pick<Journal, 'temporaries' | 'writer'>,
  path: string,
  work: () => Promise<T>,
): Promise<T> {
  const record = await enter(folder, writer, { path });
  try {
    return await work();
  } finally {
    // A file that cannot be removed now stays on record.
    await writer
      .remove(path)
      .then(async () => writer.remove(record))
      .catch(() => undefined);
  }
}

/** Puts on record what cannot be cleared away now, as while another program has it open: a later command clears it away. */
export async function clearLater({ temporaries: folder, writer }: Pick<Journal, 'temporaries' | 'writer'>, path: string): Promise<void> {
  await enter(folder, writer, { path, isLeft: true });
}

/** Whole or not at all: half a record would be of nobody. @returns the record's path */
async function enter(folder: string, writer: DiskWriter, entered: Pick<Temporary, 'path' | 'isLeft'>): Promise<string> {
  await writer.makeFolders(folder);
  const record = join(folder, `${thisProcess.process}-${randomBytes(8).toString('hex')}.json`);
  const temporary: Temporary = { ...thisProcess, ...entered };
  await writer.putFile(record, Buffer.from(JSON.stringify(temporary)), false);
  return record;
}

/** Clears away what runs that are gone have left. */
export async function clearTemporaries({ temporaries: folder, writer }: Pick<Journal, 'temporaries' | 'writer'>): Promise<void> {
  for (const name of await fs.readdir(folder).catch(() => [])) {
    const record = join(folder, name);
    // A record that is being written is of the process in its name.
    if (name.endsWith('.new') && isAlive({ process: Number.parseInt(name, 10) })) continue;
    const temporary = await readRecord(record);
    const isInUse = temporary?.isLeft !== true && temporary !== undefined && (isAlive(temporary) || isSameProcess(temporary, thisProcess));
    if (isInUse) continue;
    if (temporary !== undefined && TEMPORARY_NAME.test(basename(temporary.path))) {
      // What may not be removed now stays on record.
      const isGone = await writer.remove(temporary.path).then(
        () => true,
        () => false,
      );
      if (!isGone) continue;
    }
    await writer.remove(record);
  }
}

async function readRecord(path: string): Promise<Temporary | undefined> {
  try {
    const read = JSON.parse(await fs.readFile(path, 'utf8')) as Temporary;
    return typeof read.path === 'string' && typeof read.process === 'number' ? read : undefined;
  } catch {
    return undefined;
  }
}
