import { createHash } from 'node:crypto';
import type { FileTree } from '../files/file-tree.ts';
import { fillShape } from '../platform/shape.ts';
import type { Theme } from '../theme/theme.ts';
import { choosePackageContents, type PackageContents } from './contents.ts';
import { readZip } from './zip-read.ts';
import { writeZip } from './zip-write.ts';

export interface PackedTheme extends PackageContents {
  readonly format: 'zip';
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
 * @throws UnreadableFileError when a file of the theme cannot be read
 */
export async function packTheme(theme: Theme, excluded: readonly string[]): Promise<PackedTheme> {
  const contract = theme.platform.contract.package;
  const contents = choosePackageContents(theme, excluded);
  const top = fillShape(contract.top, theme.names);
  const name = `${fillShape(contract.name, theme.names)}.zip`;
  const bytes = await writeZip(theme.tree, contents.entries, top);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const verified = isSameContents(theme.tree, contents, await readZip(bytes, name), top);
  return { ...contents, format: 'zip', name, top, bytes, sha256, verified };
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
