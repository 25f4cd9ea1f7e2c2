import { crc32, deflateRawSync } from 'node:zlib';
import { readRange, withFile } from '../files/disk-file.ts';
import { UnreadableFileError, type FileEntry } from '../files/file-tree.ts';
import { MIN_CHUNK } from './zip-format.ts';

/** As small as the common program makes at its default, or smaller, in three quarters of the time of the library's default. */
export const LEVEL = 5;

/** Deflates in one piece: many small ones would be put together afterward. */
export function deflated(bytes: Buffer): Buffer {
  return deflateRawSync(bytes, { level: LEVEL, chunkSize: Math.max(MIN_CHUNK, bytes.length) });
}

/** A file that is to be deflated, with its size in bytes. */
export type FileToDeflate = Pick<FileEntry, 'path' | 'size'>;

/** A block of files, which one thread deflates. */
export interface BlockToDeflate {
  /** The folder that the paths are below; absolute. */
  readonly root: string;
  readonly files: readonly FileToDeflate[];
  readonly block: number;
  /** For each block, in memory that all threads see, whether one has begun it. */
  readonly begun: Int32Array;
}

/** What came of a block. */
export interface DeflatedBlock {
  /** Of all its files, one after the other; a file's own bytes where deflating does not make it smaller. */
  readonly bytes: Uint8Array;
  /** For each file, in bytes. */
  readonly packedSizes: Uint32Array;
  /** For each file, the CRC-32 of its content. */
  readonly checksums: Uint32Array;
}

/** A worker’s part in a package: deflates a block, unless another thread has begun it. */
export function deflateBlock({ root, files, block, begun }: BlockToDeflate): DeflatedBlock | undefined {
  if (!isMine(begun, block)) return undefined;
  return deflateFiles(files, (path) => withFile(`${root}/${path}`, (file) => readRange(file, 0, file.size)));
}

/** Whether a block is this thread's to deflate: the first one that asks has it. */
export function isMine(begun: Int32Array, block: number): boolean {
  return Atomics.exchange(begun, block, 1) === 0;
}

/** @throws UnreadableFileError when a file cannot be read, or has another size by now */
export function deflateFiles(files: readonly FileToDeflate[], read: (path: string) => Buffer): DeflatedBlock {
  const parts: Buffer[] = [];
  const checksums = new Uint32Array(files.length);
  for (const [i, { path, size }] of files.entries()) {
    const bytes = read(path);
    if (bytes.length !== size) throw new UnreadableFileError(path, 'it was changed in the meantime');
    const small = deflated(bytes);
    parts.push(small.length < bytes.length ? small : bytes);
    checksums[i] = crc32(bytes);
  }
  return { bytes: Buffer.concat(parts), packedSizes: Uint32Array.from(parts, ({ length }) => length), checksums };
}

/** So much of the files, and so many of them, is deflated at a time. */
const BLOCK_BYTES = 1 << 20;
const BLOCK_FILES = 64;

export function blocksOf<F extends FileToDeflate>(files: readonly F[]): F[][] {
  const blocks: F[][] = [];
  let bytes = 0;
  for (const file of files) {
    const last = blocks.at(-1);
    if (last === undefined || bytes + file.size > BLOCK_BYTES || last.length === BLOCK_FILES) {
      blocks.push([file]);
      bytes = 0;
    } else last.push(file);
    bytes += file.size;
  }
  return blocks;
}
