import { isCalledLikeTheme, isOneFile, placeOfFolder, treeAtPlace } from './place.ts';
import { dirname, join } from 'node:path';
import { filesOf, realPlace, subfoldersOf } from '../files/disk.ts';
import { compareText } from '../files/file-tree.ts';
import { isBelow } from '../files/paths.ts';
import type { Platform } from '../platform/platform.ts';
import { hasMarks } from './shelf.ts';
import { recognise } from './recognise.ts';

/** How deep below a folder themes are looked for: a host's folder of vendors in your folder of projects lies that deep. */
const MAX_DEPTH = 6;

/** The themes and folders below a folder. Absolute paths, sorted. */
export interface FoundFolders {
  readonly themes: readonly string[];
  /** Folders with files, and files called like themes, that lie beside themes and are not recognized: of a theme that lost its manifest nothing else is left. */
  readonly others: readonly string[];
}

/** Nobody waits for a walk over a whole disk: beyond so many folders only those that were begun are looked at. */
const MAX_FOLDERS = 20_000;

/**
 * Finds the themes below a folder, of whatever platforms, vendors’ folders included. It does not look inside a theme.
 * @param most how many folders are looked at, at most
 */
export function findThemes(folder: string, platforms: readonly Platform[], most = MAX_FOLDERS): FoundFolders {
  const themes: string[] = [];
  const rest: string[] = [];
  const files: string[] = [];
  const beside: string[] = [];
  const single = platforms.filter(isOneFile);
  let looked = 0;
  // Links may lead in circles: a place is visited once, by whatever way.
  const visited = new Set<string>();
  const lookAtFiles = (at: string): void => {
    const called = filesOf(at).flatMap((name) => (single.some((each) => isCalledLikeTheme(each, join(at, name))) ? [join(at, name)] : []));
    const own = called.filter((path) => isTheme(path, single));
    files.push(...own);
    if (own.length > 0) beside.push(...called.filter((path) => !own.includes(path)));
  };
  const visit = (at: string, depth: number): void => {
    const place = realPlace(at);
    if (visited.has(place) || ++looked > most) return;
    visited.add(place);
    if (depth > 0 && isTheme(at, platforms)) {
      themes.push(at);
      return;
    }
    rest.push(at);
    if (single.length > 0) lookAtFiles(at);
    if (depth < MAX_DEPTH) for (const name of subfoldersOf(at)) visit(join(at, name), depth + 1);
  };
  visit(folder, 0);
  const shelves = new Set(themes.map((theme) => dirname(theme)));
  const isAround = (at: string): boolean => themes.some((theme) => isBelow(theme, at));
  const others = rest.filter((at) => at !== folder && shelves.has(dirname(at)) && !isAround(at) && holdsFiles(at));
  return { themes: [...themes, ...files].sort(compareText), others: [...others, ...beside] };
}

/** Whether a folder, by its absolute path, is a theme of one of the platforms. */
export function isTheme(folder: string, platforms: readonly Platform[]): boolean {
  return platforms.some((platform) => {
    const { names } = placeOfFolder(platform, folder);
    return hasMarks(platform, folder, names) && recognise(treeAtPlace(platform, folder), platform, names).missing === undefined;
  });
}

function holdsFiles(folder: string): boolean {
  return filesOf(folder).length > 0 || subfoldersOf(folder).some((name) => filesOf(join(folder, name)).length > 0);
}
