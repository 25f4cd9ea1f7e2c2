import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { kindOnDisk } from '../files/disk.ts';

/** Functions that the second thread can carry out: a module `NAME.tasks.ts` of a room. What they take and give is plain data. */
export interface HelperTasks<M extends Readonly<Record<string, (input: never) => unknown>>> {
  /** The module's file, built, beside this one. */
  readonly module: string;
  /** The type of the module; there is no value. */
  readonly functions?: M;
}

/** The limits of a task, and the signal that ends it. */
export interface TaskLimits {
  readonly milliseconds?: number | undefined;
  readonly signal?: AbortSignal | undefined;
}

/** A task was ended before it was done. */
export class LimitError extends Error {
  readonly limit: 'time' | 'memory' | 'signal';

  constructor(limit: LimitError['limit']) {
    super(`the task was ended: ${limit}`);
    this.name = 'LimitError';
    this.limit = limit;
  }
}

export interface HelperMessage {
  readonly module: string;
  readonly name: string;
  readonly input: unknown;
}

/** A second thread that takes over a part of the work. It does one task at a time. */
export class Helper {
  readonly #worker: Worker;

  private constructor(file: string, mebibytes: number | undefined) {
    const memory = mebibytes === undefined ? {} : { maxOldGenerationSizeMb: mebibytes };
    // Most of what it makes is garbage at once: a small nursery keeps the program's memory small.
    // Flags of the program around it, such as that its text comes from the command line, are not the thread's.
    this.#worker = new Worker(file, { execArgv: [], resourceLimits: { maxYoungGenerationSizeMb: 8, ...memory } });
  }

  /** Starts the thread; undefined where its program is not built beside this file. @param mebibytes what it may keep in memory at most */
  static start(mebibytes?: number): Helper | undefined {
    const file = fileURLToPath(new URL('helper-thread.js', import.meta.url));
    return kindOnDisk(file) === 'file' ? new Helper(file, mebibytes) : undefined;
  }

  /**
   * Does one task, and ends the thread when that takes longer than it may, or is not wanted any more.
   * @throws LimitError when it was ended, or took more memory than it may: then the thread is gone
   */
  async runWithin<M extends Readonly<Record<string, (input: never) => unknown>>, N extends keyof M & string>(
    { milliseconds, signal }: TaskLimits,
    tasks: HelperTasks<M>,
    name: N,
    input: Parameters<M[N]>[0],
  ): Promise<Awaited<ReturnType<M[N]>>> {
    const limits = [...(milliseconds === undefined ? [] : [AbortSignal.timeout(milliseconds)]), ...(signal === undefined ? [] : [signal])];
    const limit = AbortSignal.any(limits);
    const ended = new Promise<never>((_resolve, reject) => {
      const stop = (): void => reject(new LimitError(signal?.aborted === true ? 'signal' : 'time'));
      if (limit.aborted) stop();
      else limit.addEventListener('abort', stop, { once: true });
    });
    try {
      return await Promise.race([this.run(tasks, name, input), ended]);
    } catch (error) {
      await this.stop();
      throw (error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY' ? new LimitError('memory') : error;
    }
  }

  /** Lets the program end while the thread waits for its next task. */
  unref(): this {
    this.#worker.unref();
    return this;
  }

  async run<M extends Readonly<Record<string, (input: never) => unknown>>, N extends keyof M & string>(
    { module }: HelperTasks<M>,
    name: N,
    input: Parameters<M[N]>[0],
  ): Promise<Awaited<ReturnType<M[N]>>> {
    return new Promise<Awaited<ReturnType<M[N]>>>((resolve, reject) => {
      const onMessage = (output: Awaited<ReturnType<M[N]>>): void => {
        this.#worker.off('error', onError);
        resolve(output);
      };
      const onError = (error: unknown): void => {
        this.#worker.off('message', onMessage);
        reject(error instanceof Error ? error : new Error(String(error)));
      };
      this.#worker.once('message', onMessage);
      this.#worker.once('error', onError);
      const message: HelperMessage = { module, name, input };
      // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread has no origin
      this.#worker.postMessage(message);
    });
  }

  async stop(): Promise<void> {
    await this.#worker.terminate();
  }
}
