import { RefusedError, systemReason } from '../errors.ts';
import { baseOf, folderOf, type FileTree } from '../files/file-tree.ts';
import { findLeavingLink } from '../files/links.ts';
import { MemoryTree, readContent, type MemoryItem } from '../files/memory-tree.ts';
import { Spool } from '../files/disk-spool.ts';
import type { EntryTaker, TakenFile } from './entry-taker.ts';
import { isRepositoryHead, isRepositoryPart, isToolPath, LONGEST_HEAD } from './tool-paths.ts';

/** The limits of an archive: no theme is larger, and bombs are. Counted while it is read. */
export const ARCHIVE_LIMITS = {
  /** Files, links and folders, those among them that only paths name. */
  entries: 40_000,
  /** Of all files together. */
  bytes: 1 << 28,
  /** Of one file. */
  fileBytes: 1 << 25,
  /** Unpacked bytes for each byte of the archive; texts come to 20. */
  ratio: 100,
  /** So much may be unpacked at any ratio. */
  freeBytes: 1 << 24,
  /** Folders in one another. */
  depth: 40,
  /** Bytes of a path, and of one part of it (NAME_MAX of limits.h on common file systems). */
  pathBytes: 1024,
  partBytes: 255,
} as const;

/** The contents of an archive. */
export interface UnpackedArchive {
  readonly tree: MemoryTree;
  /** Entries that stayed in the archive because they belong to tools and could make them run something; folders end with `/`. */
  readonly leftBehind: readonly string[];
}

/**
 * Takes the entries of an archive one by one, counts them, and refuses what would do harm, before anything is written
 * under a name of the archive's. Every error is a RefusedError.
 */
export class Unpacking implements EntryTaker {
  readonly #items = new Map<string, MemoryItem>();
  readonly #folders = new Set<string>();
  readonly #leftBehind = new Set<string>();
  readonly #shownAs: string;
  readonly #spool: Spool;
  readonly #mostBytes: number;
  #seen = 0;
  #bytes = 0;

  /**
   * @param archiveBytes the size of the archive itself
   * @param temporary a folder for temporary files
   */
  constructor(shownAs: string, archiveBytes: number, temporary: string) {
    this.#shownAs = shownAs;
    this.#spool = new Spool(temporary);
    this.#mostBytes = Math.min(ARCHIVE_LIMITS.bytes, ARCHIVE_LIMITS.freeBytes + ARCHIVE_LIMITS.ratio * archiveBytes);
  }

  addFolder(name: string, mode: number): void {
    const path = this.#take(name);
    if (path === undefined) return;
    this.#addFolders(path);
    const known = this.#items.get(path);
    if (known !== undefined && known.kind !== 'folder') this.#refuseTwoKinds(path);
    this.#items.set(path, { kind: 'folder', path, mode: safeMode(mode, 0o755) });
  }

  addLink(name: string, target: string): void {
    const path = this.#take(name);
    if (path === undefined) return;
    if (target === '' || target.includes('\0') || Buffer.byteLength(target) > ARCHIVE_LIMITS.pathBytes)
      this.#refuse(`holds the link “${path}”, which points nowhere`, 'its target is empty, too long, or no text');
    this.#add({ kind: 'link', path, target });
  }

  addFile(name: string, size: number, mode: number): TakenFile | undefined {
    const path = this.#take(name);
    if (path === undefined) return undefined;
    this.#assertNew(path);
    this.#count(path, size);
    const { append, end } = this.#spool.begin();
    let length = 0;
    return {
      append: (part) => {
        length += part.length;
        if (length > size) this.#refuse(`is damaged: “${path}” is larger than it says`);
        append(part);
      },
      end: () => {
        if (length !== size) this.#refuse(`is damaged: “${path}” has ${length} bytes and should have ${size}`);
        this.#add({ kind: 'file', path, content: { stored: end() }, size, mode: safeMode(mode, 0o644) });
      },
    };
  }

  refuseKind(name: string, kind: string): never {
    this.#refuse(`holds “${name}”, which is ${kind}`, 'a theme consists of files, folders and symbolic links');
  }

