import { setImmediate } from 'node:timers/promises';
import type { FileEntry, FileTree } from '../files/file-tree.ts';
import { Workers, type WorkerTasks } from '../parallel/workers.ts';
import { blocksOf, deflateFiles, isMine, type DeflatedBlock, type FileToDeflate } from './deflate-blocks.ts';

/** With less to deflate a worker takes longer to start than it saves; in bytes. */
const WORTH_A_WORKER = 8 << 20;
/** Files of so many bytes together are deflated before they are asked for, at most: the results wait in memory. */
const AHEAD = 64 << 20;

export const ZIP_TASKS: WorkerTasks<typeof import('./zip.tasks.ts')> = { module: 'zip.tasks.js' };

/** A file that was deflated ahead. */
export interface DeflatedFile {
  readonly crc32: number;
  /** The file's own bytes where deflating does not make it smaller. */
  readonly bytes: Buffer;
}

/** Deflates files on workers, from the moment that it is made, and on this thread whenever a file is asked for that is not done. */
export class DeflatedAhead {
  readonly workers: Workers;
  readonly #tree: FileTree;
  readonly #root: string;
  readonly #blocks: readonly (readonly FileToDeflate[])[];
  /** For each block, how many bytes the files of those before it have. */
  readonly #before: readonly number[];
  /** Where a file is: its block, and its place there. */
  readonly #places = new Map<string, { block: number; at: number }>();
  /** For each block, whether a thread has begun it. */
  readonly #begun: Int32Array;
  /** What came of the blocks that were begun, or given to workers; undefined where one could not be done. */
  readonly #done = new Map<number, DeflatedBlock | undefined>();
  readonly #given = new Map<number, Promise<void>>();
  /** The block that was asked for last, and where each of its files begins. */
  #current: { block: number; starts: readonly number[] } = { block: -1, starts: [] };

  /** @param root where the tree lies on the disk */
  constructor(tree: FileTree, root: string, files: readonly FileEntry[], workers: Workers) {
    this.workers = workers;
    this.#tree = tree;
    this.#root = root;
    this.#blocks = blocksOf(files.map(({ path, size }) => ({ path, size })));
    let bytes = 0;
    this.#before = this.#blocks.map((each) => (bytes += bytesOf(each)) - bytesOf(each));
    for (const [block, each] of this.#blocks.entries()) for (const [at, { path }] of each.entries()) this.#places.set(path, { block, at });
    this.#begun = new Int32Array(new SharedArrayBuffer(4 * this.#blocks.length));
    this.#giveFrom(0);
  }

  /** Begins; undefined when no worker is worth it, or the files are not on the disk. @param jobs see {@link Workers.worthFor} */
  static begin(tree: FileTree, files: readonly FileEntry[], jobs?: number): DeflatedAhead | undefined {
    const root = tree.disk?.root;
    const workers = root === undefined ? undefined : Workers.worthFor(ZIP_TASKS, bytesOf(files), WORTH_A_WORKER, jobs);
    return root === undefined || workers === undefined ? undefined : new DeflatedAhead(tree, root, files, workers);
  }

  /** Undefined when the file was not to be deflated, or could not be: the caller then does so in its turn, and gets the error. */
  async file(path: string): Promise<DeflatedFile | undefined> {
    const place = this.#places.get(path);
    if (place === undefined) return undefined;
    const { block, at } = place;
    if (block !== this.#current.block) await this.#enter(block);
    const done = this.#done.get(block);
    if (done === undefined) return undefined;
    const { bytes, packedSizes, checksums } = done;
    const start = bytes.byteOffset + (this.#current.starts[at] ?? 0);
    return { crc32: checksums[at] ?? 0, bytes: Buffer.from(bytes.buffer, start, packedSizes[at]) };
  }

  async end(): Promise<void> {
    await this.workers.end();
  }

  /** Files are asked for in their order: what came of the blocks before is not needed any more. */
  async #enter(block: number): Promise<void> {
    this.#done.delete(this.#current.block);
    this.#giveFrom(block);
    while (!this.#done.has(block)) await this.#wait(block);
    let start = 0;
    this.#current = { block, starts: Array.from(this.#done.get(block)?.packedSizes ?? [], (size) => (start += size) - size) };
  }

  /** Makes use of the time until a block is there: deflates the next one that no thread has begun. */
  async #wait(block: number): Promise<void> {
    const next = this.#begun.findIndex((begun, each) => begun === 0 && each >= block);
    if (next === -1 || !this.#isNear(next, block) || !isMine(this.#begun, next)) {
      await this.#given.get(block);
      // A block that was asked for before is not kept: its files are deflated in their turn.
      if (!this.#done.has(block)) this.#done.set(block, undefined);
      return;
    }
    try {
      this.#done.set(
        next,
        deflateFiles(this.#blocks[next] ?? [], (path) => this.#tree.read(path)),
      );
    } catch {
      this.#done.set(next, undefined);
    }
    // What workers have done is heard of between two pieces of work.
    await setImmediate();
  }

  /** Whether a block may be deflated when another one is asked for. */
  #isNear(block: number, asked: number): boolean {
    return block === asked || (this.#before[block] ?? 0) < (this.#before[asked] ?? 0) + AHEAD;
  }

  #giveFrom(asked: number): void {
    for (let block = this.#given.size; block < this.#blocks.length && this.#isNear(block, asked); block++)
      this.#given.set(block, this.#give(block));
  }

  async #give(block: number): Promise<void> {
    const input = { root: this.#root, files: this.#blocks[block] ?? [], block, begun: this.#begun };
    try {
      const done = await this.workers.run(ZIP_TASKS, 'deflateBlock', input);
      if (done !== undefined) this.#done.set(block, done);
    } catch {
      // This thread does it in its turn, and reports why it cannot.
      this.#done.set(block, undefined);
    }
  }
}

function bytesOf(files: readonly FileToDeflate[]): number {
  return files.reduce((sum, { size }) => sum + size, 0);
}
