import { randomBytes } from 'node:crypto';
import { closeSync, constants, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import type { StoredBytes } from './file-tree.ts';

/** So many bytes are in memory at a time while a file is copied. */
const PART_BYTES = 1 << 17;

/**
 * Room on the disk for the contents of an archive: one file in a temporary folder, without a name from the moment it is
 * made. So nothing of an archive touches the file system under a name that the archive chose, nothing stays behind
 * whatever stops the program, and memory does not grow with the archive.
 */
export class Spool {
  readonly #file: number;
  #size = 0;

  /** @param folder a folder for temporary files */
  constructor(folder: string) {
    this.#file = openNameless(folder);
    closeWithoutUse.register(this, this.#file);
  }

  /** Begins a file: what is appended from now on, until `end`, is its content. */
  begin(): { append: (part: Buffer) => void; end: () => StoredBytes } {
    const start = this.#size;
    return {
      append: (part) => {
        writeAt(this.#file, part, this.#size);
        this.#size += part.length;
      },
      end: () => {
        const size = this.#size - start;
        return { size, read: (length = size) => this.#read(start, Math.min(length, size)), parts: () => this.#parts(start, size) };
      },
    };
  }

  #read(start: number, length: number): Buffer {
    return readAt(this.#file, start, length);
  }

  *#parts(start: number, size: number): Generator<Buffer> {
    for (let done = 0; done < size; done += PART_BYTES) yield this.#read(start + done, Math.min(PART_BYTES, size - done));
  }
}

function writeAt(file: number, bytes: Buffer, start: number): void {
  for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done, start + done);
}

function readAt(file: number, start: number, length: number): Buffer {
  const bytes = Buffer.allocUnsafe(length);
  for (let done = 0; done < length;) {
    const count = readSync(file, bytes, done, length - done, start + done);
    if (count === 0) throw new Error('the temporary file ended early');
    done += count;
  }
  return bytes;
}

/** On Linux, open(2) makes a file without a name in a folder (O_TMPFILE, of which Node's constants know nothing). */
const NAMELESS = 0o20200000;

/** Where the system has no files without a name, it has one for a moment. */
function openNameless(folder: string): number {
  if (process.platform === 'linux') {
    try {
      return openSync(folder, NAMELESS | constants.O_RDWR, 0o600);
    } catch {
      // Not every file system can.
    }
  }
  const path = join(folder, `pionero-spool-${randomBytes(8).toString('hex')}`);
  const file = openSync(path, 'wx+', 0o600);
  rmSync(path);
  return file;
}

/** A long-lived user of the library opens many archives; their files are closed with the trees that read from them. */
const closeWithoutUse = new FinalizationRegistry((file: number) => closeSync(file));
