import type { FolderWork } from '../../parallel/folder-pool.ts';
import type { WorkerTasks } from '../../parallel/workers.ts';
import { checkFolders, failedCheck, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** What workers can do of a check of many themes. */
export const CHECK_TASKS: WorkerTasks<typeof import('./check.tasks.ts')> = { module: 'check.tasks.js' };

/** The check of many themes on several threads. */
export const CHECK_WORK: FolderWork<FoldersToCheck, CheckedFolder, 'check'> = {
  tasks: CHECK_TASKS,
  name: 'check',
  here: checkFolders,
  called: 'check',
  doing: 'checking',
  failed: failedCheck,
};
