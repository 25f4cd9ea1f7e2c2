import { FailedOperationError, type PioneroError } from '../errors.ts';
import { displayPath } from '../files/paths.ts';
import { TaskPool, type TaskCosts } from './task-pool.ts';
import { LimitError, type TaskModule, type WorkerTasks } from './workers.ts';

/** Themes, each by its folder or archive. */
interface Folders {
  readonly folders: readonly string[];
  readonly currentFolder: string;
}

/** Work with themes: a function of a module of tasks, and the result for a theme with which it failed. */
export interface FolderWork<I extends Folders, R, N extends string> {
  readonly tasks: WorkerTasks<TaskModule & Readonly<Record<N, (input: I) => Promise<readonly R[]>>>>;
  readonly name: N;
  /** The same function, for where threads are not worth their start. */
  readonly here: (input: I) => Promise<readonly R[]>;
  /** A noun for it in messages, and a verb: check, checking. */
  readonly called: string;
  readonly doing: string;
  /** Advice about a theme that took too long. */
  readonly hint?: string | undefined;
  readonly failed: (folder: string, error: PioneroError) => R;
}

/** With fewer themes threads take longer to start than they save. */
const WORTH_THREADS = 24;

/** Does work with themes of others on the threads of a pool: one that takes too long, or too much memory, costs itself and no other. */
export class FolderPool<I extends Folders, R, N extends string> {
  readonly width: number;
  readonly #pool: TaskPool;
  readonly #work: FolderWork<I, R, N>;

  constructor(pool: TaskPool, work: FolderWork<I, R, N>) {
    this.#pool = pool;
    this.#work = work;
    this.width = pool.width;
  }

  /**
   * Undefined where there are so few themes that this thread has done it before others have started.
   * @param jobs threads that work at the same time; as many as the machine has when left out
   */
  static worthFor<I extends Folders, R, N extends string>(
    work: FolderWork<I, R, N>,
    themes: number,
    costs: TaskCosts,
    jobs?: number,
  ): FolderPool<I, R, N> | undefined {
    const pool = TaskPool.worthFor(work.tasks, themes, WORTH_THREADS, jobs, costs);
    return pool === undefined ? undefined : new FolderPool(pool, work);
  }

  /** Does it with some themes, one after another. Where it cannot be done with one of them, each is taken alone, and that one says why. */
  async run(input: I): Promise<readonly R[]> {
    const { tasks, name, failed } = this.#work;
    try {
      return await this.#pool.run(tasks, name, input);
    } catch (error) {
      const [only, ...others] = input.folders;
      if (only !== undefined && others.length === 0) return [failed(only, this.#failureOf(displayPath(only, input.currentFolder), error))];
      const alone: R[] = [];
      for (const folder of input.folders) alone.push(...(await this.run({ ...input, folders: [folder] })));
      return alone;
    }
  }

  async end(): Promise<void> {
    await this.#pool.end();
  }

  #failureOf(shown: string, cause: unknown): FailedOperationError {
    const { called, hint = 'look at what it holds' } = this.#work;
    if (cause instanceof LimitError)
      return new FailedOperationError({
        what: `the ${called} of ${shown} was ended`,
        why: this.#pool.whyEnded(cause),
        hint: cause.limit === 'time' ? hint : 'look at what it holds',
        cause,
      });
    return new FailedOperationError({
      what: `the ${called} of ${shown} failed`,
      why: cause instanceof Error ? cause.message : String(cause),
      hint: 'name it alone to see where',
      cause,
    });
  }
}
