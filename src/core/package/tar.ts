import { gunzipSync, gzipSync } from 'node:zlib';
import { Header, Parser, Pax, type ReadEntry } from 'tar';
import { RefusedError } from '../errors.ts';
import type { FileEntry, FileTree } from '../files/file-tree.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { MAX_UNPACKED_BYTES, orRefuse, Unpacking } from './unpacking.ts';

const BLOCK = 512;
/** The same in every archive, so that equal themes give equal bytes. */
const FIXED_TIME = new Date(0);

/** Writes a gzipped tar archive (POSIX.1-2001, “pax”) with everything under one top folder. */
export async function writeTarGz(tree: FileTree, entries: readonly FileEntry[], top: string): Promise<Buffer> {
  const blocks: Buffer[] = [];
  for (const entry of entries) {
    const content = entry.kind === 'file' ? tree.read(entry.path) : Buffer.alloc(0);
    blocks.push(...headerBlocks(entry, `${top}/${entry.path}`, content.length), content, padding(content.length));
  }
  blocks.push(Buffer.alloc(2 * BLOCK));
  return gzipSync(Buffer.concat(blocks));
}

function headerBlocks(entry: FileEntry, path: string, size: number): Buffer[] {
  const isExecutable = entry.kind === 'folder' || (entry.mode & 0o111) !== 0;
  const fields = {
    path: entry.kind === 'folder' ? `${path}/` : path,
    mode: entry.kind === 'link' ? 0o777 : isExecutable ? 0o755 : 0o644,
    size,
    mtime: FIXED_TIME,
    type: entry.kind === 'folder' ? 'Directory' : entry.kind === 'link' ? 'SymbolicLink' : 'File',
    ...(entry.kind === 'link' ? { linkpath: entry.target ?? '' } : {}),
  } as const;
  const block = Buffer.alloc(BLOCK);
  // A long or non-ASCII name does not fit the old header: an extended one goes before it.
  const needsPax = new Header(fields).encode(block, 0);
  if (!needsPax) return [block];
  const extended = new Pax({ path: fields.path, ...(entry.kind === 'link' ? { linkpath: entry.target ?? '' } : {}) }).encode();
  return [extended, block];
}

function padding(size: number): Buffer {
  return Buffer.alloc((BLOCK - (size % BLOCK)) % BLOCK);
}

/**
 * Unpacks a gzipped tar archive into memory.
 * @throws RefusedError when it is not one, is damaged, or holds a path that would leave the folder it is unpacked to
 */
export async function readTarGz(bytes: Buffer, shownAs: string): Promise<MemoryTree> {
  return orRefuse(shownAs, async () => {
    const unpacking = new Unpacking(shownAs);
    const plain = gunzipSync(bytes, { maxOutputLength: MAX_UNPACKED_BYTES });
    const collected: Promise<void>[] = [];
    await new Promise<void>((resolve, reject) => {
      const parser = new Parser({ strict: true, onReadEntry: (entry) => void collected.push(collect(entry, unpacking, shownAs)) });
      parser.on('end', resolve).on('error', reject);
      parser.end(plain);
    });
    await Promise.all(collected);
    return new MemoryTree(unpacking.items);
  });
}

async function collect(entry: ReadEntry, unpacking: Unpacking, shownAs: string): Promise<void> {
  const content = await entry.concat();
  const mode = entry.mode ?? 0o644;
  unpacking.announce(content.length);
  if (entry.type === 'Directory') unpacking.addFolder(entry.path, mode);
  else if (entry.type === 'SymbolicLink') unpacking.addLink(entry.path, entry.linkpath ?? '');
  else if (entry.type === 'File' || entry.type === 'OldFile') unpacking.addFile(entry.path, Buffer.from(content), mode);
  else
    throw new RefusedError({
      what: `${shownAs} holds “${entry.path}”, which is no file, folder or symbolic link`,
      hint: 'nothing was written',
    });
}
