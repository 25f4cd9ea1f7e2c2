import { sha256 } from '../changes/stamps.ts';
import { UsageError } from '../errors.ts';
import { withFile } from '../files/changed-tree.ts';
import { baseOf, folderOf, resolveInTree, withoutEnding, type FileTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { nearest } from '../text/nearest.ts';
import { findInChain, type Chain, type ChainFile } from '../theme/chain.ts';
import { keptOriginal, readOverrides, withOverrides } from '../contents/overrides.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import { findSheetReferences } from '../contents/references.ts';
import { addressInto } from '../contents/outside.ts';
import { serveRole } from '../contents/roles.ts';
import { builtInServing, servedAt } from '../contents/serving.ts';
import { Theme } from '../theme/theme.ts';
import { didYouMean, listed } from '../text/sentence.ts';

/** A remark on a file that was taken. */
export type TakingNote =
  /** All that the parent’s stylesheet says is gone. */
  | { readonly code: 'sheet-replaced'; readonly file: string; readonly theme: string }
  /** An address was changed so that it still leads to the parent’s file. */
  | { readonly code: 'address-changed'; readonly file: string; readonly from: string; readonly to: string };

export interface TakenFiles {
  readonly tree: FileTree;
  readonly taken: readonly TakenFile[];
  readonly notes: readonly TakingNote[];
}

export interface TakeRequest {
  /** The child’s files, and what it is called. */
  readonly tree: FileTree;
  readonly names: ThemeNames;
  /** The parent with what it builds on. */
  readonly parents: Chain;
  /** Files by their paths, or page roles. */
  readonly wanted: readonly string[];
  /** Milliseconds since 1970. */
  readonly now: number;
}

/**
 * Puts copies of a parent's files into a child, where they take the originals' place, and notes what they were and said. Relative addresses
 * that would lead nowhere from there are changed to lead into the parent.
 * @throws UsageError when nothing serves one of them
 */
export function takeFromParent({ tree, names, parents, wanted, now }: TakeRequest): TakenFiles {
  const taken: TakenFile[] = [];
  const notes: TakingNote[] = [];
  let result = tree;
  for (const each of wanted) {
    const { file, source } = sourceOf(parents, each);
    const bytes = source.theme.tree.read(source.path);
    result = withFile(result, file, bytes);
    const { id } = source.theme.names;
    taken.push({
      file,
      theme: id,
      version: source.theme.text('version'),
      from: source.path,
      sha256: sha256(bytes),
      taken: new Date(now).toISOString().slice(0, 10),
      original: keptOriginal(bytes),
    });
    const { inheritance, assets } = source.theme.platform.contract;
    if (file.endsWith('.css') && (matchesAny(file, inheritance.shadows) || file === assets['main-sheet']))
      notes.push({ code: 'sheet-replaced', file, theme: id });
  }
  if (taken.length === 0) return { tree, taken, notes };
  for (const { file } of taken) {
    const moved = withAddresses(result, file, names, parents);
    result = moved.tree;
    notes.push(...moved.notes);
  }
  const before = readOverrides(tree).taken.filter(({ file }) => taken.every((each) => each.file !== file));
  return { tree: withOverrides(result, [...before, ...taken]), taken, notes };
}

/** A stylesheet that was taken, with addresses into the parent where the child has no such file and is served none. */
function withAddresses(tree: FileTree, file: string, names: ThemeNames, parents: Chain): { tree: FileTree; notes: TakingNote[] } {
  const [parent] = parents.themes;
  if (parent === undefined || !file.endsWith('.css')) return { tree, notes: [] };
  const { platform } = parent;
  const child = new Theme(platform, tree, names, names.id);
  const chain: Chain = { ...parents, themes: [child, ...parents.themes] };
  const source = child.source(file);
  const notes: TakingNote[] = [];
  const edits = findSheetReferences(source?.text ?? '').flatMap(({ target, start, end }) => {
    const path = /^(?:[a-z][a-z0-9+.-]*:|\/|#)/i.test(target) ? undefined : resolveInTree(folderOf(file), target.replace(/[?#].*$/s, ''));
    const holder = path === undefined ? undefined : parents.themes.find((theme) => theme.tree.get(path)?.kind === 'file');
    if (path === undefined || holder === undefined || servedAt(chain, path) !== undefined) return [];
    const rest = target.slice(target.replace(/[?#].*$/s, '').length);
    const to = addressInto(holder, path, platform, names, folderOf(file)) + rest;
    notes.push({ code: 'address-changed', file, from: target, to });
    return [{ start, end, text: to }];
  });
  const bytes = edits.length === 0 ? undefined : source?.encode(source.withEdits(edits).text);
  return bytes === undefined ? { tree, notes: [] } : { tree: withFile(tree, file, bytes), notes };
}

function sourceOf(parents: Chain, wanted: string): { file: string; source: ChainFile } {
  const [parent] = parents.themes;
  const roles = parent?.platform.contract.templates?.roles ?? {};
  const role = Object.hasOwn(roles, wanted) ? roles[wanted] : undefined;
  const file = role?.file ?? wanted.replace(/^\.?\//, '');
  const source = role === undefined ? findInChain(parents, file) : serveRole(parents, wanted).file;
  if (source !== undefined) return { file, source };
  // Files that a host does not inherit can be copied all the same.
  const holder = role === undefined ? parents.themes.find(({ tree }) => tree.get(file)?.kind === 'file') : undefined;
  if (holder !== undefined) return { file, source: { theme: holder, path: file } };
  const brought = role === undefined ? builtInServing(parents, file) : serveRole(parents, wanted).builtIn?.id;
  if (brought !== undefined)
    throw new UsageError({
      what: `${file} comes with the host, from its theme ${brought}: it is not here`,
      hint: `name the folder that ${brought} lies in with --shelf, or copy the file from there`,
    });
  const known = [...Object.keys(roles), ...(parent?.tree.entries ?? []).filter(({ kind }) => kind === 'file').map(({ path }) => path)];
  // A name alone means the file that is called so, in whatever folder.
  const called = known.find((path) => [baseOf(path), withoutEnding(baseOf(path))].includes(wanted));
  const near = called ?? nearest(wanted, known);
  throw new UsageError({
    what: `${parent?.names.id ?? 'the parent'} has no file and no page “${wanted}”`,
    hint: didYouMean(near, Object.keys(roles).length > 0 ? `pages: ${Object.keys(roles).join(', ')}` : `it has ${listed(known, 5)}`),
  });
}
