import { crc32, deflateRawSync } from 'node:zlib';
import { temporaryFolder } from '../files/disk.ts';
import { readRange, withFile } from '../files/disk-file.ts';
import { SharedSpool } from '../files/disk-spool.ts';
import { UnreadableFileError, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { Helper, type HelperTasks } from '../parallel/helper.ts';
import { holds, type MadeOf } from './comparison.ts';
import { readZip } from './zip-read.ts';
import { MIN_CHUNK } from './zip-format.ts';

/** As small as the common program makes at its default, or smaller, in three quarters of the time of the library's default. */
export const LEVEL = 5;

/** Deflates in one piece: many small ones would be put together afterwards. */
export function deflated(bytes: Buffer): Buffer {
  return deflateRawSync(bytes, { level: LEVEL, chunkSize: Math.max(MIN_CHUNK, bytes.length) });
}

/** Files that are to be deflated, in blocks, and what is known of them so far, in memory that two threads see. */
export interface DeflateWork {
  /** The folder that the paths are below. */
  readonly root: string;
  readonly files: readonly Pick<FileEntry, 'path' | 'size'>[];
  /** For each block, the file after its last one. */
  readonly ends: readonly number[];
  /** One number: the first block that nobody has begun. */
  readonly begun: Int32Array;
  /** For each block, 1 when all below is told of its files. */
  readonly done: Int32Array;
  /** For each block, where its bytes begin in the spool. */
  readonly starts: Float64Array;
  /** For each file, in bytes; as large as the file where deflating does not make it smaller, and the bytes are the file's. */
  readonly packedSizes: Uint32Array;
  readonly checksums: Uint32Array;
  readonly spool: SharedSpool['shared'];
}

/** So much of the files, and so many of them, is begun at a time. */
const BLOCK_BYTES = 1 << 20;
const BLOCK_FILES = 64;

/** With less to deflate a second thread takes longer to start than it saves. */
const WORTH_A_THREAD = 8 << 20;

/** What is known of a file that was deflated ahead. */
export interface DeflatedFile {
  readonly crc32: number;
  /** The file's own bytes where deflating does not make it smaller. */
  readonly bytes: Buffer;
}

/**
 * Deflates files on a second thread, from the moment that it is begun, and on this one whenever a file is asked for that is
 * not done. What is deflated waits on the disk, so memory does not grow.
 */
export class DeflatedAhead {
  readonly #tree: FileTree;
  readonly #work: DeflateWork;
  readonly #spool: SharedSpool;
  readonly #helper: Pick<Helper, 'run' | 'stop'>;
  /** Settled when the other thread has nothing more to begin: whether it is still there. */
  readonly #theirs: Promise<boolean>;
  readonly #places: ReadonlyMap<string, number>;
  #hasFailed = false;
  /** The files of the block that was asked for last. */
  #held: { first: number; files: readonly Buffer[] } = { first: 0, files: [] };

  /** @param root where the tree lies on the disk */
  constructor(tree: FileTree, root: string, files: readonly FileEntry[], spool: SharedSpool, helper: Pick<Helper, 'run' | 'stop'>) {
    this.#tree = tree;
    this.#helper = helper;
    this.#spool = spool;
    this.#places = new Map(files.map(({ path }, i) => [path, i]));
    const ends = blockEnds(files);
    this.#work = {
      root,
      files: files.map(({ path, size }) => ({ path, size })),
      ends,
      begun: new Int32Array(new SharedArrayBuffer(4)),
      done: new Int32Array(new SharedArrayBuffer(4 * ends.length)),
      starts: new Float64Array(new SharedArrayBuffer(8 * ends.length)),
      packedSizes: new Uint32Array(new SharedArrayBuffer(4 * files.length)),
      checksums: new Uint32Array(new SharedArrayBuffer(4 * files.length)),
      spool: this.#spool.shared,
    };
    // What it could not do is done in its turn, and told of then.
    this.#theirs = helper.run(TASKS, 'deflateBlocks', this.#work).then(
      () => true,
      () => false,
    );
  }

  /** Begins; undefined when there is no second thread, the files are not on the disk, or there is too little to do. */
  static begin(tree: FileTree, files: readonly FileEntry[]): DeflatedAhead | undefined {
    const root = tree.disk?.root;
    if (root === undefined || files.reduce((sum, { size }) => sum + size, 0) < WORTH_A_THREAD) return undefined;
    const spool = spoolWherePossible();
    const helper = spool === undefined ? undefined : Helper.start();
    return spool === undefined || helper === undefined ? undefined : new DeflatedAhead(tree, root, files, spool, helper);
  }

  /** Undefined when the file was not to be deflated, or could not be: whoever asks does so in its turn, and is told why not. */
  async file(path: string): Promise<DeflatedFile | undefined> {
    const at = this.#places.get(path);
    if (at === undefined) return undefined;
    const held = (): Buffer | undefined => this.#held.files[at - this.#held.first];
    if (held() === undefined) {
      const block = this.#work.ends.findIndex((end) => at < end);
      await this.#finish(block);
      if (!isDone(this.#work, block)) return undefined;
      this.#hold(block);
    }
    const bytes = held();
    return bytes === undefined ? undefined : { crc32: this.#work.checksums[at] ?? 0, bytes };
  }

  /** What {@link holds} says of a zip archive, as the other thread reads it; this one does when the other is not there any more. */
  async holds(path: string, of: MadeOf): Promise<boolean> {
    const asked = { path, of };
    const isThere = await this.#theirs;
    if (!isThere) return zipHolds(asked);
    return this.#helper.run(TASKS, 'zipHolds', asked).catch(async () => zipHolds(asked));
  }

  async stop(): Promise<void> {
    await this.#helper.stop();
  }

  /** Does what nobody has begun as long as the other thread is not ready with a block that it has begun. */
  async #finish(block: number): Promise<void> {
    while (!isDone(this.#work, block) && !this.#hasFailed) {
      const next = begin(this.#work);
      if (next === undefined) {
        await this.#theirs;
        return;
      }
      try {
        deflateBlock(this.#work, next, this.#spool, (path) => this.#tree.read(path));
      } catch {
        // A file cannot be read, or there is no more room for temporary files.
        this.#hasFailed = true;
      }
    }
  }

  #hold(block: number): void {
    const { ends, starts, packedSizes } = this.#work;
    const first = ends[block - 1] ?? 0;
    const sizes = [...packedSizes.subarray(first, ends[block])];
    const all = this.#spool.read(
      starts[block] ?? 0,
      sizes.reduce((sum, size) => sum + size, 0),
    );
    let start = 0;
    this.#held = { first, files: sizes.map((size) => all.subarray(start, (start += size))) };
  }
}

/** Without room for temporary files everything is done in its turn. */
function spoolWherePossible(): SharedSpool | undefined {
  try {
    return SharedSpool.make(temporaryFolder());
  } catch {
    return undefined;
  }
}

const TASKS: HelperTasks<typeof import('./zip.tasks.ts')> = { module: 'zip.tasks.js' };

/** What the second thread does: blocks that nobody has begun, until there are none. */
export function deflateBlocks(work: DeflateWork): void {
  const spool = new SharedSpool(work.spool);
  // One piece of memory for all of them, as far as they fit.
  const buffer = Buffer.alloc(BLOCK_BYTES);
  const read = (path: string): Buffer => withFile(`${work.root}/${path}`, (file) => readRange(file, 0, file.size, buffer));
  for (let block = begin(work); block !== undefined; block = begin(work)) deflateBlock(work, block, spool, read);
}

/** What the second thread does of reading back: see {@link holds}. */
export async function zipHolds({ path, of }: { path: string; of: MadeOf }): Promise<boolean> {
  return holds(path, readZip, of);
}

/** The next block, for whoever asks first; undefined when all are begun. */
function begin({ begun, ends }: DeflateWork): number | undefined {
  const block = Atomics.add(begun, 0, 1);
  return block < ends.length ? block : undefined;
}

function isDone({ done }: DeflateWork, block: number): boolean {
  return Atomics.load(done, block) === 1;
}

function deflateBlock(work: DeflateWork, block: number, spool: SharedSpool, read: (path: string) => Buffer): void {
  const { files, ends, done, starts, packedSizes, checksums } = work;
  const parts: Buffer[] = [];
  for (let at = ends[block - 1] ?? 0; at < (ends[block] ?? 0); at++) {
    const file = files[at];
    if (file === undefined) break;
    const bytes = read(file.path);
    if (bytes.length !== file.size) throw new UnreadableFileError(file.path, 'it was changed in the meantime');
    const small = deflated(bytes);
    const packed = small.length < bytes.length ? small : Buffer.from(bytes);
    parts.push(packed);
    packedSizes[at] = packed.length;
    checksums[at] = crc32(bytes);
  }
  starts[block] = spool.put(Buffer.concat(parts));
  Atomics.store(done, block, 1);
}

function blockEnds(files: readonly FileEntry[]): number[] {
  const ends: number[] = [];
  let bytes = 0;
  let first = 0;
  for (const [i, { size }] of files.entries()) {
    if (i > first && (bytes + size > BLOCK_BYTES || i - first === BLOCK_FILES)) {
      ends.push(i);
      first = i;
      bytes = 0;
    }
    bytes += size;
  }
  return files.length === 0 ? [] : [...ends, files.length];
}
