/** One file of an archive while it is read; `end` says that it was whole. */
export interface TakenFile {
  /** @param part is used for others afterward */
  append(part: Buffer): void;
  end(): void;
}

/** Whoever wants to know what an archive holds, entry by entry, while it is read. Everything can refuse by throwing. */
export interface EntryTaker {
  addFolder(name: string, mode: number): void;
  addLink(name: string, target: string): void;
  /** Begins a file of so many bytes, as far as the archive says; undefined when its content is not wanted. */
  addFile(name: string, size: number, mode: number): TakenFile | undefined;
  /** An entry that is not a file, folder or symbolic link. */
  refuseKind(name: string, kind: string): never;
}
