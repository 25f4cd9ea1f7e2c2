import type { FileEntry, FileTree } from './file-tree.ts';

/** A folder of a tree as a tree of its own. */
export class SubTree implements FileTree {
  readonly entries: readonly FileEntry[];
  readonly #tree: FileTree;
  readonly #prefix: string;

  constructor(tree: FileTree, folder: string) {
    this.#tree = tree;
    this.#prefix = `${folder}/`;
    this.entries = tree.entries.flatMap((entry) => (entry.path.startsWith(this.#prefix) ? [this.#inside(entry)] : []));
  }

  get(path: string): FileEntry | undefined {
    const entry = this.#tree.get(this.#prefix + path);
    return entry === undefined ? undefined : this.#inside(entry);
  }

  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer {
    return this.#tree.read(this.#prefix + path, isEnough);
  }

  tail(path: string, length: number): Buffer {
    return this.#tree.tail(this.#prefix + path, length);
  }

  parts(path: string): Iterable<Buffer> {
    return this.#tree.parts(this.#prefix + path);
  }

  #inside(entry: FileEntry): FileEntry {
    return { ...entry, path: entry.path.slice(this.#prefix.length) };
  }
}
