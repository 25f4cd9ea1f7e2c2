import { parentPort } from 'node:worker_threads';
import { DiskTree } from '../files/disk-tree.ts';
import type { HelperInput, HelperMessage, HelperOutput, HelperTask } from './helper.ts';

type Tasks = { readonly [T in HelperTask]: (input: HelperInput[T]) => Promise<HelperOutput[T]> };

// The program of the second thread: see helper.ts. Each task loads only what it needs.
const TASKS: Tasks = {
  glance: async (input) => (await import('../rename/tasks.ts')).glanceAt({ ...input, tree: new DiskTree(input.root) }),
  analyse: async (input) => (await import('../rename/tasks.ts')).analyseTexts({ ...input, tree: new DiskTree(input.root) }),
  check: async (input) => (await import('../rules/check-folders.ts')).checkFolders(input),
};

parentPort?.on('message', ({ task, input }: HelperMessage) => {
  void answer(task, input);
});

/** A failure ends the thread, which the other one is told of. */
async function answer(task: HelperTask, input: HelperInput[HelperTask]): Promise<void> {
  const carryOut = TASKS[task] as (given: HelperInput[HelperTask]) => Promise<unknown>;
  const output = await carryOut(input);
  // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread has no origin
  parentPort?.postMessage(output);
}
