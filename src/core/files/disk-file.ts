import { closeSync, constants, fstatSync, openSync, readSync } from 'node:fs';
import { Readable } from 'node:stream';

/** A file that was opened for reading, so that all that is read comes from one and the same file. */
export interface OpenFile {
  readonly descriptor: number;
  /** In bytes, when it was opened. */
  readonly size: number;
}

/** A path leads to something else than a file: reading a pipe or a device might never end. */
export class NotAFileError extends Error {
  override readonly name = 'NotAFileError';
  constructor() {
    super('it is a pipe, a socket or a device, not a file');
  }
}

/**
 * Opens a file, links followed, and lets it be used; it is closed afterward. Opening a pipe does not wait for a writer.
 * @throws the system's error, EISDIR among them, or NotAFileError
 */
export function withFile<T>(path: string, work: (file: OpenFile) => T): T {
  const descriptor = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
  let result: T;
  try {
    const stat = fstatSync(descriptor);
    if (stat.isDirectory()) throw Object.assign(new Error('EISDIR: illegal operation on a directory'), { code: 'EISDIR', path });
    if (!stat.isFile()) throw new NotAFileError();
    result = work({ descriptor, size: stat.size });
  } catch (error) {
    closeSync(descriptor);
    throw error;
  }
  if (result instanceof Promise) return result.finally(() => closeSync(descriptor)) as T;
  closeSync(descriptor);
  return result;
}

/** Reads so many bytes from a place in a file. @param into is used where they fit in. @throws Error when it ends before */
export function readRange({ descriptor }: OpenFile, start: number, length: number, into?: Buffer): Buffer {
  const bytes = into !== undefined && length <= into.length ? into.subarray(0, length) : Buffer.allocUnsafe(length);
  for (let done = 0; done < length;) {
    const count = readSync(descriptor, bytes, done, length - done, start + done);
    if (count === 0) throw new Error('the file ends too early');
    done += count;
  }
  return bytes;
}

/** As many bytes as a stream reads at a time. */
const PART_BYTES = 1 << 16;

/**
 * A file's bytes from its beginning, as a stream that leaves the file open. Nothing is read behind the back of whoever closes
 * the file: its descriptor may be another one's by then.
 */
export function streamOf({ descriptor }: OpenFile): Readable {
  return Readable.from(partsOf(descriptor), { objectMode: false });
}

function* partsOf(descriptor: number): Generator<Buffer> {
  for (let start = 0; ;) {
    const bytes = Buffer.allocUnsafe(PART_BYTES);
    const count = readSync(descriptor, bytes, 0, PART_BYTES, start);
    if (count === 0) return;
    yield bytes.subarray(0, count);
    start += count;
  }
}

/** A line of a file: where it begins and how long it is, in bytes, without its end. */
export interface FileLine {
  readonly start: number;
  readonly length: number;
  /** From 1. */
  readonly number: number;
  readonly text: string;
}

/** The lines of a file one after another, those that are empty left out: memory holds one of them. */
export function* linesOf({ descriptor }: OpenFile): Generator<FileLine> {
  let [start, number] = [0, 0];
  let begun: Buffer[] = [];
  const line = (): FileLine => {
    const bytes = Buffer.concat(begun);
    begun = [];
    return { start, length: bytes.length, number: ++number, text: bytes.toString('utf8') };
  };
  for (const part of partsOf(descriptor)) {
    let from = 0;
    for (let end = part.indexOf(0x0a); end >= 0; from = end + 1, end = part.indexOf(0x0a, from)) {
      begun.push(part.subarray(from, end));
      const whole = line();
      if (whole.length > 0) yield whole;
      start = whole.start + whole.length + 1;
    }
    begun.push(part.subarray(from));
  }
  const last = line();
  if (last.length > 0) yield last;
}
