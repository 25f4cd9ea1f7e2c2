import {
  chmodSync,
  closeSync,
  constants,
  copyFileSync,
  fchmodSync,
  fsync,
  lstatSync,
  openSync,
  promises as fs,
  statSync,
  symlinkSync,
  utimesSync,
  writeSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { patiently } from './patiently.ts';

/** The attributes of a new file besides its bytes. */
export interface FileTraits {
  readonly mode: number;
  /** When it was changed last, in milliseconds since 1970; now when left out. */
  readonly mtimeMs?: number | undefined;
  /** Whether to wait until the disk has it. Not needed for what could be made again. */
  readonly isDurable?: boolean | undefined;
}

/** Takes the parts of a file one after another. */
export type Sink = (part: Buffer) => Promise<void>;

/**
 * The only operations that change a disk. Every method is one step that happens wholly or not at all, as far as the
 * operating system allows. Tests put another writer in its place that fails at a given step.
 */
export interface DiskWriter {
  makeFolder(path: string, mode: number): Promise<void>;
  /** Makes a folder and those above it, as far as they are missing. */
  makeFolders(path: string): Promise<void>;
  /** Makes a folder for nobody but its owner; refuses one that is there. */
  makePrivateFolder(path: string): Promise<void>;
  /** Makes a file or replaces it in one step (sibling file, rename), readable by nobody but its owner. */
  putFile(path: string, bytes: Buffer, isDurable: boolean): Promise<void>;
  /** Makes a new file of the parts that `fill` hands on, and waits until the disk has them. @returns what `fill` returns */
  streamFile<T>(path: string, fill: (sink: Sink) => Promise<T>): Promise<T>;
  /** Gives a file a second name; refuses to replace anything. */
  linkFile(from: string, to: string): Promise<void>;
  /** @param mtimeMs milliseconds since 1970 */
  setTime(path: string, mtimeMs: number): Promise<void>;
  /** Removes a folder when nothing is in it. */
  removeEmptyFolder(path: string): Promise<void>;
  /** Writes a new file, part by part; refuses to replace one, or to follow a link. */
  createFile(path: string, parts: Iterable<Buffer>, traits: FileTraits): Promise<void>;
  /** Copies a file to a new place, by reference where the file system can. */
  copyFile(from: string, to: string, mode: number): Promise<void>;
  /** Gives a file a second place, without copying where the file system can. */
  shareFile(from: string, to: string, mode: number): Promise<void>;
  setMode(path: string, mode: number): Promise<void>;
  makeLink(path: string, target: string): Promise<void>;
  /** Replaces a file's bytes in one step (sibling file, sync, rename) and keeps its mode. */
  replaceFile(path: string, bytes: Buffer): Promise<void>;
  rename(from: string, to: string): Promise<void>;
  /** Removes a file, a link, or a folder with all that is in it; nothing there is no error. */
  remove(path: string): Promise<void>;
}

/** Files up to this size are copied in this thread. */
const SMALL_BYTES = 64 << 10;

export const realDiskWriter: DiskWriter = {
  async makeFolder(path, mode) {
    await makeFolders(path);
    // The owner must be able to fill it; a stricter mode of the original is not worth a folder that cannot be written.
    await fs.chmod(path, mode | 0o700);
  },
  makeFolders,
  async makePrivateFolder(path) {
    await fs.mkdir(path, { mode: 0o700 });
  },
  async putFile(path, bytes, isDurable) {
    const half = `${path}.new`;
    await fs.rm(half, { force: true });
    await writeNew(half, [bytes], 0o600, isDurable);
    await patiently(async () => fs.rename(half, path));
  },
  async streamFile(path, fill) {
    const handle = await fs.open(path, 'wx', 0o644);
    try {
      const result = await fill(async (part) => handle.writeFile(part));
      await handle.sync();
      return result;
    } finally {
      await handle.close();
    }
  },
  async linkFile(from, to) {
    await fs.link(from, to);
  },
  async setTime(path, mtimeMs) {
    await fs.utimes(path, mtimeMs / 1000, mtimeMs / 1000);
  },
  async removeEmptyFolder(path) {
    await fs.rmdir(path);
  },
  async createFile(path, parts, { mode, mtimeMs, isDurable = true }) {
    await writeNew(path, parts, mode, isDurable);
    if (mtimeMs !== undefined) await fs.utimes(path, mtimeMs / 1000, mtimeMs / 1000);
  },
  async copyFile(from, to, mode) {
    const { atime, mtime, mode: copied, size } = statSync(from);
    const how = constants.COPYFILE_EXCL | constants.COPYFILE_FICLONE;
    // A small file is copied sooner than another thread takes the work over.
    if (size > SMALL_BYTES) await fs.copyFile(from, to, how);
    else copyFileSync(from, to, how);
    if ((copied & 0o777) !== mode) chmodSync(to, mode);
    utimesSync(to, atime, mtime);
  },
  async shareFile(from, to, mode) {
    // Some file systems have no hard links, or no more of them for this file.
    await fs.link(from, to).catch(async () => this.copyFile(from, to, mode));
  },
  async setMode(path, mode) {
    await fs.chmod(path, mode);
  },
  async makeLink(path, target) {
    symlinkSync(target, path);
    // Some systems that have none say nothing.
    if (lstatSync(path, { throwIfNoEntry: false })?.isSymbolicLink() !== true)
      throw Object.assign(new Error('no link was made'), { code: 'ENOTSUP', path });
  },
  async replaceFile(path, bytes) {
    const { mode } = await fs.stat(path);
    // Windows puts no file in the place of one that may not be written.
    const isFixed = process.platform === 'win32' && (mode & 0o200) === 0;
    const sibling = join(dirname(path), `.pionero-${randomBytes(6).toString('hex')}`);
    try {
      await writeNew(sibling, [bytes], mode & 0o777, true);
      if (isFixed) await fs.chmod(path, 0o666);
      await patiently(async () => fs.rename(sibling, path));
    } catch (error) {
      if (isFixed) await fs.chmod(path, mode).catch(() => undefined);
      await fs.rm(sibling, { force: true });
      throw error;
    }
  },
  async rename(from, to) {
    await patiently(async () => fs.rename(from, to));
  },
  async remove(path) {
    const removal = async (): Promise<void> => fs.rm(path, { recursive: true, force: true });
    await removal().catch(async (error: unknown) => {
      // Folders that may not be written keep what is in them, until they may.
      await allowWriting(path).catch(() => undefined);
      await patiently(removal).catch(() => {
        throw error;
      });
    });
  },
};

async function allowWriting(folder: string): Promise<void> {
  const stat = await fs.lstat(folder);
  if (!stat.isDirectory()) return;
  await fs.chmod(folder, stat.mode | 0o700);
  for (const name of await fs.readdir(folder)) await allowWriting(join(folder, name));
}

/**
 * Makes a folder and those above it. Not the system library's recursive way: on a read-only or special file system that
 * reports the wrong reason, or never ends.
 */
async function makeFolders(path: string): Promise<void> {
  const missing: string[] = [];
  for (let at = path; !(await isFolder(at)); at = dirname(at)) {
    missing.unshift(at);
    if (dirname(at) === at) break;
  }
  for (const folder of missing) {
    await fs.mkdir(folder).catch(async (error: unknown) => {
      // Another process may have made it in the meantime.
      if (!(await isFolder(folder))) throw error;
    });
  }
}

async function isFolder(path: string): Promise<boolean> {
  return fs.stat(path).then(
    (stat) => stat.isDirectory(),
    () => false,
  );
}

/**
 * Writes a file that must not be there yet. Only waiting for the disk is left to another thread: for small files the way
 * there and back takes longer than writing them.
 */
async function writeNew(path: string, parts: Iterable<Buffer>, mode: number, isDurable: boolean): Promise<void> {
  const file = openSync(path, 'wx', mode);
  try {
    for (const part of parts) writeFully(file, part);
    fchmodSync(file, mode);
    if (isDurable) await synced(file);
  } finally {
    closeSync(file);
  }
}

const synced = promisify(fsync);

function writeFully(file: number, bytes: Buffer): void {
  for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done);
}
