import { followLinks, type FileTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import type { Shelves } from './shelf.ts';
import type { Theme } from './theme.ts';

/** A theme and its parents, the root last; and why the chain ends early, if it does. */
export interface Chain {
  readonly themes: readonly Theme[];
  readonly broken?: { readonly kind: 'missing' | 'circle'; readonly id: string; readonly of: Theme } | undefined;
}

/** Follows a theme's parents over the shelves. */
export function openChain(theme: Theme, shelves: Shelves): Chain {
  const themes = [theme];
  const seen = new Set([theme.names.id]);
  for (let last = theme, id = last.parent; id !== undefined; id = last.parent) {
    if (seen.has(id)) return { themes, broken: { kind: 'circle', id, of: last } };
    const shelved = shelves.find(id);
    if (shelved === undefined) return { themes, broken: { kind: 'missing', id, of: last } };
    last = shelves.open(shelved);
    themes.push(last);
    seen.add(id);
  }
  return { themes };
}

/** A file that a chain serves, and the theme that it comes from. */
export interface ChainFile {
  readonly theme: Theme;
  readonly path: string;
}

/** Finds the file that the host would take: the theme's own, else the nearest parent's when the platform lets it be inherited. */
export function findInChain(chain: Chain, path: string): ChainFile | undefined {
  const inherited = chain.themes[0]?.platform.contract.inheritance.inherits ?? [];
  for (const [i, theme] of chain.themes.entries()) {
    if (i > 0 && !matchesAny(path, inherited)) return undefined;
    if (hasFile(theme.tree, path)) return { theme, path };
  }
  return undefined;
}

function hasFile(tree: FileTree, path: string): boolean {
  return followLinks(tree, path)?.kind === 'file';
}
