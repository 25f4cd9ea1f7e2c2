import { createHash } from 'node:crypto';
import type { FileEntry, FileTree } from '../files/file-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import { fillShape } from '../names/shape.ts';
import { nameInArchive } from '../archives/top-folder.ts';
import type { ArchiveFormat } from '../archives/archive-format.ts';
import type { ArchiveFormatName } from '../archives/format-names.ts';
import type { Theme } from '../theme/theme.ts';

/** How a package is made: its name, where the theme lies in it, and what stands beside it. */
export interface PackageForm {
  /** The archive’s file name. */
  readonly name: string;
  /** The folder of the theme in the archive; '' for none. */
  readonly top: string;
  /** The entries of the archive. */
  readonly held: Held;
}

/** Entries of a tree, and the folder of the archive that they go into. */
export interface Held {
  readonly tree: FileTree;
  readonly entries: readonly FileEntry[];
  readonly top: string;
}

/** A theme that says no version is at the beginning. */
const NO_VERSION = '0';

/** The form of a format’s package for a theme, as the platform has it. */
export function packageForm(theme: Theme, entries: readonly FileEntry[], format: ArchiveFormat): PackageForm {
  const { name, top: usual, forms } = theme.platform.contract.package;
  const form = forms[format.name];
  // It becomes part of paths: nothing in it leads elsewhere.
  const version = (theme.text('version') ?? NO_VERSION).replaceAll(/[^\w.+-]/g, '_');
  const filled = (shape: string): string => fillShape(shape, theme.names).replaceAll('{version}', version);
  const top = filled(form?.top ?? usual);
  const isPlain = form === undefined || (form.adds.length === 0 && form.records === undefined);
  return {
    name: `${filled(form?.name ?? name)}.${format.name}`,
    top,
    held: isPlain ? { tree: theme.tree, entries, top } : { ...withPapers(theme, entries, top, form, filled), top: '' },
  };
}

type Form = NonNullable<Theme['platform']['contract']['package']['forms'][ArchiveFormatName]>;

function withPapers(
  theme: Theme,
  entries: readonly FileEntry[],
  top: string,
  { adds, records }: Form,
  filled: (shape: string) => string,
): Omit<Held, 'top'> {
  const own = entries.map((entry): MemoryItem => {
    const path = nameInArchive(top, entry).replace(/\/$/, '');
    if (entry.kind === 'folder') return { kind: 'folder', path, mode: entry.mode };
    if (entry.kind === 'link') return { kind: 'link', path, target: entry.target ?? '' };
    return { kind: 'file', path, content: { tree: theme.tree, path: entry.path }, size: entry.size, mode: entry.mode };
  });
  const file = (path: string, text: string): MemoryItem => {
    const bytes = Buffer.from(text);
    return { kind: 'file', path, content: { bytes }, size: bytes.length, mode: 0o644 };
  };
  const items = [...own, ...adds.map(({ path, text }) => file(filled(path), withFacts(filled(text), theme)))];
  const recorded = records === undefined ? undefined : filled(records);
  const tree = new MemoryTree(recorded === undefined ? items : [...items, file(recorded, recordOf(new MemoryTree(items), recorded))]);
  return { tree, entries: tree.entries };
}

/** Puts facts in; a line with one that the theme has not is left out. */
function withFacts(text: string, theme: Theme): string {
  return text
    .split('\n')
    .flatMap((line) => {
      let isWhole = true;
      const filled = line.replace(/\{([A-Za-z]+)\}/g, (_whole, fact: string) => {
        const value = theme.text(fact);
        isWhole &&= value !== undefined;
        return value?.replaceAll(/\s+/g, ' ') ?? '';
      });
      return isWhole ? [filled] : [];
    })
    .join('\n');
}

/** A line a file: its path, its SHA-256 in URL-safe Base64 without padding, its size; nothing of the record itself (PEP 376, PEP 427). */
function recordOf(tree: FileTree, record: string): string {
  const field = (path: string): string => (/[",\n]/.test(path) ? `"${path.replaceAll('"', '""')}"` : path);
  const lines = tree.entries.flatMap(({ kind, path, size }) => {
    if (kind !== 'file') return [];
    const hash = createHash('sha256');
    for (const part of tree.parts(path)) hash.update(part);
    return [`${field(path)},sha256=${hash.digest('base64url')},${size}`];
  });
  return [...lines, `${field(record)},,`, ''].join('\n');
}
