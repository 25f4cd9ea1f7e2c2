import { stringify } from 'yaml';
import { sha256 } from '../changes/stamps.ts';
import { UsageError } from '../errors.ts';
import { nearest } from '../text/nearest.ts';
import { findInChain, type Chain } from '../theme/chain.ts';
import { OVERRIDES_FILE } from '../theme/package-contents.ts';
import { serveRole } from '../theme/roles.ts';
import { withFile } from '../files/changed-tree.ts';
import type { FileTree } from '../files/file-tree.ts';

/** A file of a parent that a child has a copy of. */
export interface TakenFile {
  /** Where it lies in the child. */
  readonly file: string;
  /** The theme that it was taken from, its version, and where it lies there. */
  readonly theme: string;
  readonly version?: string | undefined;
  readonly from: string;
  /** Of the original. */
  readonly sha256: string;
  /** The day, as ISO 8601 has it. */
  readonly taken: string;
}

const HEAD = '# Files taken from a parent, so that it can be told what became of them there. Not part of the theme.\n';

/**
 * Puts copies of a parent's files into a child, where they take the originals' place, and notes what they were.
 * @param parents the parent with what it builds on
 * @param wanted files by their paths, or page roles
 * @param now milliseconds since 1970
 * @throws UsageError when nothing serves one of them
 */
export function takeFromParent(
  tree: FileTree,
  parents: Chain,
  wanted: readonly string[],
  now: number,
): { tree: FileTree; taken: TakenFile[] } {
  const taken: TakenFile[] = [];
  let result = tree;
  for (const each of wanted) {
    const { file, source } = sourceOf(parents, each);
    const bytes = source.theme.tree.read(source.path);
    result = withFile(result, file, bytes);
    const { names } = source.theme;
    taken.push({
      file,
      theme: names.id,
      version: source.theme.text('version'),
      from: source.path,
      sha256: sha256(bytes),
      taken: new Date(now).toISOString().slice(0, 10),
    });
  }
  if (taken.length === 0) return { tree, taken };
  return { tree: withFile(result, OVERRIDES_FILE, Buffer.from(HEAD + stringify({ overrides: taken }, { keepUndefined: false }))), taken };
}

function sourceOf(parents: Chain, wanted: string): { file: string; source: NonNullable<ReturnType<typeof findInChain>> } {
  const [parent] = parents.themes;
  const roles = parent?.platform.contract.templates?.roles ?? {};
  const role = Object.hasOwn(roles, wanted) ? roles[wanted] : undefined;
  const file = role?.file ?? wanted.replace(/^\.?\//, '');
  const source = role === undefined ? findInChain(parents, file) : serveRole(parents, wanted).file;
  if (source !== undefined) return { file, source };
  const known = [...Object.keys(roles), ...(parent?.tree.entries ?? []).filter(({ kind }) => kind === 'file').map(({ path }) => path)];
  const near = nearest(wanted, known);
  throw new UsageError({
    what: `${parent?.names.id ?? 'the parent'} has no file and no page “${wanted}”`,
    hint: near === undefined ? `pages: ${Object.keys(roles).join(', ')}` : `did you mean “${near}”?`,
  });
}
