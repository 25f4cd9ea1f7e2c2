import type { WorkerTasks } from '../../parallel/workers.ts';

/** What workers can do of a check of many themes. */
export const CHECK_TASKS: WorkerTasks<typeof import('./check.tasks.ts')> = { module: 'check.tasks.js' };
