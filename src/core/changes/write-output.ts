import { randomBytes } from 'node:crypto';
import { basename, dirname, join } from 'node:path';
import { stopIfAborted } from './carry-out.ts';
import type { Sink } from './disk-writer.ts';
import { guarded } from './guarded.ts';
import type { Journal } from './journal.ts';
import { withTemporary } from './temporary.ts';

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
    await journal.writer.makeFolders(dirname(path));
    return withTemporary(journal, sibling, async () => {
      const result = await journal.writer.streamFile(sibling, async (sink) =>
        write(async (part) => {
          await stopIfAborted(signal);
          await sink(part);
        }),
      );
      await accept?.(sibling, result);
      await stopIfAborted(signal);
      await journal.writer.rename(sibling, path);
      return result;
    });
  });
}
