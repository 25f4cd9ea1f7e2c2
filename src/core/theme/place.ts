import { basename, dirname, parse, resolve } from 'node:path';
import { kindOnDisk } from '../files/disk.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { pathFrom } from '../files/paths.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';

// Where a theme lies: its place on a shelf, told by its names, and the names that a place tells.

/** The part of the home that is a theme's own: `{vendor}/{id}` of `design/site/{vendor}/{id}`. */
export function placeOnShelf(platform: Platform): string {
  const parts = platform.contract.home.split('/');
  const first = parts.findIndex((part) => part.includes('{'));
  return parts.slice(Math.max(0, first)).join('/');
}

/**
 * Whether a theme of a platform is one file. Its place, wherever a theme's folder is asked for, is that file; its tree holds nothing else,
 * under the file's own name.
 */
export function isOneFile({ contract }: Platform): boolean {
  return (contract['theme-is'] ?? (/\}\.\w+$/.test(contract.home) ? 'file' : 'folder')) === 'file';
}

/** Whether a place is called as that of a theme would be, where a theme is one file. */
export function isCalledLikeTheme(platform: Platform, place: string): boolean {
  if (!isOneFile(platform)) return false;
  const { shelf } = placeOfFolder(platform, place);
  return namesOfPlace(platform, pathFrom(shelf, place)) !== undefined;
}

/** The files at a theme's place on disk. */
export function treeAtPlace(platform: Platform, place: string): DiskTree {
  return isOneFile(platform) ? DiskTree.ofFile(place) : new DiskTree(place);
}

/** Whether a folder lies at a place, or a file where a theme of the platform is one. */
export function isAtPlace(platform: Platform, place: string): boolean {
  return kindOnDisk(place) === (isOneFile(platform) ? 'file' : 'folder');
}

/** Where a theme lies on a shelf, from its names. */
export function fillPlace(platform: Platform, names: ThemeNames): string {
  return fillShape(placeOnShelf(platform), names);
}

/** How many folders below a shelf a theme lies. */
export function shelfDepth(platform: Platform): number {
  return placeOnShelf(platform).split('/').length;
}

/** Where a host keeps its shelves, below its own folder: `design/site` of `design/site/{vendor}/{id}`. */
export function homeOfShelves(platform: Platform): string {
  return platform.contract.home.slice(0, -placeOnShelf(platform).length).replace(/\/$/, '');
}

/** The names that a place on the shelf (`{vendor}/{id}`) gives; undefined when it does not fit. */
export function namesOfPlace(platform: Platform, place: string): ThemeNames | undefined {
  const parts = placeOnShelf(platform).split('/');
  const segments = place.split('/');
  const names: Record<string, string> = {};
  for (const [i, part] of parts.entries()) {
    const name = segments[i];
    if (name === undefined) return undefined;
    const key = /^\{(id|vendor)\}$/.exec(part)?.[1];
    const found = key === undefined ? wholePattern(part).exec(name) : { groups: { [key]: name } };
    if (found === null) return undefined;
    Object.assign(names, found.groups);
  }
  return names['id'] === undefined ? undefined : { id: names['id'], vendor: names['vendor'] };
}

/** The place that a theme's folder, by its absolute path, has on its shelf, and the shelf. */
export function placeOfFolder(platform: Platform, folder: string): { shelf: string; names: ThemeNames } {
  const depth = shelfDepth(platform);
  const shelf = Array.from({ length: depth }).reduce<string>((at) => dirname(at), folder);
  const names = namesOfPlace(platform, pathFrom(shelf, folder)) ?? { id: isOneFile(platform) ? parse(folder).name : basename(folder) };
  return { shelf, names };
}

/** The host that a shelf belongs to: the shelf's own folder when it does not lie where the host keeps its themes. */
export function hostOfShelf(platform: Platform, shelf: string): string {
  const fixed = homeOfShelves(platform);
  const host = resolve(shelf, ...fixed.split('/').map(() => '..'));
  return fixed !== '' && pathFrom(host, shelf) === fixed ? host : shelf;
}
