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
  readonly #elsewhere: ReadonlySet<string>;
  #isSame = true;

  /**
   * @param checksums of the bytes that were packed
   * @param elsewhere the paths of files whose content is read by somebody else: see {@link ContentComparison}
   */
  constructor(entries: readonly FileEntry[], top: string, checksums: Checksums, elsewhere: ReadonlySet<string> = new Set()) {
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
    return summed(size, this.#checksums.get(entry.path), () => (this.#isSame = false));
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

/** A file of an archive, by its name there, and what its content must come to. */
export interface ExpectedFile {
  readonly name: string;
  readonly size: number;
  readonly checksum: number | undefined;
}

/** Looks at the contents of some files of an archive, and at nothing else. */
export class ContentComparison implements EntryTaker {
  readonly #left: Map<string, ExpectedFile>;
  #isSame = true;

  constructor(files: readonly ExpectedFile[]) {
    this.#left = new Map(files.map((each) => [each.name, each]));
  }

  /** Whether all of them came with the content that is expected; asked when all was read. */
  get isSame(): boolean {
    return this.#isSame && this.#left.size === 0;
  }

  addFolder(): void {}

  addLink(): void {}

  addFile(name: string): TakenFile | undefined {
    const file = this.#left.get(name);
    this.#left.delete(name);
    return file === undefined ? undefined : summed(file.size, file.checksum, () => (this.#isSame = false));
  }

  refuseKind(name: string, kind: string): never {
    throw new Error(`${name} is ${kind}`);
  }
}

/** Adds up what comes of a file, and tells when it is something else. */
function summed(size: number, checksum: number | undefined, differs: () => void): TakenFile {
  let sum = 0;
  let length = 0;
  return {
    append: (part) => {
      sum = crc32(part, sum);
      length += part.length;
    },
    end: () => {
      if (length !== size || sum !== checksum) differs();
    },
  };
}
