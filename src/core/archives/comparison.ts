import { crc32 } from 'node:zlib';
import { withFile, type OpenFile } from '../files/disk-file.ts';
import type { FileEntry } from '../files/file-tree.ts';
import type { EntryTaker, TakenFile } from './entry-taker.ts';
import { nameInArchive } from './top-folder.ts';

/** The CRC-32 of what was packed, for each entry in its place; 0 where it is not a file. */
export type Checksums = Uint32Array;

/** The files and settings that an archive was made from. */
export interface MadeOf {
  /** In the order in which they were written. */
  readonly entries: readonly FileEntry[];
  /** The folder of the archive that they are in. */
  readonly top: string;
  readonly checksums: Checksums;
  /** The entries whose contents are looked at: from the first place to before the second. Someone else looks at the others. */
  readonly from: number;
  readonly to: number;
}

/** Whether an archive on the disk holds what it was made of, in that order, and nothing else. */
export async function holds(path: string, read: (file: OpenFile, taker: EntryTaker) => Promise<void>, of: MadeOf): Promise<boolean> {
  const comparison = new Comparison(of);
  try {
    await withFile(path, async (file) => read(file, comparison));
  } catch {
    return false;
  }
  return comparison.isSame;
}

/** Holds an archive that is read back against what it was made of. */
class Comparison implements EntryTaker {
  readonly #of: MadeOf;
  /** How many entries came. */
  #count = 0;
  #isSame = true;

  constructor(of: MadeOf) {
    this.#of = of;
  }

  /** Whether every entry came, with the same content, and no other; asked when all was read. */
  get isSame(): boolean {
    return this.#isSame && this.#count === this.#of.entries.length;
  }

  addFolder(name: string): void {
    this.#expect(name, 'folder');
  }

  addLink(name: string, target: string): void {
    if (this.#expect(name, 'link')?.target !== target) this.#isSame = false;
  }

  addFile(name: string, size: number, mode: number): TakenFile | undefined {
    const at = this.#count;
    const entry = this.#expect(name, 'file');
    if (entry === undefined || entry.size !== size || isExecutable(entry.mode) !== isExecutable(mode)) {
      this.#isSame = false;
      return undefined;
    }
    const { from, to, checksums } = this.#of;
    if (at < from || at >= to) return undefined;
    let checksum = 0;
    let length = 0;
    return {
      append: (part) => {
        checksum = crc32(part, checksum);
        length += part.length;
      },
      end: () => {
        if (length !== size || checksum !== checksums[at]) this.#isSame = false;
      },
    };
  }

  refuseKind(name: string, kind: string): never {
    throw new Error(`${name} is ${kind}`);
  }

  #expect(name: string, kind: FileEntry['kind']): FileEntry | undefined {
    const entry = this.#of.entries[this.#count];
    this.#count += 1;
    if (entry?.kind === kind && nameInArchive(this.#of.top, entry) === name) return entry;
    this.#isSame = false;
    return undefined;
  }
}

function isExecutable(mode: number): boolean {
  return (mode & 0o111) !== 0;
}
