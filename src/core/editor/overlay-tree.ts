import { compareEntries, type FileEntry, type FileTree } from '../files/file-tree.ts';

/** A tree with the texts of an editor in the place of files; it lies on disk where the tree below does. */
export class OverlayTree implements FileTree {
  readonly entries: readonly FileEntry[];
  readonly disk: FileTree['disk'];
  readonly #below: FileTree;
  readonly #texts: ReadonlyMap<string, Buffer>;
  readonly #own: ReadonlyMap<string, FileEntry>;

  /** @param texts by paths from the root */
  constructor(below: FileTree, texts: ReadonlyMap<string, Buffer>) {
    this.#below = below;
    this.#texts = texts;
    this.disk = below.disk;
    const own = [...texts].map(([path, { length: size }]): FileEntry => ({
      path,
      kind: 'file',
      size,
      mode: below.get(path)?.mode ?? 0o644,
    }));
    this.#own = new Map(own.map((entry) => [entry.path, entry]));
    const isNew = own.some(({ path }) => below.get(path) === undefined);
    const kept = below.entries.map((entry) => this.#own.get(entry.path) ?? entry);
    this.entries = isNew ? [...kept, ...own.filter(({ path }) => below.get(path) === undefined)].sort(compareEntries) : kept;
  }

  get(path: string): FileEntry | undefined {
    return this.#own.get(path) ?? this.#below.get(path);
  }

  read(path: string, isEnough?: (head: Buffer) => boolean): Buffer {
    return this.#texts.get(path) ?? this.#below.read(path, isEnough);
  }

  parts(path: string): Iterable<Buffer> {
    const text = this.#texts.get(path);
    return text === undefined ? this.#below.parts(path) : [text];
  }

  tail(path: string, length: number): Buffer {
    const text = this.#texts.get(path);
    return text === undefined ? this.#below.tail(path, length) : text.subarray(Math.max(0, text.length - length));
  }
}
