import { inOrder } from '../parallel/in-order.ts';
import { TaskPool } from '../parallel/task-pool.ts';
import { LimitError, type WorkerTasks } from '../parallel/workers.ts';
import { checkNamedKit, type KitToCheck, type KitTrials } from './named-kit.ts';

const KIT_TASKS: WorkerTasks<typeof import('./check-kit.tasks.ts')> = { module: 'check-kit.tasks.js' };

/** With fewer kits threads take longer to start than they save. */
const WORTH_THREADS = 3;

/**
 * Checks kits, several at a time, and gives what came of each in their order. One that takes too long, or too much memory, has that as its
 * problem.
 * @param jobs threads that work at the same time; as many as the machine has when left out
 */
export async function* checkKits(kits: readonly KitToCheck[], jobs?: number): AsyncGenerator<KitTrials> {
  const pool = TaskPool.worthFor(KIT_TASKS, kits.length, WORTH_THREADS, jobs);
  const check = async (kit: KitToCheck): Promise<KitTrials> => {
    if (pool === undefined) return checkNamedKit(kit);
    try {
      return await pool.run(KIT_TASKS, 'check', kit);
    } catch (error) {
      if (!(error instanceof LimitError)) throw error;
      return { tried: 0, problems: [{ id: kit.name, without: [], problem: { what: `the check was ended: ${pool.whyEnded(error)}` } }] };
    }
  };
  try {
    yield* inOrder(kits, pool === undefined ? 1 : 2 * pool.width, check);
  } finally {
    await pool?.end();
  }
}
