import { applyEdits, type TextEdit } from '../text/edits.ts';
import { SourceDocument } from '../text/source-document.ts';
import {
  compareEntries,
  folderOf,
  followLinks,
  HEAD_BYTES,
  UnreadableFileError,
  type FileEntry,
  type FileTree,
  type StoredBytes,
} from './file-tree.ts';

/**
 * Where the bytes of a planned or unpacked file are: here, in a store, or still in another tree, maybe with edits to be
 * made. A plan over a large theme so needs little memory.
 */
export type FileContent =
  | { readonly bytes: Buffer }
  | { readonly stored: StoredBytes }
  | { readonly tree: FileTree; readonly path: string; readonly edits?: readonly TextEdit[] | undefined };

export function readContent(content: FileContent): Buffer {
  if ('bytes' in content) return content.bytes;
  if ('stored' in content) return content.stored.read();
  const bytes = content.tree.read(content.path);
  if (content.edits === undefined) return bytes;
  const source = SourceDocument.decode(content.path, bytes);
  const edited = source?.encode(applyEdits(source.text, content.edits));
  // Whoever planned the edits has read the file as text: now it is another one.
  if (edited === undefined) throw new UnreadableFileError(content.path, 'it was changed meanwhile');
  return edited;
}

/** Like {@link readContent}, in parts: only a file that is edited, which is a text, is in memory as a whole. */
export function contentParts(content: FileContent): Iterable<Buffer> {
  if ('stored' in content) return content.stored.parts();
  return 'bytes' in content || content.edits !== undefined ? [readContent(content)] : content.tree.parts(content.path);
}

/** Where a file's bytes lie on disk just as they are wanted; undefined when they must be made. */
export function diskPathOf(content: FileContent): string | undefined {
  return 'tree' in content && content.edits === undefined ? content.tree.diskPath?.(content.path) : undefined;
}

export type MemoryItem =
  | { readonly kind: 'file'; readonly path: string; readonly content: FileContent; readonly size: number; readonly mode: number }
  | { readonly kind: 'folder'; readonly path: string; readonly mode: number }
  | { readonly kind: 'link'; readonly path: string; readonly target: string };

/** A file tree held in memory: an unpacked archive, a plan's outcome, or a test's files. */
export class MemoryTree implements FileTree {
  readonly entries: readonly FileEntry[];
  readonly #byPath = new Map<string, FileEntry>();
  readonly #content = new Map<string, FileContent>();

  constructor(items: Iterable<MemoryItem>) {
    for (const item of items) {
      this.#byPath.set(item.path, {
        path: item.path,
        kind: item.kind,
        size: item.kind === 'file' ? item.size : 0,
        mode: item.kind === 'link' ? 0o777 : item.mode,
        target: item.kind === 'link' ? item.target : undefined,
      });
      if (item.kind === 'file') this.#content.set(item.path, item.content);
    }
    for (const path of [...this.#byPath.keys()]) {
      for (let folder = folderOf(path); folder !== '' && !this.#byPath.has(folder); folder = folderOf(folder)) {
        this.#byPath.set(folder, { path: folder, kind: 'folder', size: 0, mode: 0o755 });
      }
    }
    this.entries = [...this.#byPath.values()].sort(compareEntries);
  }

  /** Makes a tree of texts (UTF-8) and bytes, by path. */
  static of(files: Readonly<Record<string, string | Buffer>>): MemoryTree {
    return new MemoryTree(
      Object.entries(files).map(([path, content]) => {
        const bytes = typeof content === 'string' ? Buffer.from(content) : content;
        return { kind: 'file', path, content: { bytes }, size: bytes.length, mode: 0o644 };
      }),
    );
  }

  get(path: string): FileEntry | undefined {
    return this.#byPath.get(path);
  }

  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer {
    const content = this.#contentOf(path);
    if (isEnough !== undefined && 'stored' in content && content.stored.size > HEAD_BYTES) {
      const head = content.stored.read(HEAD_BYTES);
      if (isEnough(head)) return head;
    }
    return readContent(content);
  }

  parts(path: string): Iterable<Buffer> {
    return contentParts(this.#contentOf(path));
  }

  tail(path: string, length: number): Buffer {
    const content = this.#contentOf(path);
    if ('tree' in content && content.edits === undefined) return content.tree.tail(content.path, length);
    const bytes = 'stored' in content ? content.stored.read() : readContent(content);
    return bytes.subarray(Math.max(0, bytes.length - length));
  }

  #contentOf(path: string): FileContent {
    const entry = followLinks(this, path);
    const content = entry === undefined ? undefined : this.#content.get(entry.path);
    if (content === undefined) throw new UnreadableFileError(path, 'no such file');
    return content;
  }

  diskPath(path: string): string | undefined {
    const content = this.#content.get(path);
    return content === undefined ? undefined : diskPathOf(content);
  }
}
