import { buffer } from 'node:stream/consumers';
import yauzl from 'yauzl';
import { RefusedError } from '../errors.ts';
import { folderOf, resolveInTree } from '../files/file-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';

/** An archive that would unpack to more than this is refused: no theme is that large, and bombs are. */
const MAX_UNPACKED_BYTES = 1024 * 1024 * 1024;
const MAX_ENTRIES = 100_000;

const TYPE_MASK = 0o170000;
const LINK_TYPE = 0o120000;

/**
 * Unpacks a zip archive into memory.
 * @throws RefusedError when it is not one, is damaged, or holds a path that would leave the folder it is unpacked to
 */
export async function readZip(bytes: Buffer, shownAs: string): Promise<MemoryTree> {
  try {
    return await unpack(bytes, shownAs);
  } catch (error) {
    if (error instanceof RefusedError) throw error;
    const why = error instanceof Error ? error.message : String(error);
    throw new RefusedError({ what: `${shownAs} cannot be unpacked`, why, hint: 'nothing was written; pack it again', cause: error });
  }
}

async function unpack(bytes: Buffer, shownAs: string): Promise<MemoryTree> {
  const zip = await yauzl.fromBufferPromise(bytes, { lazyEntries: true, strictFileNames: true });
  const items = new Map<string, MemoryItem>();
  let total = 0;
  for await (const entry of zip.eachEntry()) {
    const path = safePath(entry.fileName, shownAs);
    total += entry.uncompressedSize;
    if (total > MAX_UNPACKED_BYTES || items.size >= MAX_ENTRIES) {
      throw new RefusedError({
        what: `${shownAs} is too large to be a theme`,
        why: 'it would unpack to more than 1 GiB or 100,000 entries',
      });
    }
    if (items.has(path)) throw new RefusedError({ what: `${shownAs} holds “${path}” twice` });
    const mode = entry.externalFileAttributes >>> 16;
    if (entry.fileName.endsWith('/')) {
      items.set(path, { kind: 'folder', path, mode: mode & 0o777 || 0o755 });
      continue;
    }
    const content = await buffer(await zip.openReadStreamPromise(entry));
    if ((mode & TYPE_MASK) === LINK_TYPE) items.set(path, safeLink(path, content.toString('utf8'), shownAs));
    else items.set(path, { kind: 'file', path, content: { bytes: content }, size: content.length, mode: mode & 0o777 || 0o644 });
  }
  return new MemoryTree(items.values());
}

/** What the library lets pass though no theme has it: NUL, empty and dot parts, names that Windows keeps for devices. */
function safePath(name: string, shownAs: string): string {
  const parts = name.replace(/\/$/, '').split('/');
  const isUnsafe =
    name.includes('\0') ||
    name.includes('\\') ||
    parts.some((part) => part === '' || part === '.' || part === '..' || /^[a-z]:/i.test(part));
  if (isUnsafe)
    throw new RefusedError({
      what: `${shownAs} holds the unsafe path “${name.replaceAll('\0', '␀')}”`,
      why: 'it would be written outside the theme’s folder',
      hint: 'nothing was written',
    });
  return parts.join('/');
}

function safeLink(path: string, target: string, shownAs: string): MemoryItem {
  if (target.startsWith('/') || resolveInTree(folderOf(path), target) === undefined) {
    throw new RefusedError({
      what: `${shownAs} holds the link “${path}”, which points to ${target}`,
      why: 'that is outside the theme’s folder',
      hint: 'nothing was written',
    });
  }
  return { kind: 'link', path, target };
}
