import type { FileContent } from '../files/memory-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import type { FileEntry, FileTree } from '../files/file-tree.ts';

/** One step of a change plan. Paths are relative to the plan's root, with `/`. */
export type Operation =
  | {
      readonly op: 'create';
      readonly path: string;
      readonly content: FileContent;
      readonly size: number;
      readonly mode: number;
      /** When it was changed last, in milliseconds since 1970; now when left out. */
      readonly mtimeMs?: number | undefined;
    }
  | { readonly op: 'folder'; readonly path: string; readonly mode: number }
  | { readonly op: 'link'; readonly path: string; readonly target: string }
  | { readonly op: 'remove'; readonly path: string }
  /** `before` are the bytes that the edit was planned on. */
  | { readonly op: 'edit'; readonly path: string; readonly before: Buffer; readonly bytes: Buffer };

/** A folder that moves as a whole, from one root to another. */
export interface CarriedFolder {
  readonly from: string;
  readonly to: string;
}

/** The changes that a command intends to make below one folder. A plan is a value: nothing happens until it is applied. */
export interface ChangePlan {
  /** Its purpose, for people: “clone albar → lumbre”. */
  readonly title: string;
  /** The folder that the operations are relative to, absolute. */
  readonly root: string;
  /** Whether the root itself is new: then it is built beside its place and moved there in one step. */
  readonly isNewRoot: boolean;
  /** For a new root: whether it is one file, and no folder; its only operation makes it, under its own name. */
  readonly isFile?: boolean | undefined;
  /** For a new root: the folder that it takes the place of, absolute. Operations may take files from there. */
  readonly replaces?: string | undefined;
  /** For a new root: its permission bits; those of the folder that it replaces when left out. */
  readonly rootMode?: number | undefined;
  /** For a new root in place of another: folders of tools that go along unlooked at, by their paths in both. */
  readonly carried?: readonly CarriedFolder[] | undefined;
  /** The state that it was planned on, besides the trees that its operations take files from. */
  readonly basis?: FileTree | undefined;
  readonly operations: readonly Operation[];
}

/** The tree that a plan for a new root leads to, readable before anything is written. */
export function plannedTree(operations: readonly Operation[]): MemoryTree {
  return new MemoryTree(plannedItems(operations));
}

/** The thing that a plan for a new root makes. */
export function plannedItems(operations: readonly Operation[]): MemoryItem[] {
  return operations.flatMap((operation): MemoryItem[] => {
    switch (operation.op) {
      case 'create':
        return [{ kind: 'file', ...operation }];
      case 'folder':
        return [{ kind: 'folder', ...operation }];
      case 'link':
        return [{ kind: 'link', ...operation }];
      case 'edit':
      case 'remove':
        return [];
    }
  });
}

/** The operations that make a copy of a tree, or of some of its entries. @param under the folder of the plan that the copy lies in */
export function copyOperations(tree: FileTree, entries: readonly FileEntry[] = tree.entries, under = ''): Operation[] {
  return entries.map((entry): Operation => {
    const { mode, size } = entry;
    const path = under === '' ? entry.path : `${under}/${entry.path}`;
    if (entry.kind === 'folder') return { op: 'folder', path, mode };
    if (entry.kind === 'link') return { op: 'link', path, target: entry.target ?? '' };
    return { op: 'create', path, content: { tree, path: entry.path }, size, mode };
  });
}
