import { holds, type MadeOf } from './comparison.ts';
import { readZip } from './zip-read.ts';

export { deflateBlock } from './deflate-blocks.ts';

/** A worker’s part in reading a package back: see {@link holds}. */
export async function zipHolds({ path, of }: { path: string; of: MadeOf }): Promise<boolean> {
  return holds(path, readZip, of);
}
