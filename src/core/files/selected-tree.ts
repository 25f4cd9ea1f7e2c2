import type { FileEntry, FileTree } from './file-tree.ts';

/** Some of the entries of a tree, as a tree of their own. */
export class SelectedTree implements FileTree {
  readonly entries: readonly FileEntry[];
  readonly #tree: FileTree;
  readonly #selected: ReadonlyMap<string, FileEntry>;

  constructor(tree: FileTree, entries: readonly FileEntry[]) {
    this.#tree = tree;
    this.entries = entries;
    this.#selected = new Map(entries.map((entry) => [entry.path, entry]));
  }

  get(path: string): FileEntry | undefined {
    return this.#selected.get(path);
  }

  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer {
    return this.#tree.read(path, isEnough);
  }

  parts(path: string): Iterable<Buffer> {
    return this.#tree.parts(path);
  }

  tail(path: string, length: number): Buffer {
    return this.#tree.tail(path, length);
  }
}
