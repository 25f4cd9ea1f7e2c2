import { crc32, deflateRawSync, gzipSync } from 'node:zlib';
import { Header, Pax } from 'tar';
import { directoryHeader, dosTime, endRecords, localHeader, type ZipEntry } from '../../src/core/archives/zip-format.ts';

/** An entry of a made archive; everything that an archive can claim can be claimed wrongly. */
export interface MadeEntry {
  readonly name: string | Buffer;
  readonly content?: string | Buffer;
  /** `st_mode` of POSIX; a file when left out. */
  readonly mode?: number;
  readonly crc32?: number;
  readonly size?: number;
  readonly packedSize?: number;
  /** What stands before the content, when that is to be another name. */
  readonly localName?: string;
  readonly isStored?: boolean;
  readonly method?: number;
}

/** A zip archive with just these entries, true or not. */
export function zipOf(entries: readonly MadeEntry[]): Buffer {
  const parts: Buffer[] = [];
  const directory: Buffer[] = [];
  let offset = 0;
  for (const made of entries) {
    const content = Buffer.from(made.content ?? '');
    const packed = made.isStored === true ? content : deflateRawSync(content, { level: 1 });
    const entry: ZipEntry = {
      name: Buffer.from(made.name),
      mode: made.mode ?? 0o100644,
      method: made.method ?? (made.isStored === true ? 0 : 8),
      crc32: made.crc32 ?? crc32(content),
      size: made.size ?? content.length,
      packedSize: made.packedSize ?? packed.length,
      offset,
      time: dosTime(0),
    };
    const local = localHeader({ ...entry, name: Buffer.from(made.localName ?? made.name) });
    parts.push(local, packed);
    directory.push(directoryHeader(entry));
    offset += local.length + packed.length;
  }
  const listed = Buffer.concat(directory);
  return Buffer.concat([...parts, listed, endRecords(entries.length, offset, listed.length)]);
}

export interface MadeTarEntry {
  readonly path: string | Buffer;
  readonly content?: string | Buffer;
  readonly type?: 'File' | 'Directory' | 'SymbolicLink' | 'Link' | 'FIFO' | 'CharacterDevice' | 'ContiguousFile';
  readonly linkpath?: string;
}

/** The blocks of a tar archive, not yet packed and without its end. */
export function tarBlocks(entries: readonly MadeTarEntry[]): Buffer {
  return Buffer.concat(
    entries.flatMap(({ path, content = '', type = 'File', linkpath }) => {
      const bytes = Buffer.from(content);
      const shown = path.toString();
      const head = {
        path: shown,
        mode: 0o644,
        size: bytes.length,
        mtime: new Date(0),
        type,
        ...(linkpath === undefined ? {} : { linkpath }),
      };
      const block = Buffer.alloc(512);
      const needsPax = new Header(head).encode(block, 0);
      const extended = needsPax ? [new Pax({ path: shown, ...(linkpath === undefined ? {} : { linkpath }) }).encode()] : [];
      if (Buffer.isBuffer(path)) rename(block, path);
      return [...extended, block, bytes, Buffer.alloc((512 - (bytes.length % 512)) % 512)];
    }),
  );
}

/** Puts raw bytes into the place of the name, and makes the checksum anew (POSIX.1, ustar: bytes 0 and 148). */
function rename(block: Buffer, name: Buffer): void {
  block.fill(0, 0, 100);
  name.copy(block, 0);
  block.fill(' ', 148, 156);
  const sum = block.reduce((total, byte) => total + byte, 0);
  block.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
}

/** A gzipped tar archive with just these entries. */
export function tarGzOf(entries: readonly MadeTarEntry[]): Buffer {
  return gzipSync(Buffer.concat([tarBlocks(entries), Buffer.alloc(1024)]), { level: 1 });
}
