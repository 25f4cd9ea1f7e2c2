import { temporaryFolder } from '../files/disk.ts';
import { readRange, withFile, type OpenFile } from '../files/disk-file.ts';
import type { FileEntry, FileTree } from '../files/file-tree.ts';
import type { Checksums } from './comparison.ts';
import type { EntryTaker } from './entry-taker.ts';
import { isGzip, readTarGz, writeTarGz } from './tar.ts';
import { orRefuse, Unpacking, type UnpackedArchive } from './unpacking.ts';
import { readZip } from './zip-read.ts';
import { ARCHIVE_FORMAT_NAMES, type ArchiveFormatName } from './format-names.ts';
import { beginZip, writeZip } from './zip-write.ts';
import type { DeflatedAhead } from './deflated-ahead.ts';
import type { Sink } from '../changes/disk-writer.ts';

/** One archive format: how it is written and read. Equal trees give equal bytes. */
export interface ArchiveFormat {
  readonly name: ArchiveFormatName;
  /** How the names of such archives end. */
  readonly endings: readonly string[];
  /**
   * Writes what a tree holds below a top folder, part by part; all entries have one time, in milliseconds since 1970.
   * @param ahead what was begun of it
   */
  write(tree: FileTree, entries: readonly FileEntry[], top: string, sink: Sink, time?: number, ahead?: DeflatedAhead): Promise<Checksums>;
  /** Begins what takes long of writing, on workers, so that something else can be done meanwhile. @param jobs threads at the same time */
  begin?(tree: FileTree, entries: readonly FileEntry[], jobs?: number): DeflatedAhead | undefined;
  /** Tells what an archive holds, entry by entry. @throws Error when it is damaged */
  read(file: OpenFile, taker: EntryTaker): Promise<void>;
}

const BY_NAME: Readonly<Record<ArchiveFormatName, Omit<ArchiveFormat, 'name'>>> = {
  zip: { endings: ['.zip'], write: writeZip, begin: beginZip, read: readZip },
  'tar.gz': { endings: ['.tar.gz', '.tgz'], write: writeTarGz, read: readTarGz },
  // A wheel is a zip archive with papers of its own (PEP 427).
  whl: { endings: ['.whl'], write: writeZip, begin: beginZip, read: readZip },
};

export const ARCHIVE_FORMATS: readonly ArchiveFormat[] = ARCHIVE_FORMAT_NAMES.map((name) => ({ name, ...BY_NAME[name] }));

/** The format that a file name's ending stands for; undefined when there is none. */
export function formatOfName(name: string): ArchiveFormatName | undefined {
  return ARCHIVE_FORMATS.find(({ endings }) => endings.some((ending) => name.toLowerCase().endsWith(ending)))?.name;
}

/**
 * Unpacks an archive of any format to a place on the disk that has no name; nothing is written under a name of the
 * archive's. The one way in: whatever is cloned, installed or rehearsed from an archive comes through here.
 * @throws RefusedError when it is damaged, too large, or holds what would do harm
 */
export async function readArchive(path: string, shownAs: string): Promise<UnpackedArchive> {
  return orRefuse(shownAs, async () =>
    withFile(path, async (file) => {
      const unpacking = new Unpacking(shownAs, file.size, temporaryFolder());
      const read = isGzip(readRange(file, 0, Math.min(2, file.size))) ? readTarGz : readZip;
      await read(file, unpacking);
      return unpacking.finish();
    }),
  );
}
