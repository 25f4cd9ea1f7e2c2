import { promisify } from 'node:util';
import { crc32, createDeflateRaw, deflateRaw, type ZlibOptions } from 'node:zlib';
import { Readable } from 'node:stream';
import { temporaryFolder } from '../files/disk.ts';
import { Spool } from '../files/disk-spool.ts';
import { UnreadableFileError, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { DEFLATED, directoryHeader, dosTime, endRecords, localHeader, MIN_CHUNK, STORED, type ZipEntry } from './zip-format.ts';
import type { Sink } from '../changes/disk-writer.ts';
import { endingOf } from '../text/file-kinds.ts';
import { nameInArchive } from './top-folder.ts';

/** Files up to this size are packed in memory, several at a time on the threads that deflate. */
const SMALL_BYTES = 4 << 20;
const ENTRIES_AT_A_TIME = 16;
/** As small as the common program makes at its default, or smaller, in three quarters of the time of the library's default. */
const LEVEL = 5;
/** So many bytes of small files wait at most. */
const WAITING_BYTES = 16 << 20;

interface Packed extends Pick<ZipEntry, 'method' | 'crc32' | 'packedSize' | 'size'> {
  readonly parts: Iterable<Buffer>;
}

const deflate = promisify<Buffer, ZlibOptions, Buffer>(deflateRaw);

/**
 * Writes a zip archive with everything below the given folder. The bytes depend only on paths, contents, and which files
 * are executable, and on the one time that all entries have. Memory does not grow with the theme.
 * @param time milliseconds since 1970
 */
export async function writeZip(tree: FileTree, entries: readonly FileEntry[], top: string, sink: Sink, time = 0): Promise<void> {
  const when = dosTime(time);
  const written: Buffer[] = [];
  let offset = 0;
  const emit = async (part: Buffer): Promise<void> => {
    offset += part.length;
    await sink(part);
  };
  for await (const [entry, packed] of packInOrder(tree, entries)) {
    const name = Buffer.from(nameInArchive(top, entry));
    const { parts, ...numbers } = packed;
    const record: ZipEntry = { name, mode: modeOf(entry), offset, time: when, ...numbers };
    await emit(localHeader(record));
    for (const part of parts) await emit(part);
    written.push(directoryHeader(record));
  }
  const directory = Buffer.concat(written);
  const directoryOffset = offset;
  await emit(directory);
  await emit(endRecords(entries.length, directoryOffset, directory.length));
}

function modeOf({ kind, mode }: FileEntry): number {
  if (kind === 'folder') return 0o40755;
  if (kind === 'link') return 0o120777;
  return (mode & 0o111) === 0 ? 0o100644 : 0o100755;
}

/** Packs several entries at a time and gives them out in their order. */
async function* packInOrder(tree: FileTree, entries: readonly FileEntry[]): AsyncGenerator<[FileEntry, Packed]> {
  const waiting: { entry: FileEntry; packed: Promise<Packed> }[] = [];
  let bytes = 0;
  let next = 0;
  while (next < entries.length || waiting.length > 0) {
    for (let entry = entries[next]; entry !== undefined; entry = entries[next]) {
      if (waiting.length >= ENTRIES_AT_A_TIME || (waiting.length > 0 && bytes + entry.size > WAITING_BYTES)) break;
      const packed = pack(tree, entry);
      // A failure is met when its turn comes; until then nobody waits for it.
      packed.catch(() => undefined);
      waiting.push({ entry, packed });
      bytes += entry.size;
      next++;
    }
    const first = waiting.shift();
    if (first === undefined) return;
    yield [first.entry, await first.packed];
    bytes -= first.entry.size;
  }
}

async function pack(tree: FileTree, entry: FileEntry): Promise<Packed> {
  if (entry.kind === 'folder') return packedAs(STORED, Buffer.alloc(0), Buffer.alloc(0));
  if (entry.kind === 'link') return packedTarget(entry);
  if (entry.size > SMALL_BYTES) return packLarge(tree, entry);
  const bytes = tree.read(entry.path);
  assertSize(entry, bytes.length);
  if (endingOf(entry.path).isCompressed === true || bytes.length === 0) return packedAs(STORED, bytes, bytes);
  // One piece that holds the result: many small ones would be put together afterwards.
  const deflated = await deflate(bytes, { level: LEVEL, chunkSize: Math.max(MIN_CHUNK, bytes.length) });
  return deflated.length < bytes.length ? packedAs(DEFLATED, bytes, deflated) : packedAs(STORED, bytes, bytes);
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
