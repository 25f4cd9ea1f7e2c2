import { FailedOperationError, PioneroError, systemReason } from '../errors.ts';

/** Turns what the system says into our error, after the caller has taken everything back. */
export async function guarded<T>(title: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof PioneroError) throw error;
    throw new FailedOperationError({
      what: `${title} failed and was taken back`,
      why: systemReason(error) + pathOf(error),
      hint: 'nothing was changed; remove the cause and try again',
      cause: error,
    });
  }
}

/** The path that the system's error is about, when it names one. */
function pathOf(error: unknown): string {
  return error instanceof Error && 'path' in error && typeof error.path === 'string' ? `: ${error.path}` : '';
}
