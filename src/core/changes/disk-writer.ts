import { constants, promises as fs } from 'node:fs';
import { dirname, join } from 'node:path';
import { randomBytes } from 'node:crypto';

/**
 * The only operations that change a disk. Every method is one step that happens wholly or not at all, as far as the
 * operating system allows. Tests put another writer in its place that fails at a given step.
 */
export interface DiskWriter {
  makeFolder(path: string, mode: number): Promise<void>;
  /** Writes a new file; refuses to replace one. */
  createFile(path: string, bytes: Buffer, mode: number): Promise<void>;
  /** Copies a file to a new place, by reference where the file system can. */
  copyFile(from: string, to: string, mode: number): Promise<void>;
  makeLink(path: string, target: string): Promise<void>;
  /** Replaces a file's bytes in one step (sibling file, sync, rename) and keeps its mode. */
  replaceFile(path: string, bytes: Buffer): Promise<void>;
  rename(from: string, to: string): Promise<void>;
  /** Removes a file, a link, or a folder with all that is in it; nothing there is no error. */
  remove(path: string): Promise<void>;
}

export const realDiskWriter: DiskWriter = {
  async makeFolder(path, mode) {
    await makeFolders(path);
    // The owner must be able to fill it; a stricter mode of the original is not worth a folder that cannot be written.
    await fs.chmod(path, mode | 0o700);
  },
  async createFile(path, bytes, mode) {
    await writeSynced(path, bytes, mode);
  },
  async copyFile(from, to, mode) {
    await fs.copyFile(from, to, constants.COPYFILE_EXCL | constants.COPYFILE_FICLONE);
    await fs.chmod(to, mode);
  },
  async makeLink(path, target) {
    await fs.symlink(target, path);
  },
  async replaceFile(path, bytes) {
    const { mode } = await fs.stat(path);
    const sibling = join(dirname(path), `.pionero-${randomBytes(6).toString('hex')}`);
    try {
      await writeSynced(sibling, bytes, mode & 0o777);
      await fs.rename(sibling, path);
    } catch (error) {
      await fs.rm(sibling, { force: true });
      throw error;
    }
  },
  async rename(from, to) {
    await fs.rename(from, to);
  },
  async remove(path) {
    await fs.rm(path, { recursive: true, force: true });
  },
};

/**
 * Makes a folder and those above it. Not the system library's recursive way: on a read-only or special file system that
 * reports the wrong reason, or never ends.
 */
export async function makeFolders(path: string): Promise<void> {
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

/** Writes a file that must not be there yet and waits until the disk has it. */
async function writeSynced(path: string, bytes: Buffer, mode: number): Promise<void> {
  const handle = await fs.open(path, 'wx', mode);
  try {
    await handle.writeFile(bytes);
    await handle.chmod(mode);
    await handle.sync();
  } finally {
    await handle.close();
  }
}
