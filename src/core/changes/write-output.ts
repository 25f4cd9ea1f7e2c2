import { randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { stopIfAborted } from './carry-out.ts';
import { makeFolders } from './disk-writer.ts';
import { guarded } from './guarded.ts';
import type { Journal } from './journal.ts';
import { withTemporary } from './temporary.ts';

/** Takes the parts of a result one after another. */
export type Sink = (part: Buffer) => Promise<void>;

/** How a result is written. */
export interface OutputWork<T> {
  /** Writes the parts; what it throws leaves everything as it was. */
  readonly write: (sink: Sink) => Promise<T>;
  /** Looks at the file that was written before it takes its place, and throws when it is not good. */
  readonly accept?: (written: string, result: T) => Promise<void>;
  readonly signal?: AbortSignal | undefined;
}

/** Writes a result (a plan, a report) in one step: the file is there whole, or as it was before. */
export async function writeOutput(path: string, bytes: Buffer, journal: Journal): Promise<void> {
  await streamOutput(path, journal, { write: async (sink) => sink(bytes) });
}

/**
 * Writes a result part by part beside its place, then puts it there in one step.
 * @param journal keeps record of the file beside, so that it goes when this run is killed
 * @throws FailedOperationError when a step fails or the signal comes; everything is as it was
 */
export async function streamOutput<T>(path: string, journal: Journal, { write, accept, signal }: OutputWork<T>): Promise<T> {
  const sibling = join(dirname(path), `.pionero-${randomBytes(6).toString('hex')}`);
  return guarded(`writing ${basename(path)}`, async () => {
    await makeFolders(dirname(path));
    return withTemporary(journal.temporaries, sibling, async () => {
      const handle = await fs.open(sibling, 'wx', 0o644);
      let result: T;
      try {
        result = await write(async (part) => {
          await stopIfAborted(signal);
          await handle.writeFile(part);
        });
        await handle.sync();
      } finally {
        await handle.close();
      }
      await accept?.(sibling, result);
      await stopIfAborted(signal);
      await fs.rename(sibling, path);
      return result;
    });
  });
}
