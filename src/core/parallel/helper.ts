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

export interface HelperMessage {
  readonly module: string;
  readonly name: string;
  readonly input: unknown;
}

/** A second thread that takes over a part of the work. It does one task at a time. */
export class Helper {
  readonly #worker: Worker;

  private constructor(file: string) {
    // Most of what it makes is garbage at once: a small nursery keeps the program's memory small.
    this.#worker = new Worker(file, { resourceLimits: { maxYoungGenerationSizeMb: 8 } });
  }

  /** Starts the thread; undefined where its program is not built beside this file. */
  static start(): Helper | undefined {
    const file = fileURLToPath(new URL('helper-thread.js', import.meta.url));
    return kindOnDisk(file) === 'file' ? new Helper(file) : undefined;
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
