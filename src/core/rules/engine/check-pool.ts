import { FailedOperationError } from '../../errors.ts';
import { displayPath } from '../../files/paths.ts';
import { TaskPool, type TaskCosts } from '../../parallel/task-pool.ts';
import { LimitError } from '../../parallel/workers.ts';
import { CHECK_TASKS } from './check-in-thread.ts';
import { failedCheck, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** With fewer themes threads take longer to start than they save. */
const WORTH_THREADS = 24;

/** Checks packages on the threads of a pool. */
export class CheckPool {
  readonly width: number;
  readonly #pool: TaskPool;

  constructor(pool: TaskPool) {
    this.#pool = pool;
    this.width = pool.width;
  }

  /**
   * Undefined where so few are checked that this thread has done so before others have started.
   * @param jobs threads that check at the same time; as many as the machine has when left out
   */
  static worthFor(packages: number, costs: TaskCosts, jobs?: number): CheckPool | undefined {
    const pool = TaskPool.worthFor(CHECK_TASKS, packages, WORTH_THREADS, jobs, costs);
    return pool === undefined ? undefined : new CheckPool(pool);
  }

  /** Checks some packages, one after another. Where one of them cannot be, each is checked alone, and that one has a finding that says why. */
  async check(input: FoldersToCheck): Promise<readonly CheckedFolder[]> {
    try {
      return await this.#pool.run(CHECK_TASKS, 'check', input);
    } catch (error) {
      const [only, ...others] = input.folders;
      if (only !== undefined && others.length === 0)
        return [failedCheck(only, this.#failureOf(displayPath(only, input.currentFolder), error))];
      const alone: CheckedFolder[] = [];
      for (const folder of input.folders) alone.push(...(await this.check({ ...input, folders: [folder] })));
      return alone;
    }
  }

  async end(): Promise<void> {
    await this.#pool.end();
  }

  #failureOf(shown: string, cause: unknown): FailedOperationError {
    if (cause instanceof LimitError)
      return new FailedOperationError({
        what: `the check of ${shown} was ended`,
        why: this.#pool.whyEnded(cause),
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
