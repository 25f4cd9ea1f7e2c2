import { crc32 } from 'node:zlib';
import type { FileEntry } from '../files/file-tree.ts';
import type { EntryTaker, TakenFile } from './entry-taker.ts';
import { nameInArchive } from './top-folder.ts';

/** The CRC-32 of each file that an archive was made of, by path. */
export type Checksums = ReadonlyMap<string, number>;

/** Holds an archive that is read back against what it was made of. */
export class Comparison implements EntryTaker {
  readonly #left: Map<string, FileEntry>;
  readonly #checksums: Checksums;
  #isSame = true;

  /** @param checksums of the bytes that were packed */
  constructor(entries: readonly FileEntry[], top: string, checksums: Checksums) {
    this.#left = new Map(entries.map((entry) => [nameInArchive(top, entry), entry]));
    this.#checksums = checksums;
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
    let checksum = 0;
    let length = 0;
    return {
      append: (part) => {
        checksum = crc32(part, checksum);
        length += part.length;
      },
      end: () => {
        if (length !== size || checksum !== this.#checksums.get(entry.path)) this.#isSame = false;
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

function isExecutable(mode: number): boolean {
  return (mode & 0o111) !== 0;
}
