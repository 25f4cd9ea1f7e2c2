import { randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { makeFolders, realDiskWriter } from './disk-writer.ts';
import { guarded } from './guarded.ts';

/** Writes a result (an archive, a report) in one step: the file is there whole, or as it was before. */
export async function writeOutput(path: string, bytes: Buffer): Promise<void> {
  const sibling = join(dirname(path), `.pionero-${randomBytes(6).toString('hex')}`);
  await guarded(`writing ${basename(path)}`, async () => {
    try {
      await makeFolders(dirname(path));
      await realDiskWriter.createFile(sibling, bytes, { mode: 0o644 });
      await fs.rename(sibling, path);
    } catch (error) {
      await fs.rm(sibling, { force: true });
      throw error;
    }
  });
}
