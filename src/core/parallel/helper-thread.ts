import { parentPort } from 'node:worker_threads';
import type { HelperMessage } from './helper.ts';

// The program of the second thread: see helper.ts. It loads the module that a task names when it is asked for.
parentPort?.on('message', (message: HelperMessage) => {
  void answer(message);
});

/** A failure ends the thread, which the other one is told of. */
async function answer({ module, name, input }: HelperMessage): Promise<void> {
  const tasks = (await import(new URL(module, import.meta.url).href)) as Record<string, (given: unknown) => unknown>;
  const output = await tasks[name]?.(input);
  // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread has no origin
  parentPort?.postMessage(output);
}
