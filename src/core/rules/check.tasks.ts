import { checkFolders, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** What the second thread does of a check of many themes: see {@link checkFolders}. */
export function check(input: FoldersToCheck): CheckedFolder[] {
  return checkFolders(input);
}
