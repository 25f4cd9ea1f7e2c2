/**
 * The records of a zip archive (APPNOTE 6.3: 4.3.7 local header, 4.3.12 directory header, 4.3.14 to 4.3.16 end records).
 * Numbers are little-endian.
 */
export interface ZipEntry {
  readonly name: Buffer;
  /** `st_mode` of POSIX, with the kind of the file. */
  readonly mode: number;
  readonly method: number;
  readonly crc32: number;
  readonly packedSize: number;
  readonly size: number;
  /** Where its local header begins. */
  readonly offset: number;
  /** When it was changed, as {@link dosTime} writes it. */
  readonly time: DosTime;
}

/** Section 4.4.6: date and time of two 16-bit numbers each, in steps of two seconds. */
export interface DosTime {
  readonly date: number;
  readonly time: number;
}

/** A time as zip files have it, of milliseconds since 1970 in UTC; the first and the last that they can name for what lies beyond. */
export function dosTime(milliseconds: number): DosTime {
  const at = new Date(Math.min(Math.max(milliseconds, FIRST_TIME), LAST_TIME));
  return {
    date: ((at.getUTCFullYear() - 1980) << 9) | ((at.getUTCMonth() + 1) << 5) | at.getUTCDate(),
    time: (at.getUTCHours() << 11) | (at.getUTCMinutes() << 5) | (at.getUTCSeconds() >> 1),
  };
}

const FIRST_TIME = Date.UTC(1980, 0, 1);
const LAST_TIME = Date.UTC(2107, 11, 31, 23, 59, 58);

/** The smallest piece of memory that the library (de)compresses into. */
export const MIN_CHUNK = 64;

/** Section 4.4.5: how an entry is compressed. */
export const STORED = 0;
export const DEFLATED = 8;

const UNIX = 3;
const VERSION = 20;
const VERSION_64 = 45;
/** Bit 11: names are UTF-8. */
const UTF8_NAMES = 0x0800;
const FOLDER_TYPE = 0o040000;
const MSDOS_FOLDER = 0x10;
/** The value of a field of 16 or 32 bits whose number is in the record of 64 bits. */
const FULL_16 = 0xffff;
const FULL_32 = 0xffffffff;

export const LOCAL_HEADER_BYTES = 30;
export const LOCAL_SIGNATURE = 0x04034b50;

export function localHeader(entry: ZipEntry): Buffer {
  const header = Buffer.alloc(LOCAL_HEADER_BYTES);
  header.writeUInt32LE(LOCAL_SIGNATURE, 0);
  // Section 4.5.3: in a local header, both sizes stand in the field of 64 bits.
  const wide = isWide(entry) ? wideField([entry.size, entry.packedSize]) : NOTHING;
  writeCommon(header, 4, entry, wide.length);
  return Buffer.concat([header, entry.name, wide]);
}

export function directoryHeader(entry: ZipEntry): Buffer {
  const header = Buffer.alloc(46);
  header.writeUInt32LE(0x02014b50, 0);
  const isFar = entry.offset >= FULL_32;
  header.writeUInt16LE((UNIX << 8) | (isWide(entry) || isFar ? VERSION_64 : VERSION), 4);
  const numbers = [...(isWide(entry) ? [entry.size, entry.packedSize] : []), ...(isFar ? [entry.offset] : [])];
  const wide = numbers.length === 0 ? NOTHING : wideField(numbers);
  writeCommon(header, 6, entry, wide.length);
  const isFolder = (entry.mode & 0o170000) === FOLDER_TYPE;
  header.writeUInt32LE(((entry.mode << 16) | (isFolder ? MSDOS_FOLDER : 0)) >>> 0, 38);
  header.writeUInt32LE(Math.min(entry.offset, FULL_32), 42);
  return Buffer.concat([header, entry.name, wide]);
}

const NOTHING = Buffer.alloc(0);

/** Whether a size of an entry needs 64 bits. */
function isWide({ size, packedSize }: ZipEntry): boolean {
  return size >= FULL_32 || packedSize >= FULL_32;
}

/** Section 4.5.3: the extra field with the numbers that 32 bits do not hold. */
function wideField(numbers: readonly number[]): Buffer {
  const field = Buffer.alloc(4 + 8 * numbers.length);
  field.writeUInt16LE(1, 0);
  field.writeUInt16LE(8 * numbers.length, 2);
  for (const [i, number] of numbers.entries()) field.writeBigUInt64LE(BigInt(number), 4 + 8 * i);
  return field;
}

/** What both headers hold, from “version needed” on. */
function writeCommon(header: Buffer, at: number, entry: ZipEntry, extraBytes: number): void {
  const { method, crc32, packedSize, size, name, time } = entry;
  header.writeUInt16LE(extraBytes > 0 ? VERSION_64 : VERSION, at);
  header.writeUInt16LE(UTF8_NAMES, at + 2);
  header.writeUInt16LE(method, at + 4);
  header.writeUInt16LE(time.time, at + 6);
  header.writeUInt16LE(time.date, at + 8);
  header.writeUInt32LE(crc32, at + 10);
  header.writeUInt32LE(isWide(entry) ? FULL_32 : packedSize, at + 14);
  header.writeUInt32LE(isWide(entry) ? FULL_32 : size, at + 18);
  header.writeUInt16LE(name.length, at + 22);
  header.writeUInt16LE(extraBytes, at + 24);
}

/** What ends an archive; more than 65,534 entries, or more than 4 GiB before it, need the records of 64 bits before it. */
export function endRecords(count: number, directoryOffset: number, directoryBytes: number): Buffer {
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(Math.min(count, FULL_16), 8);
  end.writeUInt16LE(Math.min(count, FULL_16), 10);
  end.writeUInt32LE(Math.min(directoryBytes, FULL_32), 12);
  end.writeUInt32LE(Math.min(directoryOffset, FULL_32), 16);
  if (count < FULL_16 && directoryOffset < FULL_32 && directoryBytes < FULL_32) return end;
  const record = Buffer.alloc(56);
  record.writeUInt32LE(0x06064b50, 0);
  record.writeBigUInt64LE(44n, 4);
  record.writeUInt16LE((UNIX << 8) | VERSION_64, 12);
  record.writeUInt16LE(VERSION_64, 14);
  record.writeBigUInt64LE(BigInt(count), 24);
  record.writeBigUInt64LE(BigInt(count), 32);
  record.writeBigUInt64LE(BigInt(directoryBytes), 40);
  record.writeBigUInt64LE(BigInt(directoryOffset), 48);
  const locator = Buffer.alloc(20);
  locator.writeUInt32LE(0x07064b50, 0);
  locator.writeBigUInt64LE(BigInt(directoryOffset + directoryBytes), 8);
  locator.writeUInt32LE(1, 16);
  end.writeUInt32LE(FULL_32, 16);
  return Buffer.concat([record, locator, end]);
}
