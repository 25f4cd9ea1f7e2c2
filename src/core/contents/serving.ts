import { posix } from 'node:path';
import { followLinks, isInFolder, pathBelow } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { wholePattern } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';
import type { TemplateContract } from '../platform/schema.ts';
import { pathsOfPartial } from '../templates/template-index.ts';
import { findInChain, type Chain } from '../theme/chain.ts';
import type { Theme } from '../theme/theme.ts';

/** What answers for a path: a file of a theme of the chain, one that is made of it, or a parent that every host brings. */
export type Served =
  | { readonly kind: 'file'; readonly path: string }
  | { readonly kind: 'made'; readonly from: string }
  | { readonly kind: 'built-in'; readonly id: string };

/** Finds what answers for a path from the theme’s root; undefined when nothing does. */
export function servedAt(chain: Chain, path: string): Served | undefined {
  const [theme] = chain.themes;
  if (theme === undefined) return undefined;
  if (followLinks(theme.tree, path) !== undefined || findInChain(chain, path) !== undefined) return { kind: 'file', path };
  const from = sourcesOf(theme.platform, path).find((source) => findInChain(chain, source) !== undefined);
  if (from !== undefined) return { kind: 'made', from };
  const id = builtInServing(chain, path);
  return id === undefined ? undefined : { kind: 'built-in', id };
}

/** The files of which the host, or a tool before it, makes the one at a path. */
export function sourcesOf({ contract }: Platform, path: string): string[] {
  return contract.made.flatMap(({ file, from }) => {
    const match = wholePattern(file).exec(path);
    return match === null ? [] : [from.replace('{path}', () => match.groups?.['path'] ?? '')];
  });
}

/** The files that the host, or a tool before it, makes of the one at a path: the other way round from {@link sourcesOf}. */
export function madeFrom({ contract }: Platform, path: string): string[] {
  return contract.made.flatMap(({ file, from }) => {
    const match = wholePattern(from).exec(path);
    return match === null ? [] : [file.replace('{path}', () => match.groups?.['path'] ?? '')];
  });
}

/** The parent that every host brings, of those that the chain names, that serves a path; undefined when none does. */
export function builtInServing({ themes }: Chain, path: string): string | undefined {
  const { 'built-in': brought = [], 'built-in-files': files = {} } = themes[0]?.platform.contract.inheritance ?? {};
  const named = new Set(themes.flatMap((theme) => theme.ancestors));
  return brought.find((id) => named.has(id) && matchesAny(path, files[id] ?? []));
}

/** As much of a theme must be there for it to be taken for that theme. */
const MOST = 0.8;

/** Whether a theme is the host's own of its name: it has nearly all that this one has besides what it takes from its parents. */
export function isOwnOfHost({ platform, names, ancestors, tree }: Theme): boolean {
  const files = platform.contract.inheritance['built-in-files'];
  const inherited = new Set(ancestors.flatMap((id) => files[id] ?? []));
  const own = (files[names.id] ?? []).filter((glob) => !inherited.has(glob));
  const paths = tree.entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path]));
  const isThere = (glob: string): boolean => paths.some((path) => matchesAny(path, [glob, ...sourcesOf(platform, glob)]));
  return own.length > 0 && own.filter(isThere).length >= own.length * MOST;
}

/** Where a template says that another one is: in the chain, or in the theme that it names. */
export type TemplateTarget =
  /** With the id of the theme that is named, where one is. */
  | { readonly kind: 'found'; readonly path: string; readonly id?: string }
  | { readonly kind: 'missing'; readonly path: string }
  /** In a theme that is neither in the chain nor one that every host brings. */
  | { readonly kind: 'stranger'; readonly id: string };

/**
 * Finds what a template includes or is laid into; undefined where the platform does not say where that would be.
 * @param from the template’s path
 */
export function templateTarget(chain: Chain, contract: TemplateContract, name: string, from: string): TemplateTarget | undefined {
  const named = contract['named-theme'] === undefined ? undefined : wholePattern(contract['named-theme']).exec(name)?.groups;
  if (named !== undefined) {
    const { id = '', path = '' } = named;
    const target = inNamedTheme(chain, id, path);
    // A folder of the theme's own can stand before a slash as well as a theme.
    if (target !== undefined) return target;
    if (!isOwnFolder(chain, id)) return { kind: 'stranger', id };
  }
  const paths = pathsOfPartial(contract, name, from);
  const found = paths.find((path) => servedAt(chain, path) !== undefined);
  if (found !== undefined) return { kind: 'found', path: found };
  const path = paths.at(-1);
  return path === undefined ? undefined : { kind: 'missing', path };
}

function inNamedTheme(chain: Chain, id: string, path: string): TemplateTarget | undefined {
  const theme = chain.themes.find((each) => each.names.id === id);
  if (theme !== undefined)
    return theme.tree.get(path)?.kind === 'file' ? { kind: 'found', path, id } : { kind: 'missing', path: `${id}/${path}` };
  const { 'built-in': brought = [], 'built-in-files': files } = chain.themes[0]?.platform.contract.inheritance ?? {};
  if (!brought.includes(id)) return undefined;
  const served = files?.[id];
  return served === undefined || matchesAny(path, served) ? { kind: 'found', path, id } : { kind: 'missing', path: `${id}/${path}` };
}

function isOwnFolder(chain: Chain, name: string): boolean {
  return chain.themes.some(({ tree }) => tree.get(name)?.kind === 'folder');
}

/** Addresses that a page asks for, as paths from the theme’s root: a folder can be served under another name. */
export function pathOfAddress({ contract }: Platform, path: string): string {
  for (const { folder, as } of contract.assets.served) {
    if (as === '') return pathBelow(folder, path) === undefined ? `${folder}/${path}` : path;
    if (pathBelow(as, path) !== undefined) return `${folder}${path.slice(as.length)}`;
  }
  return path;
}

/** The address that pages ask for a file by: the other way round from {@link pathOfAddress}. */
export function addressOfPath({ contract }: Platform, path: string): string {
  const place = contract.assets.served.find(({ folder }) => isInFolder(path, folder));
  return place === undefined ? path : posix.join(place.as, path.slice(place.folder.length + 1));
}
