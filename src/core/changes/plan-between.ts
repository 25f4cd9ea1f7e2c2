import { compareText, folderOf, type FileTree, isInFolder } from '../files/file-tree.ts';
import { copyOperations, type ChangePlan, type Operation } from './plan.ts';

/**
 * The plan that makes of a folder's files others: edits and new files in their places; where files go, the folder is built
 * again beside itself and put into its place.
 * @param folder absolute
 * @param before the files as they are on disk
 * @param touched the paths that may differ
 */
export function planBetween(title: string, folder: string, before: FileTree, after: FileTree, touched: ReadonlySet<string>): ChangePlan {
  const goes = [...touched].some((path) => before.get(path) !== undefined && after.get(path) === undefined);
  if (goes) {
    const carried = (before.disk?.skipped ?? []).map((path) => ({ from: path, to: path }));
    const operations = copyOperations(after).filter(
      (operation) => operation.op !== 'folder' || hasFiles(after, operation.path) || !hasFiles(before, operation.path),
    );
    return { title, root: folder, isNewRoot: true, replaces: folder, carried, operations };
  }
  const operations = after.entries.flatMap(({ path, kind, mode, size }): Operation[] => {
    if (kind !== 'file' || !touched.has(path)) return [];
    if (before.get(path) === undefined) return [{ op: 'create', path, content: { bytes: after.read(path) }, size, mode }];
    const [old, now] = [before.read(path), after.read(path)];
    return old.equals(now) ? [] : [{ op: 'edit', path, before: old, bytes: now }];
  });
  operations.sort((a, b) => compareText(a.path, b.path));
  const folders = newFolders(before, operations);
  return { title, root: folder, isNewRoot: false, operations: [...folders, ...operations] };
}

/** A folder that lost its last file goes with it; one that was empty before stays. */
function hasFiles(tree: FileTree, folder: string): boolean {
  return tree.entries.some(({ path, kind }) => kind !== 'folder' && isInFolder(path, folder));
}

function newFolders(before: FileTree, operations: readonly Operation[]): Operation[] {
  const folders = new Set<string>();
  for (const { path, op } of operations) {
    if (op !== 'create') continue;
    for (let at = folderOf(path); at !== '' && before.get(at) === undefined; at = folderOf(at)) folders.add(at);
  }
  return [...folders].sort(compareText).map((path) => ({ op: 'folder', path, mode: 0o755 }));
}
