import { crc32, createDeflateRaw } from 'node:zlib';
import { Readable } from 'node:stream';
import { temporaryFolder } from '../files/disk.ts';
import { Spool } from '../files/disk-spool.ts';
import { UnreadableFileError, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { DEFLATED, directoryHeader, dosTime, endRecords, localHeader, STORED, type ZipEntry } from './zip-format.ts';
import type { Sink } from '../changes/disk-writer.ts';
import { endingOf } from '../text/file-kinds.ts';
import type { Checksums } from './comparison.ts';
import { nameInArchive } from './top-folder.ts';
import { deflated, LEVEL } from './deflate-blocks.ts';
import { DeflatedAhead } from './deflated-ahead.ts';

/** Files up to this size are packed in memory. */
const SMALL_BYTES = 4 << 20;

interface Packed extends Pick<ZipEntry, 'method' | 'crc32' | 'packedSize' | 'size'> {
  readonly parts: Iterable<Buffer>;
}

/**
 * Writes a zip archive with everything below the given folder. The bytes depend only on paths, contents, and which files
 * are executable, and on the one time that all entries have. Memory does not grow with the theme.
 * @param time milliseconds since 1970
 */
export async function writeZip(
  tree: FileTree,
  entries: readonly FileEntry[],
  top: string,
  sink: Sink,
  time = 0,
  ahead?: DeflatedAhead,
): Promise<Checksums> {
  const when = dosTime(time);
  const checksums = new Uint32Array(entries.length);
  const written: Buffer[] = [];
  let offset = 0;
  const emit = async (part: Buffer): Promise<void> => {
    offset += part.length;
    await sink(part);
  };
  for (const [i, entry] of entries.entries()) {
    const name = Buffer.from(nameInArchive(top, entry));
    const { parts, ...numbers } = await pack(tree, entry, ahead);
    const record: ZipEntry = { name, mode: modeOf(entry), offset, time: when, ...numbers };
    await emit(localHeader(record));
    for (const part of parts) await emit(part);
    written.push(directoryHeader(record));
    if (entry.kind === 'file') checksums[i] = record.crc32;
  }
  const directory = Buffer.concat(written);
  const directoryOffset = offset;
  await emit(directory);
  await emit(endRecords(entries.length, directoryOffset, directory.length));
  return checksums;
}

function modeOf({ kind, mode }: FileEntry): number {
  if (kind === 'folder') return 0o40755;
  if (kind === 'link') return 0o120777;
  return (mode & 0o111) === 0 ? 0o100644 : 0o100755;
}

async function pack(tree: FileTree, entry: FileEntry, ahead: DeflatedAhead | undefined): Promise<Packed> {
  if (entry.kind === 'folder') return packedAs(STORED, Buffer.alloc(0), Buffer.alloc(0));
  if (entry.kind === 'link') return packedTarget(entry);
  if (entry.size > SMALL_BYTES) return packLarge(tree, entry);
  const done = await ahead?.file(entry.path);
  if (done !== undefined) {
    const { bytes, crc32: checksum } = done;
    const method = bytes.length < entry.size ? DEFLATED : STORED;
    return { method, crc32: checksum, size: entry.size, packedSize: bytes.length, parts: [bytes] };
  }
  const bytes = tree.read(entry.path);
  assertSize(entry, bytes.length);
  if (!isToDeflate(entry)) return packedAs(STORED, bytes, bytes);
  const small = deflated(bytes);
  return small.length < bytes.length ? packedAs(DEFLATED, bytes, small) : packedAs(STORED, bytes, bytes);
}

/** Begins to pack what {@link writeZip} will be asked for, on workers where these are worth their start. */
export function beginZip(tree: FileTree, entries: readonly FileEntry[], jobs?: number): DeflatedAhead | undefined {
  const files = entries.filter((entry) => entry.kind === 'file' && entry.size <= SMALL_BYTES && isToDeflate(entry));
  return DeflatedAhead.begin(tree, files, jobs);
}

function isToDeflate({ path, size }: FileEntry): boolean {
  return size > 0 && endingOf(path).isCompressed !== true;
}

function packedTarget({ target = '' }: FileEntry): Packed {
  const bytes = Buffer.from(target);
  return packedAs(STORED, bytes, bytes);
}

function packedAs(method: number, bytes: Buffer, packed: Buffer): Packed {
  return { method, crc32: crc32(bytes), size: bytes.length, packedSize: packed.length, parts: [packed] };
}

/** The local header tells checksum and sizes before the content: a large one waits on the disk until they are known. */
async function packLarge(tree: FileTree, entry: FileEntry): Promise<Packed> {
  let checksum = 0;
  let size = 0;
  function* counted(): Generator<Buffer> {
    for (const part of tree.parts(entry.path)) {
      checksum = crc32(part, checksum);
      size += part.length;
      yield part;
    }
  }
  const isStored = endingOf(entry.path).isCompressed === true;
  const { append, end } = new Spool(temporaryFolder()).begin();
  const parts = isStored ? counted() : (Readable.from(counted()).pipe(createDeflateRaw({ level: LEVEL })) as AsyncIterable<Buffer>);
  for await (const part of parts) append(part);
  assertSize(entry, size);
  const stored = end();
  return { method: isStored ? STORED : DEFLATED, crc32: checksum, size, packedSize: stored.size, parts: stored.parts() };
}

function assertSize({ path, size }: FileEntry, now: number): void {
  if (now !== size) throw new UnreadableFileError(path, 'it was changed in the meantime');
}
