import type { FileTree } from './file-tree.ts';
import { MemoryTree, type MemoryItem } from './memory-tree.ts';

/** The items of a tree, their contents taken from it. */
function itemsOf(tree: FileTree): MemoryItem[] {
  return tree.entries.map((entry): MemoryItem => {
    if (entry.kind === 'link') return { kind: 'link', path: entry.path, target: entry.target ?? '' };
    if (entry.kind === 'folder') return { kind: 'folder', path: entry.path, mode: entry.mode };
    return { kind: 'file', path: entry.path, content: { tree, path: entry.path }, size: entry.size, mode: entry.mode };
  });
}

/** A tree with one file's bytes replaced or added. */
export function withFile(tree: FileTree, path: string, bytes: Buffer): FileTree {
  return withFiles(tree, new Map([[path, bytes]]));
}

/** A tree with the bytes of files replaced or added, by their paths. */
export function withFiles(tree: FileTree, files: ReadonlyMap<string, Buffer>): FileTree {
  const others = itemsOf(tree).filter((item) => !files.has(item.path));
  const items = [...files].map(([path, bytes]): MemoryItem => ({
    kind: 'file',
    path,
    content: { bytes },
    size: bytes.length,
    mode: tree.get(path)?.mode ?? 0o644,
  }));
  return new MemoryTree([...others, ...items]);
}

/** A tree without one of its files. */
export function withoutFile(tree: FileTree, path: string): FileTree {
  return new MemoryTree(itemsOf(tree).filter((item) => item.path !== path));
}
