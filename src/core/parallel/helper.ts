import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { kindOnDisk } from '../files/disk.ts';
import type { FileAnalysis, FileGlance } from '../rename/analyse-file.ts';
import type { AnalysisSetup, GlanceSetup } from '../rename/tasks.ts';
import type { CheckedFolder, FoldersToCheck } from '../rules/check-folders.ts';

interface FilesOnDisk {
  readonly root: string;
  readonly paths: readonly string[];
}

/** What the second thread takes and gives, by task. All of it is plain data. */
export interface HelperInput {
  readonly glance: GlanceSetup & FilesOnDisk;
  readonly analyse: AnalysisSetup & FilesOnDisk;
  readonly check: FoldersToCheck;
}
export interface HelperOutput {
  readonly glance: FileGlance[];
  readonly analyse: FileAnalysis[];
  readonly check: CheckedFolder[];
}
export type HelperTask = keyof HelperInput;
export interface HelperMessage {
  readonly task: HelperTask;
  readonly input: HelperInput[HelperTask];
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

  async run<T extends HelperTask>(task: T, input: HelperInput[T]): Promise<HelperOutput[T]> {
    return new Promise((resolve, reject) => {
      const onMessage = (output: HelperOutput[T]): void => {
        this.#worker.off('error', onError);
        resolve(output);
      };
      const onError = (error: unknown): void => {
        this.#worker.off('message', onMessage);
        reject(error instanceof Error ? error : new Error(String(error)));
      };
      this.#worker.once('message', onMessage);
      this.#worker.once('error', onError);
      const message: HelperMessage = { task, input };
      // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread has no origin
      this.#worker.postMessage(message);
    });
  }

  async stop(): Promise<void> {
    await this.#worker.terminate();
  }
}
