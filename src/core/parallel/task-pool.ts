import { availableParallelism } from 'node:os';
import { isBuilt, Workers, type LimitError, type TaskFile, type TaskModule, type WorkerTasks } from './workers.ts';

/** The limits of one task of a pool. */
export interface TaskCosts {
  readonly milliseconds: number;
  /** Of memory that the engine manages. */
  readonly mebibytes: number;
}

/** The limits of a task about a package from someone else: nobody waits longer for one. */
export const PACKAGE_COSTS: TaskCosts = { milliseconds: 60_000, mebibytes: 300 };

/** Threads for many tasks, each within limits: a task that takes too long, or too much memory, costs itself and no other. */
export class TaskPool {
  readonly width: number;
  readonly costs: TaskCosts;
  readonly #workers: Workers;
  /** Those that wait for a thread: the time of a task begins when a thread takes it. */
  readonly #waiting: (() => void)[] = [];
  #free: number;

  constructor(costs: TaskCosts = PACKAGE_COSTS, width = availableParallelism()) {
    this.width = width;
    this.costs = costs;
    this.#free = width;
    this.#workers = new Workers({ count: width, mebibytes: costs.mebibytes, tasksAhead: 1 });
  }

  /**
   * Undefined where there is so little to do that this thread has done it before others have started, and where threads have no program.
   * @param least so many tasks are worth the start of threads
   * @param jobs threads that work at the same time; as many as the machine has when left out
   */
  static worthFor(tasks: TaskFile, count: number, least: number, jobs?: number, costs?: TaskCosts): TaskPool | undefined {
    return count < least || !isBuilt(tasks) ? undefined : new TaskPool(costs, jobs);
  }

  /** @throws LimitError when the task was ended */
  async run<M extends TaskModule, N extends keyof M & string>(
    tasks: WorkerTasks<M>,
    name: N,
    input: Parameters<M[N]>[0],
  ): Promise<Awaited<ReturnType<M[N]>>> {
    if (this.#free === 0) await new Promise<void>((resolve) => this.#waiting.push(resolve));
    else this.#free--;
    try {
      return await this.#workers.run(tasks, name, input, this.costs);
    } finally {
      const next = this.#waiting.shift();
      if (next === undefined) this.#free++;
      else next();
    }
  }

  /** Why a task was ended, for people. */
  whyEnded({ limit }: LimitError): string {
    const { milliseconds, mebibytes } = this.costs;
    return limit === 'memory' ? `it took more than ${mebibytes} MiB of memory` : `it took more than ${milliseconds / 1000} seconds`;
  }

  async end(): Promise<void> {
    await this.#workers.end();
  }
}