  /** All that was taken, once no more is to come. */
  finish(): UnpackedArchive {
    for (const folder of this.#folders) {
      const kind = this.#items.get(folder)?.kind ?? 'folder';
      if (kind === 'link') this.#refuse(`holds files below “${folder}”, which is a link`, 'they would be written where it points');
      if (kind === 'file') this.#refuseTwoKinds(folder);
    }
    this.#leaveRepositories();
    const tree = new MemoryTree(this.#items.values());
    assertLinksStay(tree, this.#shownAs);
    return { tree, leftBehind: [...this.#leftBehind].sort() };
  }

  /** A repository without .git is one as well: Git finds it by what it holds, and runs what its settings say. */
  #leaveRepositories(): void {
    const heads = [...this.#items.values()].filter(({ path }) => baseOf(path) === 'HEAD');
    for (const head of heads) {
      const isHead =
        head.kind === 'link' ||
        (head.kind === 'file' && head.size <= LONGEST_HEAD && isRepositoryHead(readContent(head.content).toString('latin1')));
      if (!isHead) continue;
      const folder = folderOf(head.path);
      for (const [path, { kind }] of this.#items) {
        if (!isRepositoryPart(folder, path)) continue;
        this.#items.delete(path);
        if (kind !== 'folder') this.#leftBehind.add(path);
      }
    }
  }

  /** The path of an entry; undefined when it is left behind. Every entry counts, also those. */
  #take(name: string): string | undefined {
    if (++this.#seen + this.#folders.size > ARCHIVE_LIMITS.entries) this.#tooLarge(`it holds more than 40,000 files and folders`);
    const path = this.#safePath(name);
    const tool = isToolPath(path);
    if (tool === undefined) return path;
    this.#leftBehind.add(tool === path && !name.endsWith('/') ? path : `${tool}/`);
    return undefined;
  }

  #assertNew(path: string): void {
    if (this.#items.has(path)) this.#refuse(`holds “${path}” twice`);
  }

  #add(item: MemoryItem): void {
    this.#assertNew(item.path);
    this.#items.set(item.path, item);
    this.#addFolders(folderOf(item.path));
  }

  /** Folders that only paths name count like others: a path of 40 parts stands for 40 of them. */
  #addFolders(path: string): void {
    for (let folder = path; folder !== '' && !this.#folders.has(folder); folder = folderOf(folder)) this.#folders.add(folder);
  }

  #count(path: string, size: number): void {
    if (size > ARCHIVE_LIMITS.fileBytes) this.#tooLarge(`“${path}” alone would have more than ${mebibytes(ARCHIVE_LIMITS.fileBytes)}`);
    this.#bytes += size;
    if (this.#bytes > this.#mostBytes) this.#tooLarge(`it would unpack to more than ${mebibytes(this.#mostBytes)}`);
  }

  /** Names that the libraries let pass though no theme has them: NUL, empty and dot parts, backslashes, drives, endless names. */
  #safePath(name: string): string {
    const parts = name.replace(/\/$/, '').split('/');
    const isUnsafe =
      name.includes('\0') ||
      name.includes('\\') ||
      parts.some((part) => part === '' || part === '.' || part === '..' || /^[a-z]:/i.test(part));
    if (isUnsafe) this.#refuse(`holds the unsafe path “${shortened(name)}”`, 'it would be written outside the theme’s folder');
    if (name.includes('\uFFFD'))
      this.#refuse(`holds the name “${shortened(name)}”, which is not UTF-8`, 'file systems would show it in different ways');
    const { depth, pathBytes, partBytes } = ARCHIVE_LIMITS;
    if (Buffer.byteLength(name) > pathBytes || parts.some((part) => Buffer.byteLength(part) > partBytes))
      this.#refuse(
        `holds the name “${shortened(name)}”, which is too long`,
        `file systems take ${partBytes} bytes; the whole path may have ${pathBytes}`,
      );
    if (parts.length > depth)
      this.#refuse(`holds “${shortened(name)}”, which lies ${parts.length} folders deep`, `at most ${depth} are taken`);
    return parts.join('/');
  }

  #refuseTwoKinds(path: string): never {
    this.#refuse(`holds “${path}” as a file and as a folder`);
  }

  #tooLarge(why: string): never {
    this.#refuse('is too large to be a theme', why);
  }

  #refuse(what: string, why?: string): never {
    throw new RefusedError({ what: `${this.#shownAs} ${what}`, why, hint: 'nothing was written' });
  }
}

/** Permission bits of an entry, but for those that let others write. */
function safeMode(mode: number, usual: number): number {
  return (mode & 0o777 || usual) & ~0o022;
}

/** @throws RefusedError when a link of an unpacked tree leads out of it */
export function assertLinksStay(tree: FileTree, shownAs: string): void {
  const link = findLeavingLink(tree);
  if (link === undefined) return;
  throw new RefusedError({
    what: `${shownAs} holds the link “${link.path}”, which points to ${link.target}`,
    why: 'that is outside the theme’s folder',
    hint: 'nothing was written',
  });
}

/** Turns what a reading library throws into a refusal. */
export async function orRefuse<T>(shownAs: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof RefusedError) throw error;
    const why = systemReason(error);
    throw new RefusedError({ what: `${shownAs} cannot be unpacked`, why, hint: 'nothing was written; pack it again', cause: error });
  }
}

function shortened(name: string): string {
  return name.length > 80 ? `${name.slice(0, 60)}…${name.slice(-15)}` : name;
}

function mebibytes(size: number): string {
  return `${Math.round(size / (1 << 20))} MiB`;
}
