import { buffer } from 'node:stream/consumers';
import yauzl from 'yauzl';
import { MemoryTree } from '../files/memory-tree.ts';
import { orRefuse, Unpacking } from './unpacking.ts';

const TYPE_MASK = 0o170000;
const LINK_TYPE = 0o120000;

/**
 * Unpacks a zip archive into memory.
 * @throws RefusedError when it is not one, is damaged, or holds a path that would leave the folder it is unpacked to
 */
export async function readZip(bytes: Buffer, shownAs: string): Promise<MemoryTree> {
  return orRefuse(shownAs, async () => {
    const unpacking = new Unpacking(shownAs);
    const zip = await yauzl.fromBufferPromise(bytes, { lazyEntries: true, strictFileNames: true });
    for await (const entry of zip.eachEntry()) {
      unpacking.announce(entry.uncompressedSize);
      // The upper half of the external attributes is the file's mode, as on Unix.
      const mode = entry.externalFileAttributes >>> 16;
      if (entry.fileName.endsWith('/')) {
        unpacking.addFolder(entry.fileName, mode);
        continue;
      }
      const content = await buffer(await zip.openReadStreamPromise(entry));
      if ((mode & TYPE_MASK) === LINK_TYPE) unpacking.addLink(entry.fileName, content.toString('utf8'));
      else unpacking.addFile(entry.fileName, content, mode);
    }
    return new MemoryTree(unpacking.items);
  });
}
