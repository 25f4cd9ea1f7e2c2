import type { Readable } from 'node:stream';
import { crc32, inflateRawSync, type ZlibOptions } from 'node:zlib';
import yauzl from 'yauzl';
import { readRange, type OpenFile } from '../files/disk-file.ts';
import type { EntryTaker } from './entry-taker.ts';
import { ZipFileReader } from './zip-file-reader.ts';
import { DEFLATED, LOCAL_HEADER_BYTES, LOCAL_SIGNATURE, MIN_CHUNK, STORED } from './zip-format.ts';

/** The upper half of the external attributes is the file's mode, as in `st_mode` of POSIX. */
const TYPE_MASK = 0o170000;
const FILE_TYPE = 0o100000;
const FOLDER_TYPE = 0o040000;
const LINK_TYPE = 0o120000;

/** The extra field that holds a name in UTF-8 (APPNOTE, 4.6.9). */
const UNICODE_PATH = 0x7075;

/** Smaller entries are unpacked in one go: a stream for each would take ten times as long. */
const LARGE_BYTES = 1 << 20;

/** Most entries fit in, with what stands before them. */
const BUFFER_BYTES = 1 << 18;

/**
 * Reads a zip archive. Every entry is held against its checksum, its sizes, and what stands before its content.
 * @throws Error when it is damaged
 */
export async function readZip(file: OpenFile, taker: EntryTaker): Promise<void> {
  const zip = await yauzl.fromRandomAccessReaderPromise(new ZipFileReader(file), file.size, {
    lazyEntries: true,
    autoClose: false,
    decodeStrings: false,
  });
  const buffer = Buffer.allocUnsafe(Math.min(file.size, BUFFER_BYTES));
  for await (const entry of zip.eachEntry()) {
    const name = nameOf(entry);
    const mode = entry.externalFileAttributes >>> 16;
    const type = mode & TYPE_MASK;
    if (name.endsWith('/')) {
      if (entry.uncompressedSize > 0) taker.refuseKind(name, 'a folder with a content');
      taker.addFolder(name, mode);
    } else if (type === LINK_TYPE) taker.addLink(name, (await readLink(zip, file, entry, buffer)).toString('utf8'));
    else if (type === FOLDER_TYPE) taker.refuseKind(name, 'a folder with a content');
    else if (type !== 0 && type !== FILE_TYPE) taker.refuseKind(name, 'a device, a pipe or a socket');
    else {
      const target = taker.addFile(name, entry.uncompressedSize, mode);
      if (target === undefined) continue;
      await readInto(zip, file, entry, buffer, (part) => target.append(part));
      target.end();
    }
  }
}

/**
 * The name of an entry: UTF-8 where its flag says so (bit 11) or an extra field holds it. Where neither does, nearly every
 * program writes UTF-8 all the same. An undecodable name holds U+FFFD.
 */
function nameOf({ fileNameRaw, generalPurposeBitFlag, extraFields }: yauzl.Entry): string {
  if (!extraFields.some((field) => field.id === UNICODE_PATH)) return fileNameRaw.toString('utf8');
  return yauzl.getFileNameLowLevel(generalPurposeBitFlag, fileNameRaw, extraFields, true);
}

async function readLink(zip: yauzl.ZipFile, file: OpenFile, entry: yauzl.Entry, buffer: Buffer): Promise<Buffer> {
  if (entry.uncompressedSize > LARGE_BYTES) throw new Error(`the target of the link “${nameOf(entry)}” is too long`);
  const parts: Buffer[] = [];
  await readInto(zip, file, entry, buffer, (part) => void parts.push(Buffer.from(part)));
  return Buffer.concat(parts);
}

/**
 * Reads an entry's content.
 * @param buffer memory for a part of the archive, used where it is large enough
 * @throws Error when it is not what the archive's directory says
 */
async function readInto(
  zip: yauzl.ZipFile,
  file: OpenFile,
  entry: yauzl.Entry,
  buffer: Buffer,
  take: (part: Buffer) => void,
): Promise<void> {
  const { compressionMethod, compressedSize, uncompressedSize } = entry;
  const name = nameOf(entry);
  if (entry.isEncrypted()) throw new Error(`“${name}” is encrypted`);
  if (compressionMethod !== STORED && compressionMethod !== DEFLATED)
    throw new Error(`“${name}” is compressed in a way that is not known here (method ${compressionMethod})`);
  const isDeflated = compressionMethod === DEFLATED;
  if (!isDeflated && compressedSize !== uncompressedSize) throw new Error(`the sizes of “${name}” contradict each other`);
  const isSmall = compressedSize <= LARGE_BYTES && uncompressedSize <= LARGE_BYTES;
  const { start, read } = startOfContent(file, entry, isSmall ? compressedSize : 0, buffer);
  let checksum = 0;
  let length = 0;
  const check = (part: Buffer): void => {
    checksum = crc32(part, checksum);
    length += part.length;
    if (length > uncompressedSize) throw new Error(`“${name}” is larger than it says`);
    take(part);
  };
  if (isSmall) {
    const packed = read.length === compressedSize ? read : readRange(file, start, compressedSize, buffer);
    check(isDeflated ? inflateRawSync(packed, inflating(uncompressedSize)) : packed);
  } else {
    const stream = await new Promise<Readable>((resolve, reject) => {
      // The library's promise of the same calls another function.
      zip.openReadStreamLowLevel(start, compressedSize, 0, compressedSize, isDeflated, uncompressedSize, (error, opened) =>
        error === null ? resolve(opened) : reject(error),
      );
    });
    for await (const part of stream) check(part as Buffer);
  }
  if (length !== uncompressedSize) throw new Error(`“${name}” is shorter than it says`);
  if (checksum !== entry.crc32) throw new Error(`“${name}” is not what was packed: its checksum differs`);
}

/** Takes no more than it says that it holds, in one piece. */
function inflating(size: number): ZlibOptions {
  return { maxOutputLength: Math.max(1, size), chunkSize: Math.max(MIN_CHUNK, size) };
}

/**
 * Where an entry's content begins, and what was read of it on the way, which costs no call to the system.
 * @param wanted so many bytes of it
 * @throws Error when what stands before it is about another entry
 */
function startOfContent(file: OpenFile, entry: yauzl.Entry, wanted: number, buffer: Buffer): { start: number; read: Buffer } {
  const { relativeOffsetOfLocalHeader: at, fileNameRaw } = entry;
  const headerBytes = LOCAL_HEADER_BYTES + fileNameRaw.length;
  const header = readRange(file, at, Math.max(headerBytes, Math.min(headerBytes + wanted, file.size - at)), buffer);
  if (header.readUInt32LE(0) !== LOCAL_SIGNATURE) throw new Error(`“${nameOf(entry)}” is not where the archive’s directory has it`);
  const nameBytes = header.readUInt16LE(26);
  if (nameBytes !== fileNameRaw.length || !header.subarray(LOCAL_HEADER_BYTES, headerBytes).equals(fileNameRaw))
    throw new Error(`“${nameOf(entry)}” has another name where its content stands`);
  const contentAt = headerBytes + header.readUInt16LE(28);
  return { start: at + contentAt, read: header.subarray(contentAt) };
}
