import { buffer } from 'node:stream/consumers';
import yazl from 'yazl';
import type { FileEntry, FileTree } from '../files/file-tree.ts';

/** Midnight of the first day that a zip file can name; the same in every archive, so equal themes give equal bytes. */
const FIXED_TIME = new Date(1980, 0, 1);

/**
 * Writes a zip archive with everything under one top folder. The bytes depend only on paths, contents, and which files
 * are executable.
 */
export async function writeZip(tree: FileTree, entries: readonly FileEntry[], top: string): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const entry of entries) {
    const path = `${top}/${entry.path}`;
    const options = { mtime: FIXED_TIME, forceDosTimestamp: true };
    if (entry.kind === 'folder') zip.addEmptyDirectory(path, { ...options, mode: 0o40755 });
    else if (entry.kind === 'link') zip.addBuffer(Buffer.from(entry.target ?? ''), path, { ...options, mode: 0o120777, compress: false });
    else zip.addBuffer(tree.read(entry.path), path, { ...options, mode: (entry.mode & 0o111) === 0 ? 0o100644 : 0o100755 });
  }
  zip.end();
  return buffer(zip.outputStream);
}
