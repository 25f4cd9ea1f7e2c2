import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Tinypool } from 'tinypool';
import { kindOnDisk } from '../files/disk.ts';
import { partsOf } from './parts.ts';

/** A module of functions that worker threads carry out. */
export interface TaskFile {
  /** Its file, built, beside the program. */
  readonly module: string;
}

/** Functions that worker threads carry out: a module `NAME.tasks.ts` of a room. They take and give plain data. */
export interface WorkerTasks<M extends TaskModule> extends TaskFile {
  /** The type of the module; there is no value. */
  readonly functions?: M;
}

export type TaskModule = Readonly<Record<string, (input: never) => unknown>>;

/** The limits of a task, and the signal that ends it. */
export interface TaskLimits {
  readonly milliseconds?: number | undefined;
  readonly signal?: AbortSignal | undefined;
}

/** A task was ended before it was done. */
export class LimitError extends Error {
  readonly limit: 'time' | 'memory' | 'signal';

  constructor(limit: LimitError['limit'], cause: unknown) {
    super(`the task was ended: ${limit}`, { cause });
    this.name = 'LimitError';
    this.limit = limit;
  }
}

/** How many worker threads there are, and what each may take. */
export interface WorkersOptions {
  readonly count: number;
  /** The most that a worker may keep in memory, in MiB. */
  readonly mebibytes?: number | undefined;
  /** So many tasks wait at a worker before it has done the last one; those of a worker that is ended fail with it. */
  readonly tasksAhead?: number | undefined;
}

/** Worker threads that take over a part of the work. They are started at the first task, and end by {@link end}. */
export class Workers {
  readonly count: number;
  readonly #mebibytes: number | undefined;
  readonly #tasksAhead: number;
  #pool: Tinypool | undefined;

  constructor({ count, mebibytes, tasksAhead = QUEUED }: WorkersOptions) {
    this.count = count;
    this.#mebibytes = mebibytes;
    this.#tasksAhead = tasksAhead;
  }

  /**
   * As many as pay for an amount of work, beside the thread that asks for them; undefined when none does.
   * @param worth the amount that is worth the start of one
   * @param jobs threads that work at the same time, the one that asks among them; as many as the machine has when left out
   */
  static worthFor(tasks: TaskFile, amount: number, worth: number, jobs = availableParallelism()): Workers | undefined {
    const count = Math.min(jobs - 1, Math.floor(amount / worth));
    return count > 0 && isBuilt(tasks) ? new Workers({ count }) : undefined;
  }

  /**
   * Has a worker do one task.
   * @throws LimitError when it was ended, or took more memory than it may
   */
  async run<M extends TaskModule, N extends keyof M & string>(
    { module }: WorkerTasks<M>,
    name: N,
    input: Parameters<M[N]>[0],
    { milliseconds, signal }: TaskLimits = {},
  ): Promise<Awaited<ReturnType<M[N]>>> {
    const limits = [...(milliseconds === undefined ? [] : [AbortSignal.timeout(milliseconds)]), ...(signal === undefined ? [] : [signal])];
    const ending = limits.length === 0 ? {} : { signal: AbortSignal.any(limits) };
    try {
      return (await this.#started().run(input, { filename: placeOf(module), name, ...ending })) as Awaited<ReturnType<M[N]>>;
    } catch (error) {
      if (limits.some(({ aborted }) => aborted)) throw new LimitError(signal?.aborted === true ? 'signal' : 'time', error);
      throw (error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY' ? new LimitError('memory', error) : error;
    }
  }

  /**
   * Does a list of work in parts that weigh about the same, all at the same time: one on each worker, and the last one on this thread.
   * @returns what came of the parts, in the list's order
   */
  async share<T, R>(
    list: readonly T[],
    weightOf: (item: T) => number,
    there: (part: readonly T[]) => Promise<readonly R[]>,
    here: (part: readonly T[]) => readonly R[] | Promise<readonly R[]>,
  ): Promise<R[]> {
    const parts = partsOf(list, this.count + 1, weightOf);
    return (await Promise.all(parts.map(async (part, i) => (i < this.count ? there(part) : here(part))))).flat();
  }

  /** Ends them, whatever they are at. */
  async end(): Promise<void> {
    await this.#pool?.destroy();
    this.#pool = undefined;
  }

  #started(): Tinypool {
    if (this.#pool !== undefined) return this.#pool;
    this.#pool = new Tinypool({
      minThreads: this.count,
      maxThreads: this.count,
      // A worker has its next task before this thread, which may be at work itself, hears of the last one's end.
      concurrentTasksPerWorker: this.#tasksAhead,
      // Flags of the program around it, such as that its text comes from the command line, are not the workers'.
      execArgv: [],
      // Most of what they make is garbage at once: a small nursery keeps the program's memory small.
      resourceLimits: {
        maxYoungGenerationSizeMb: 8,
        ...(this.#mebibytes === undefined ? {} : { maxOldGenerationSizeMb: this.#mebibytes }),
      },
    });
    // A worker that ends fails its tasks, and these say so.
    this.#pool.on('error', () => undefined);
    return this.#pool;
  }
}

/** More than any list of tasks that are given out at once has for one worker. */
const QUEUED = 1000;

/** Whether workers can carry tasks out: what runs from its sources has no program for them. */
export function isBuilt({ module }: TaskFile): boolean {
  return kindOnDisk(placeOf(module)) === 'file';
}

function placeOf(module: string): string {
  return fileURLToPath(new URL(module, import.meta.url));
}
