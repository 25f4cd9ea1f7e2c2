import { crc32 } from 'node:zlib';
import { withFile, type OpenFile } from '../files/disk-file.ts';
import type { FileEntry } from '../files/file-tree.ts';
import type { EntryTaker, TakenFile } from './entry-taker.ts';
import { nameInArchive } from './top-folder.ts';

/** The CRC-32 of each file that an archive was made of, by path. */
export type Checksums = ReadonlyMap<string, number>;

/** What an archive was made of. */
export interface MadeOf {
  readonly entries: readonly FileEntry[];
  /** The folder of the archive that they are in. */
  readonly top: string;
  /** Of the bytes that were packed. */
  readonly checksums: Checksums;
  /** The paths of files whose contents somebody else looks at. */
  readonly elsewhere: ReadonlySet<string>;
}

/** Whether an archive on the disk holds what it was made of, and nothing else. */
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
  readonly #left: Map<string, FileEntry>;
  readonly #checksums: Checksums;
  readonly #elsewhere: ReadonlySet<string>;
  #isSame = true;

  constructor({ entries, top, checksums, elsewhere }: MadeOf) {
    this.#left = new Map(entries.map((entry) => [nameInArchive(top, entry), entry]));
    this.#checksums = checksums;
    this.#elsewhere = elsewhere;
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
    if (this.#elsewhere.has(entry.path)) return undefined;
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
