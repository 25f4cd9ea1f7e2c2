import { availableParallelism } from 'node:os';
import { FailedOperationError } from '../../errors.ts';
import { displayPath } from '../../files/paths.ts';
import { isBuilt, LimitError, Workers } from '../../parallel/workers.ts';
import { CHECK_TASKS } from './check-in-thread.ts';
import { failedCheck, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** The limits of the check of one package. */
export interface PackageLimits {
  readonly milliseconds: number;
  /** Of what the engine manages; files are bounded where they are read. */
  readonly mebibytes: number;
}

export const PACKAGE_LIMITS: PackageLimits = { milliseconds: 60_000, mebibytes: 300 };

/** With fewer themes workers take longer to start than they save. */
const WORTH_WORKERS = 24;

/** Threads that check packages: one that takes too long, or too much memory, costs itself and no other. */
export class CheckPool {
  readonly width: number;
  readonly #limits: PackageLimits;
  readonly #workers: Workers;
  /** Those that wait for a thread: the time of a package begins with its check. */
  readonly #waiting: (() => void)[] = [];
  #free: number;

  constructor(width: number, limits: PackageLimits) {
    this.width = width;
    this.#free = width;
    this.#limits = limits;
    this.#workers = new Workers({ count: width, mebibytes: limits.mebibytes, tasksAhead: 1 });
  }

  /**
   * Undefined where so few are checked that this thread has done so before others have started.
   * @param jobs threads that check at the same time; as many as the machine has when left out
   */
  static worthFor(packages: number, limits: PackageLimits, jobs = availableParallelism()): CheckPool | undefined {
    return packages < WORTH_WORKERS || !isBuilt(CHECK_TASKS) ? undefined : new CheckPool(jobs, limits);
  }

  /** Checks some packages, one after another. Where one of them cannot be, each is checked alone, and that one has a finding that says why. */
  async check(input: FoldersToCheck): Promise<readonly CheckedFolder[]> {
    try {
      return await this.#onThread(async () => this.#workers.run(CHECK_TASKS, 'check', input, this.#limits));
    } catch (error) {
      const [only, ...others] = input.folders;
      if (only !== undefined && others.length === 0)
        return [failedCheck(only, this.#failureOf(displayPath(only, input.currentFolder), error))];
      const alone: CheckedFolder[] = [];
      for (const folder of input.folders) alone.push(...(await this.check({ ...input, folders: [folder] })));
      return alone;
    }
  }

  async #onThread<R>(work: () => Promise<R>): Promise<R> {
    if (this.#free === 0) await new Promise<void>((resolve) => this.#waiting.push(resolve));
    else this.#free--;
    try {
      return await work();
    } finally {
      const next = this.#waiting.shift();
      if (next === undefined) this.#free++;
      else next();
    }
  }

  async end(): Promise<void> {
    await this.#workers.end();
  }

  #failureOf(shown: string, cause: unknown): FailedOperationError {
    const { milliseconds, mebibytes } = this.#limits;
    if (cause instanceof LimitError)
      return new FailedOperationError({
        what: `the check of ${shown} was ended`,
        why: cause.limit === 'time' ? `it took more than ${milliseconds / 1000} seconds` : `it took more than ${mebibytes} MiB of memory`,
        hint: cause.limit === 'time' ? 'allow more with --time-limit, or look at what it holds' : 'look at what it holds',
        cause,
      });
    return new FailedOperationError({
      what: `the check of ${shown} failed`,
      why: cause instanceof Error ? cause.message : String(cause),
      hint: 'check it alone to see where',
      cause,
    });
  }
}
