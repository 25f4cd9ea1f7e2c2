import { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { readRange, type OpenFile } from '../files/disk-file.ts';

/** As much of an archive as is read ahead: its directory is read in pieces of 46 bytes and a name. */
const AHEAD_BYTES = 1 << 18;
const PART_BYTES = 1 << 16;

/** Reads a zip archive for the library, many small pieces with one call to the system. */
export class ZipFileReader extends yauzl.RandomAccessReader {
  readonly #file: OpenFile;
  #ahead: Buffer = Buffer.alloc(0);
  #aheadStart = 0;

  constructor(file: OpenFile) {
    super();
    this.#file = file;
  }

  override read(target: Buffer, offset: number, length: number, position: number, done: (error: Error | null) => void): void {
    let failure: Error | null = null;
    try {
      this.#at(position, length).copy(target, offset);
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error));
    }
    queueMicrotask(() => done(failure));
  }

  override _readStreamForRange(start: number, end: number): Readable {
    const file = this.#file;
    function* parts(): Generator<Buffer> {
      for (let at = start; at < end; at += PART_BYTES) yield readRange(file, at, Math.min(PART_BYTES, end - at));
    }
    return Readable.from(parts());
  }

  #at(position: number, length: number): Buffer {
    const isAhead = position >= this.#aheadStart && position + length <= this.#aheadStart + this.#ahead.length;
    if (!isAhead) {
      this.#ahead = readRange(this.#file, position, Math.max(length, Math.min(AHEAD_BYTES, this.#file.size - position)));
      this.#aheadStart = position;
    }
    const start = position - this.#aheadStart;
    return this.#ahead.subarray(start, start + length);
  }
}
