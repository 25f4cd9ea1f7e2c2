import type { FileEntry, FileTree } from '../files/file-tree.ts';
import type { EntryTaker, TakenFile } from './entry-taker.ts';
import { nameInArchive } from './top-folder.ts';

/** Holds an archive that is read back against the tree that it was made from. */
export class Comparison implements EntryTaker {
  readonly #tree: FileTree;
  readonly #left: Map<string, FileEntry>;
  #isSame = true;

  constructor(tree: FileTree, entries: readonly FileEntry[], top: string) {
    this.#tree = tree;
    this.#left = new Map(entries.map((entry) => [nameInArchive(top, entry), entry]));
  }

  /** Whether every entry came once, with the same content, and no other; asked when all was read. */
  get isSame(): boolean {
    return this.#isSame && this.#left.size === 0;
  }

  addFolder(name: string): void {
    this.#expect(name, 'folder');
  }

  addLink(name: string, target: string): void {
    if (this.#expect(name, 'link')?.target !== target) this.#isSame = false;
  }

  addFile(name: string, size: number, mode: number): TakenFile | undefined {
    const entry = this.#expect(name, 'file');
    if (entry === undefined || entry.size !== size || isExecutable(entry.mode) !== isExecutable(mode)) {
      this.#isSame = false;
      return undefined;
    }
    const original = this.#tree.parts(entry.path)[Symbol.iterator]();
    let held: Buffer = Buffer.alloc(0);
    return {
      append: (part) => {
        for (let rest = part; rest.length > 0 && this.#isSame;) {
          if (held.length === 0) held = next(original) ?? held;
          const length = Math.min(held.length, rest.length);
          if (length === 0 || !held.subarray(0, length).equals(rest.subarray(0, length))) this.#isSame = false;
          held = held.subarray(length);
          rest = rest.subarray(length);
        }
      },
      end: () => {
        if (held.length > 0 || next(original) !== undefined) this.#isSame = false;
        original.return?.();
      },
    };
  }

  refuseKind(name: string, kind: string): never {
    throw new Error(`${name} is ${kind}`);
  }

  #expect(name: string, kind: FileEntry['kind']): FileEntry | undefined {
    const entry = this.#left.get(name);
    this.#left.delete(name);
    if (entry?.kind === kind) return entry;
    this.#isSame = false;
    return undefined;
  }
}

/** The next part that is not empty. */
function next(parts: Iterator<Buffer>): Buffer | undefined {
  for (let step = parts.next(); step.done !== true; step = parts.next()) if (step.value.length > 0) return step.value;
  return undefined;
}

function isExecutable(mode: number): boolean {
  return (mode & 0o111) !== 0;
}
