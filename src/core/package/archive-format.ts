import type { FileEntry, FileTree } from '../files/file-tree.ts';
import type { MemoryTree } from '../files/memory-tree.ts';
import { readTarGz, writeTarGz } from './tar.ts';
import { readZip } from './zip-read.ts';
import { writeZip } from './zip-write.ts';

/** One archive format: how it is written and read. Equal trees give equal bytes. */
export interface ArchiveFormat {
  readonly name: 'zip' | 'tar.gz';
  write(tree: FileTree, entries: readonly FileEntry[], top: string): Promise<Buffer>;
  /** @throws RefusedError when it is damaged, or an entry would leave the folder it is unpacked to */
  read(bytes: Buffer, shownAs: string): Promise<MemoryTree>;
}

export const ARCHIVE_FORMATS: readonly ArchiveFormat[] = [
  { name: 'zip', write: writeZip, read: readZip },
  { name: 'tar.gz', write: writeTarGz, read: readTarGz },
];

/** Unpacks an archive of any format into memory; gzip shows itself by its first two bytes (RFC 1952, section 2.3.1). */
export async function readArchive(bytes: Buffer, shownAs: string): Promise<MemoryTree> {
  return bytes[0] === 0x1f && bytes[1] === 0x8b ? readTarGz(bytes, shownAs) : readZip(bytes, shownAs);
}
