import { temporaryFolder } from '../files/disk.ts';
import { SharedSpool } from '../files/disk-spool.ts';
import type { FileEntry, FileTree } from '../files/file-tree.ts';
import { Helper, type HelperTasks } from '../parallel/helper.ts';
import type { MadeOf } from './comparison.ts';
import { blockEnds, deflateBlock, isDone, nextBlock, zipHolds, type DeflateWork } from './deflate-blocks.ts';

/** With less to deflate a second thread takes longer to start than it saves. */
const WORTH_A_THREAD = 8 << 20;

/** A file that was deflated ahead. */
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
      const next = nextBlock(this.#work);
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
