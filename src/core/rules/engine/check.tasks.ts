import { checkFolders, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** A worker’s part in a check of many themes: see {@link checkFolders}. */
export async function check(input: FoldersToCheck): Promise<CheckedFolder[]> {
  return checkFolders(input);
}
