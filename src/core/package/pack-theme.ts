import { createHash } from 'node:crypto';
import { UsageError } from '../errors.ts';
import type { FileTree } from '../files/file-tree.ts';
import { fillShape } from '../platform/shape.ts';
import type { Theme } from '../theme/theme.ts';
import { choosePackageContents, type PackageContents } from './contents.ts';
import { ARCHIVE_FORMATS, type ArchiveFormat } from './archive-format.ts';

export interface PackedTheme extends PackageContents {
  readonly format: ArchiveFormat['name'];
  /** The archive's file name. */
  readonly name: string;
  readonly top: string;
  readonly bytes: Buffer;
  /** Of the archive, in hexadecimal. */
  readonly sha256: string;
  /** Whether the archive, read back, gave every entry with the same bytes. */
  readonly verified: boolean;
}

/**
 * Packs a theme into an archive in memory and reads it back. Writes nothing.
 * @param wanted the archive's format; the platform's first one when left out
 * @throws UsageError when the platform does not take that format
 * @throws UnreadableFileError when a file of the theme cannot be read
 */
export async function packTheme(theme: Theme, excluded: readonly string[], wanted?: string): Promise<PackedTheme> {
  const contract = theme.platform.contract.package;
  const contents = choosePackageContents(theme, excluded);
  const top = fillShape(contract.top, theme.names);
  const format = chooseFormat(theme, wanted);
  const name = `${fillShape(contract.name, theme.names)}.${format.name}`;
  const bytes = await format.write(theme.tree, contents.entries, top);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const verified = isSameContents(theme.tree, contents, await format.read(bytes, name), top);
  return { ...contents, format: format.name, name, top, bytes, sha256, verified };
}

function chooseFormat(theme: Theme, wanted: string | undefined): ArchiveFormat {
  const { formats } = theme.platform.contract.package;
  const format = ARCHIVE_FORMATS.find((each) => each.name === (wanted ?? formats[0]));
  if (format !== undefined && formats.includes(format.name)) return format;
  throw new UsageError({ what: `${theme.platform.contract.title} takes no ${wanted} packages`, hint: `it takes ${formats.join(', ')}` });
}

function isSameContents(tree: FileTree, contents: PackageContents, unpacked: FileTree, top: string): boolean {
  const packed = new Set(unpacked.entries.map((entry) => entry.path));
  packed.delete(top);
  for (const entry of contents.entries) {
    const twin = unpacked.get(`${top}/${entry.path}`);
    if (twin === undefined || twin.kind !== entry.kind || twin.target !== entry.target) return false;
    if (entry.kind === 'file' && !unpacked.read(twin.path).equals(tree.read(entry.path))) return false;
    packed.delete(twin.path);
  }
  return [...packed].every((path) => unpacked.get(path)?.kind === 'folder');
}
