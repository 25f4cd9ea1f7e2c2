import { RefusedError } from '../errors.ts';
import { folderOf, resolveInTree } from '../files/file-tree.ts';
import type { MemoryItem } from '../files/memory-tree.ts';

/** An archive that would unpack to more than this is refused: no theme is that large, and bombs are. */
export const MAX_UNPACKED_BYTES = 1024 * 1024 * 1024;
const MAX_ENTRIES = 100_000;

/** Collects the entries of an archive and refuses what would do harm. */
export class Unpacking {
  readonly #items = new Map<string, MemoryItem>();
  readonly #shownAs: string;
  #bytes = 0;

  constructor(shownAs: string) {
    this.#shownAs = shownAs;
  }

  get items(): Iterable<MemoryItem> {
    return this.#items.values();
  }

  /** Counts what is to come, before it is unpacked. @throws RefusedError when it is too much */
  announce(size: number): void {
    this.#bytes += size;
    if (this.#bytes > MAX_UNPACKED_BYTES || this.#items.size >= MAX_ENTRIES) {
      throw new RefusedError({
        what: `${this.#shownAs} is too large to be a theme`,
        why: 'it would unpack to more than 1 GiB or 100,000 entries',
      });
    }
  }

  addFolder(name: string, mode: number): void {
    this.#add({ kind: 'folder', path: this.#safePath(name), mode: mode & 0o777 || 0o755 });
  }

  addFile(name: string, bytes: Buffer, mode: number): void {
    this.#add({ kind: 'file', path: this.#safePath(name), content: { bytes }, size: bytes.length, mode: mode & 0o777 || 0o644 });
  }

  addLink(name: string, target: string): void {
    const path = this.#safePath(name);
    if (target.startsWith('/') || resolveInTree(folderOf(path), target) === undefined) {
      throw new RefusedError({
        what: `${this.#shownAs} holds the link “${path}”, which points to ${target}`,
        why: 'that is outside the theme’s folder',
        hint: 'nothing was written',
      });
    }
    this.#add({ kind: 'link', path, target });
  }

  #add(item: MemoryItem): void {
    if (this.#items.has(item.path) && item.kind !== 'folder')
      throw new RefusedError({ what: `${this.#shownAs} holds “${item.path}” twice` });
    this.#items.set(item.path, item);
  }

  /** What the libraries let pass though no theme has it: NUL, empty and dot parts, backslashes, drives. */
  #safePath(name: string): string {
    const parts = name.replace(/\/$/, '').split('/');
    const isUnsafe =
      name.includes('\0') ||
      name.includes('\\') ||
      parts.some((part) => part === '' || part === '.' || part === '..' || /^[a-z]:/i.test(part));
    if (isUnsafe) {
      throw new RefusedError({
        what: `${this.#shownAs} holds the unsafe path “${name.replaceAll('\0', '␀')}”`,
        why: 'it would be written outside the theme’s folder',
        hint: 'nothing was written',
      });
    }
    return parts.join('/');
  }
}

/** Turns what a reading library throws into a refusal. */
export async function orRefuse<T>(shownAs: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof RefusedError) throw error;
    const why = error instanceof Error ? error.message : String(error);
    throw new RefusedError({ what: `${shownAs} cannot be unpacked`, why, hint: 'nothing was written; pack it again', cause: error });
  }
}
