import { checkFolders, type CheckedFolder, type FoldersToCheck } from './check-folders.ts';

/** What a worker does of a check of many themes: see {@link checkFolders}. */
export async function check(input: FoldersToCheck): Promise<CheckedFolder[]> {
  return checkFolders(input);
}
