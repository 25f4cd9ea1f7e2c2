import { parentPort } from 'node:worker_threads';
import { DiskTree } from '../files/disk-tree.ts';
import type { HelperInput, HelperMessage, HelperTask } from './helper.ts';
import { analyseTexts, glanceAt } from './tasks.ts';

// The program of the second thread: see helper.ts.
parentPort?.on('message', ({ task, input }: HelperMessage) => {
  // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread has no origin
  parentPort?.postMessage(carryOut(task, input));
});

function carryOut(task: HelperTask, input: HelperInput[HelperTask]): unknown {
  const tree = new DiskTree(input.root);
  if (task === 'glance') return glanceAt({ ...(input as HelperInput['glance']), tree });
  return analyseTexts({ ...(input as HelperInput['analyse']), tree });
}
