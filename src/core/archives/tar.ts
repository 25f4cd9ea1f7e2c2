import { pipeline, Readable } from 'node:stream';
import { crc32, createGunzip, createGzip } from 'node:zlib';
import { Header, Parser, Pax, type ReadEntry } from 'tar';
import { streamOf, type OpenFile } from '../files/disk-file.ts';
import { UnreadableFileError, type FileEntry, type FileTree } from '../files/file-tree.ts';
import type { EntryTaker } from './entry-taker.ts';
import type { Sink } from '../changes/disk-writer.ts';
import type { Checksums } from './comparison.ts';
import { pathInArchive } from './top-folder.ts';

const BLOCK = 512;

/**
 * Writes a gzipped tar archive (POSIX.1-2001, “pax”) with everything below the given folder.
 * @param time of all entries, in milliseconds since 1970: equal themes give equal bytes
 */
export async function writeTarGz(tree: FileTree, entries: readonly FileEntry[], top: string, sink: Sink, time = 0): Promise<Checksums> {
  const checksums = new Uint32Array(entries.length);
  const gzip = createGzip();
  Readable.from(tarBlocks(tree, entries, top, new Date(time), checksums)).pipe(gzip);
  for await (const part of gzip as AsyncIterable<Buffer>) await sink(part);
  return checksums;
}

function* tarBlocks(tree: FileTree, entries: readonly FileEntry[], top: string, time: Date, checksums: Checksums): Generator<Buffer> {
  for (const [i, entry] of entries.entries()) {
    yield* headerBlocks(entry, pathInArchive(top, entry.path), entry.kind === 'file' ? entry.size : 0, time);
    if (entry.kind !== 'file') continue;
    let length = 0;
    let checksum = 0;
    for (const part of tree.parts(entry.path)) {
      length += part.length;
      checksum = crc32(part, checksum);
      yield part;
    }
    checksums[i] = checksum;
    if (length !== entry.size) throw new UnreadableFileError(entry.path, 'it was changed in the meantime');
    yield padding(length);
  }
  yield Buffer.alloc(2 * BLOCK);
}

function headerBlocks(entry: FileEntry, path: string, size: number, time: Date): Buffer[] {
  const isExecutable = entry.kind === 'folder' || (entry.mode & 0o111) !== 0;
  const fields = {
    path: entry.kind === 'folder' ? `${path}/` : path,
    mode: entry.kind === 'link' ? 0o777 : isExecutable ? 0o755 : 0o644,
    size,
    mtime: time,
    type: entry.kind === 'folder' ? 'Directory' : entry.kind === 'link' ? 'SymbolicLink' : 'File',
    ...(entry.kind === 'link' ? { linkpath: entry.target ?? '' } : {}),
  } as const;
  const block = Buffer.alloc(BLOCK);
  // A long or non-ASCII name does not fit the old header: an extended one goes before it.
  const needsPax = new Header(fields).encode(block, 0);
  if (!needsPax) return [block];
  const extended = new Pax({ path: fields.path, ...(entry.kind === 'link' ? { linkpath: entry.target ?? '' } : {}) }).encode();
  return [extended, block];
}

function padding(size: number): Buffer {
  return Buffer.alloc((BLOCK - (size % BLOCK)) % BLOCK);
}

/** Words for the kinds of entries that no theme has. */
const OTHER_KINDS: Readonly<Record<string, string>> = {
  Link: 'a hard link',
  CharacterDevice: 'a device',
  BlockDevice: 'a device',
  FIFO: 'a pipe',
};

/** Reads a gzipped tar archive, part by part. @throws Error when it is damaged */
export async function readTarGz(file: OpenFile, taker: EntryTaker): Promise<void> {
  let failure: unknown;
  // An error thrown inside the library's calls would leave it in the middle of a part.
  const orKeep = (work: () => void): void => {
    try {
      if (failure === undefined) work();
    } catch (error) {
      failure = error;
    }
  };
  const parser = new Parser({ strict: true, onReadEntry: (entry) => orKeep(() => collect(entry, taker, orKeep)) });
  parser.on('ignoredEntry', (entry: ReadEntry) =>
    orKeep(() => taker.refuseKind(entry.path, `an entry of the unknown kind “${entry.type}”`)),
  );
  const ended = new Promise<void>((resolve) => {
    parser.on('end', resolve).on('error', (error) => {
      failure ??= error;
      resolve();
    });
  });
  let isFirst = true;
  // Whoever stops reading stops the file as well, and an error of the file is one of the archive.
  const unzipped = pipeline(streamOf(file), createGunzip(), () => undefined);
  for await (const part of unzipped as AsyncIterable<Buffer>) {
    // The library would unpack what is packed twice.
    if (isFirst && isGzip(part)) throw new Error('it is packed twice');
    isFirst = false;
    parser.write(part);
    if (failure !== undefined) throw failure;
  }
  parser.end();
  await ended;
  if (failure !== undefined) throw failure;
}

/** Whether bytes begin as gzip does (RFC 1952, section 2.3.1). */
export function isGzip(head: Buffer): boolean {
  return head[0] === 0x1f && head[1] === 0x8b;
}

function collect(entry: ReadEntry, taker: EntryTaker, orKeep: (work: () => void) => void): void {
  const mode = entry.mode ?? 0o644;
  const skip = (): void => entry.resume();
  if (entry.type === 'Directory') {
    taker.addFolder(entry.path, mode);
    skip();
  } else if (entry.type === 'SymbolicLink') {
    taker.addLink(entry.path, entry.linkpath ?? '');
    skip();
  } else if (entry.type === 'File' || entry.type === 'OldFile') {
    const target = taker.addFile(entry.path, entry.size, mode);
    if (target === undefined) return skip();
    entry.on('data', (part) => orKeep(() => target.append(part))).on('end', () => orKeep(() => target.end()));
  } else taker.refuseKind(entry.path, OTHER_KINDS[entry.type] ?? `an entry of the unknown kind “${entry.type}”`);
}
