import { crc32, deflateRawSync } from 'node:zlib';
import { readRange, withFile } from '../files/disk-file.ts';
import { SharedSpool } from '../files/disk-spool.ts';
import { UnreadableFileError, type FileEntry } from '../files/file-tree.ts';
import { holds, type MadeOf } from './comparison.ts';
import { readZip } from './zip-read.ts';
import { MIN_CHUNK } from './zip-format.ts';

/** As small as the common program makes at its default, or smaller, in three quarters of the time of the library's default. */
export const LEVEL = 5;

/** Deflates in one piece: many small ones would be put together afterwards. */
export function deflated(bytes: Buffer): Buffer {
  return deflateRawSync(bytes, { level: LEVEL, chunkSize: Math.max(MIN_CHUNK, bytes.length) });
}

/** Files that are to be deflated, in blocks, and what is known of them so far, in memory that two threads see. */
export interface DeflateWork {
  /** The folder that the paths are below. */
  readonly root: string;
  readonly files: readonly Pick<FileEntry, 'path' | 'size'>[];
  /** For each block, the file after its last one. */
  readonly ends: readonly number[];
  /** One number: the first block that nobody has begun. */
  readonly begun: Int32Array;
  /** For each block, 1 when all below is told of its files. */
  readonly done: Int32Array;
  /** For each block, where its bytes begin in the spool. */
  readonly starts: Float64Array;
  /** For each file, in bytes; as large as the file where deflating does not make it smaller, and the bytes are the file's. */
  readonly packedSizes: Uint32Array;
  readonly checksums: Uint32Array;
  readonly spool: SharedSpool['shared'];
}

/** So much of the files, and so many of them, is begun at a time. */
const BLOCK_BYTES = 1 << 20;
const BLOCK_FILES = 64;

/** What the second thread does: blocks that nobody has begun, until there are none. */
export function deflateBlocks(work: DeflateWork): void {
  const spool = new SharedSpool(work.spool);
  // One piece of memory for all of them, as far as they fit.
  const buffer = Buffer.alloc(BLOCK_BYTES);
  const read = (path: string): Buffer => withFile(`${work.root}/${path}`, (file) => readRange(file, 0, file.size, buffer));
  for (let block = nextBlock(work); block !== undefined; block = nextBlock(work)) deflateBlock(work, block, spool, read);
}

/** What the second thread does of reading back: see {@link holds}. */
export async function zipHolds({ path, of }: { path: string; of: MadeOf }): Promise<boolean> {
  return holds(path, readZip, of);
}

/** The next block, for whoever asks first; undefined when all are begun. */
export function nextBlock({ begun, ends }: DeflateWork): number | undefined {
  const block = Atomics.add(begun, 0, 1);
  return block < ends.length ? block : undefined;
}

export function isDone({ done }: DeflateWork, block: number): boolean {
  return Atomics.load(done, block) === 1;
}

export function deflateBlock(work: DeflateWork, block: number, spool: SharedSpool, read: (path: string) => Buffer): void {
  const { files, ends, done, starts, packedSizes, checksums } = work;
  const parts: Buffer[] = [];
  for (let at = ends[block - 1] ?? 0; at < (ends[block] ?? 0); at++) {
    const file = files[at];
    if (file === undefined) break;
    const bytes = read(file.path);
    if (bytes.length !== file.size) throw new UnreadableFileError(file.path, 'it was changed in the meantime');
    const small = deflated(bytes);
    const packed = small.length < bytes.length ? small : Buffer.from(bytes);
    parts.push(packed);
    packedSizes[at] = packed.length;
    checksums[at] = crc32(bytes);
  }
  starts[block] = spool.put(Buffer.concat(parts));
  Atomics.store(done, block, 1);
}

export function blockEnds(files: readonly FileEntry[]): number[] {
  const ends: number[] = [];
  let bytes = 0;
  let first = 0;
  for (const [i, { size }] of files.entries()) {
    if (i > first && (bytes + size > BLOCK_BYTES || i - first === BLOCK_FILES)) {
      ends.push(i);
      first = i;
      bytes = 0;
    }
    bytes += size;
  }
  return files.length === 0 ? [] : [...ends, files.length];
}
