import { followLinks, type FileTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import type { Shelves } from './shelf.ts';
import type { Theme } from './theme.ts';

/** A theme and what it builds on, nearest first; and why the chain ends early, if it does. */
export interface Chain {
  /** The theme, its commons, its parents with theirs, the root last. */
  readonly themes: readonly Theme[];
  /** Those of {@link themes} that are bags of shared files. */
  readonly commons: ReadonlySet<Theme>;
  readonly broken?: BrokenChain | undefined;
}

export interface BrokenChain {
  readonly kind: 'missing' | 'circle' | 'commons';
  readonly id: string;
  readonly vendor?: string | undefined;
  /** The theme that names it. */
  readonly of: Theme;
}

/** Follows a theme's parents, each with its own parents, over the shelves. */
export function openChain(theme: Theme, shelves: Shelves): Chain {
  const { inheritance } = theme.platform.contract;
  const themes: Theme[] = [];
  const commons = new Set<Theme>();
  let broken: BrokenChain | undefined;
  const visit = (at: Theme, path: readonly string[]): void => {
    themes.push(at);
    for (const bag of commonsOf(at)) {
      const found = shelves.openCommons(bag);
      if (found === undefined) broken ??= { kind: 'commons', id: bag, of: at };
      else if (!themes.includes(found)) {
        themes.push(found);
        commons.add(found);
      }
    }
    // Where a host knows one parent only, the parent's own parent counts for nothing.
    const isEnd = inheritance.kind === 'none' || (inheritance.kind === 'parent' && path.length > 1);
    const vendor = at.parentVendor;
    for (const id of isEnd ? [] : at.parents) {
      if (path.includes(id) && (vendor === undefined || vendor === theme.names.vendor)) {
        broken ??= { kind: 'circle', id, of: at };
        continue;
      }
      const shelved = shelves.find(id, vendor);
      if (shelved === undefined) {
        if (!inheritance['built-in'].includes(id)) broken ??= { kind: 'missing', id, vendor, of: at };
        continue;
      }
      const parent = shelves.open(shelved);
      if (!themes.includes(parent)) visit(parent, [...path, id]);
    }
  };
  visit(theme, [theme.names.id]);
  const last = inheritance['always-last'];
  const shelved = last === undefined || themes.some((each) => each.names.id === last) ? undefined : shelves.find(last);
  if (shelved !== undefined) themes.push(shelves.open(shelved));
  return { themes, commons, broken };
}

function commonsOf(theme: Theme): readonly string[] {
  const fact = theme.platform.contract.inheritance.commons?.fact;
  const value = fact === undefined ? undefined : theme.fact(fact)?.value;
  return Array.isArray(value) ? (value as readonly string[]) : [];
}

/** A file that a chain serves, and the theme that it comes from. */
export interface ChainFile {
  readonly theme: Theme;
  readonly path: string;
}

/** A chain with others in the place of its themes, one for each: as an editor has them, or a part of each. */
export function chainOf(chain: Chain, themes: readonly Theme[]): Chain {
  const { broken, commons } = chain;
  const other = (theme: Theme): Theme => themes[chain.themes.indexOf(theme)] ?? theme;
  return {
    themes,
    commons: new Set([...commons].map(other)),
    ...(broken === undefined ? {} : { broken: { ...broken, of: other(broken.of) } }),
  };
}

/** Finds the file that the host would take: the theme's own, else the nearest that the platform lets it inherit. */
export function findInChain(chain: Chain, path: string): ChainFile | undefined {
  const inherited = chain.themes[0]?.platform.contract.inheritance.inherits ?? [];
  for (const [i, theme] of chain.themes.entries()) {
    if (i > 0 && !chain.commons.has(theme) && !matchesAny(path, inherited)) continue;
    if (hasFile(theme.tree, path)) return { theme, path };
  }
  return undefined;
}

/** The nearest parent that has a file at a path, whether or not the host would take it from there. */
export function parentWith({ themes }: Chain, path: string): Theme | undefined {
  return themes.slice(1).find(({ tree }) => tree.get(path)?.kind === 'file');
}

function hasFile(tree: FileTree, path: string): boolean {
  return followLinks(tree, path)?.kind === 'file';
}
