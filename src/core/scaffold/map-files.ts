import { baseOf, folderOf, type FileTree } from '../files/file-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import { readText } from '../files/read-text.ts';

/** What becomes of the files of a tree. */
export interface FileChange {
  /** The new name of a file or folder; the same when it stays. */
  name?(base: string, path: string): string;
  /** The new text of a file; undefined when it stays. */
  text?(text: string, path: string): string | undefined;
}

/** A tree with other names and texts. Folders take what is in them along. */
export function mapFiles(tree: FileTree, change: FileChange): FileTree {
  const moved = new Map<string, string>();
  const items = tree.entries.map((entry): MemoryItem => {
    const base = change.name?.(baseOf(entry.path), entry.path) ?? baseOf(entry.path);
    const folder = moved.get(folderOf(entry.path)) ?? folderOf(entry.path);
    const path = folder === '' ? base : `${folder}/${base}`;
    moved.set(entry.path, path);
    if (entry.kind === 'folder') return { kind: 'folder', path, mode: entry.mode };
    if (entry.kind === 'link') return { kind: 'link', path, target: entry.target ?? '' };
    const source = change.text === undefined ? undefined : readText(tree, entry.path);
    const text = source === undefined ? undefined : change.text?.(source.text, entry.path);
    const bytes = text === undefined || text === source?.text ? undefined : source?.encode(text);
    return bytes === undefined
      ? { kind: 'file', path, content: { tree, path: entry.path }, size: entry.size, mode: entry.mode }
      : { kind: 'file', path, content: { bytes }, size: bytes.length, mode: entry.mode };
  });
  return new MemoryTree(items);
}
