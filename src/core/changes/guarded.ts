import { basename } from 'node:path';
import { FailedOperationError, PioneroError, systemCode, systemReason } from '../errors.ts';
import { isOurTemporary } from '../files/disk-tree.ts';

/** Turns what the system says into our error, after the caller has taken everything back. */
export async function guarded<T>(title: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof PioneroError) throw error;
    throw new FailedOperationError({
      what: `${title} failed and was taken back`,
      why: systemReason(error) + pathOf(error),
      hint: IN_USE.has(systemCode(error) ?? '') ? LET_GO : 'nothing was changed; remove the cause and try again',
      cause: error,
    });
  }
}

/** Codes of what is in use: on Windows also those of what may not be done. */
const IN_USE = new Set(['EBUSY', ...(process.platform === 'win32' ? ['EPERM', 'EACCES', 'ENOTEMPTY'] : [])]);
const LET_GO = 'nothing was changed; close what has it open, also a terminal that is in that folder, and try again';

/** The path that the system's error is about, when it names one; the target in place of our temporary file. */
function pathOf(error: unknown): string {
  const { path, dest } = error as { readonly path?: unknown; readonly dest?: unknown };
  const named = [path, dest].filter((each) => typeof each === 'string');
  const shown = named.find((each) => !isOurTemporary(basename(each))) ?? named[0];
  return shown === undefined ? '' : `: ${shown}`;
}

/**
 * Takes back what was done before an error, and throws that error again.
 * @throws FailedOperationError when the system does not let it be taken back: then the next command does
 */
export async function takeBackAfter(error: unknown, title: string, takeBack: () => Promise<void>): Promise<never> {
  try {
    await takeBack();
  } catch (cause) {
    throw new FailedOperationError({
      what: `${title} failed, and could not be taken back yet`,
      why: systemReason(cause) + pathOf(cause),
      hint: 'remove the cause; the next command tidies up: all is then as it was, or wholly done',
      cause,
    });
  }
  throw error;
}
