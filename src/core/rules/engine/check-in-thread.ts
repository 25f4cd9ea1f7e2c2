import type { HelperTasks } from '../../parallel/helper.ts';

/** What a second thread can do of a check of many themes. */
export const CHECK_TASKS: HelperTasks<typeof import('./check.tasks.ts')> = { module: 'check.tasks.js' };
