import { dirname, join, resolve } from 'node:path';
import { hostOfShelf, isAtPlace, isOneFile, namesOfPlace, placeOfFolder, shelfDepth, treeAtPlace } from './place.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { problemOfPlace } from '../configuration/place.ts';
import { existsBelow, filesOf, kindOnDisk, subfoldersOf } from '../files/disk.ts';
import { displayPath, pathFrom } from '../files/paths.ts';
import { isGlob, matchesGlob } from '../files/glob.ts';
import { compareText } from '../files/file-tree.ts';
import { type Platform } from '../platform/platform.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import { recognise } from './recognise.ts';
import { Theme } from './theme.ts';
import { isSameName, type ThemeNames } from '../names/full-name.ts';

/** A theme on a shelf that has not been opened. */
export interface ShelvedTheme {
  readonly names: ThemeNames;
  /** Its folder on disk, or its file where a theme is one. */
  readonly folder: string;
}

/** The folders in which the themes of one platform are looked for, in order. */
export class Shelves {
  readonly platform: Platform;
  readonly folders: readonly string[];
  readonly currentFolder: string;
  #listed: readonly ShelvedTheme[] | undefined;
  readonly #passedOver = new Map<string, string[]>();
  readonly #opened = new Map<string, Theme>();
  readonly #made = new Map<unknown, unknown>();

  /** @param folders absolute paths, or paths from the current folder @param currentFolder where people are, for paths in messages */
  constructor(platform: Platform, folders: readonly string[], currentFolder = '/') {
    this.platform = platform;
    this.currentFolder = currentFolder;
    this.folders = [...new Set(folders.map((folder) => resolve(currentFolder, folder)))];
  }

  /** Findings about all themes together: made when someone first asks for them, and kept for whoever checks more of them. */
  once<T>(make: (shelves: this) => T): T {
    if (!this.#made.has(make)) this.#made.set(make, make(this));
    return this.#made.get(make) as T;
  }

  /** The shelves as messages show them: from where people are, since a report goes to others. */
  get shownFolders(): string {
    return this.folders.map((folder) => pathFrom(this.currentFolder, folder) || '.').join(', ');
  }

  /** A path as messages show it. */
  shown(path: string): string {
    return displayPath(path, this.currentFolder);
  }

  /** All themes, each id once: an earlier shelf wins. */
  list(): readonly ShelvedTheme[] {
    if (this.#listed !== undefined) return this.#listed;
    const byPlace = new Map<string, ShelvedTheme>();
    for (const shelf of this.folders) {
      for (const place of placesBelow(shelf, shelfDepth(this.platform), isOneFile(this.platform))) {
        const names = namesOfPlace(this.platform, place);
        const folder = join(shelf, place);
        if (names === undefined || !hasMarks(this.platform, folder, names)) continue;
        const first = byPlace.get(place);
        if (first === undefined) byPlace.set(place, { names, folder });
        else this.#passedOver.set(first.folder, [...(this.#passedOver.get(first.folder) ?? []), folder]);
      }
    }
    return (this.#listed = [...byPlace.values()].sort((a, b) => compareText(a.names.id, b.names.id)));
  }

  /** Folders of later shelves with a theme of the same id as the one in a folder, which is taken. */
  passedOver(folder: string): readonly string[] {
    this.list();
    return this.#passedOver.get(folder) ?? [];
  }

  /** The same shelves as if one folder were not there. */
  without(folder: string): Shelves {
    const others = new Shelves(this.platform, this.folders, this.currentFolder);
    others.#listed = this.list().filter((theme) => theme.folder !== folder);
    return others;
  }

  /** The same shelves with themes on them that were opened elsewhere, from an archive, say; they win. */
  with(themes: readonly Theme[]): Shelves {
    const others = new Shelves(this.platform, this.folders, this.currentFolder);
    const added = themes.map((theme) => ({ names: theme.names, folder: theme.location }));
    for (const theme of themes) others.#opened.set(theme.location, theme);
    const isAdded = ({ names }: ShelvedTheme): boolean => added.some((each) => isSameName(each.names, names));
    const rest = this.list().filter((each) => !isAdded(each));
    others.#listed = [...added, ...rest].sort((a, b) => compareText(a.names.id, b.names.id));
    return others;
  }

  /** Whether no shelf has a theme of another name: what is asked about neighbors needs none of them opened. */
  isAlone(names: ThemeNames): boolean {
    return this.list().every((each) => isSameName(each.names, names));
  }

  /** The theme with exactly this id (case counts); `vendor` narrows the search where the platform has vendors. */
  find(id: string, vendor?: string): ShelvedTheme | undefined {
    return this.list().find((theme) => theme.names.id === id && (vendor === undefined || theme.names.vendor === vendor));
  }

  /** The names of the theme to which a text is the one that a shape gives: `strings/look_{id}.po`. */
  themeWhere(shape: string, text: string): ThemeNames | undefined {
    return /\{(?:id|vendor)\b/.test(shape) ? this.list().find(({ names }) => wholePattern(shape, names).test(text))?.names : undefined;
  }

  /** Opens a bag of shared files; undefined when no shelf has it. Opened once and kept. */
  openCommons(id: string): Theme | undefined {
    const home = this.platform.contract.inheritance.commons?.home;
    // The id comes from a manifest, and names a folder beside others.
    if (home === undefined || problemOfPlace(id) !== undefined || id.includes('/')) return undefined;
    for (const shelf of this.folders) {
      const folder = join(hostOfShelf(this.platform, shelf), fillShape(home, { id }));
      if (kindOnDisk(folder) === 'folder') return this.open({ names: { id }, folder });
    }
    return undefined;
  }

  /** Opens a theme of {@link list}; opened once and kept. */
  open(shelved: ShelvedTheme): Theme {
    const known = this.#opened.get(shelved.folder);
    if (known !== undefined) return known;
    const theme = new Theme(this.platform, treeAtPlace(this.platform, shelved.folder), shelved.names, shelved.folder);
    this.#opened.set(shelved.folder, theme);
    return theme;
  }
}

/** The theme of a platform that a folder lies in, itself included: the nearest one above; undefined when it lies in none. */
export function themeAround(platform: Platform, folder: string): string | undefined {
  for (let at = folder; dirname(at) !== at; at = dirname(at)) {
    if (isAtPlace(platform, at) && hasMarks(platform, at, placeOfFolder(platform, at).names)) return at;
  }
  return undefined;
}

/** Whether a folder shows the marks by which a platform's themes are recognized, as far as its file names tell. */
export function hasMarks(platform: Platform, folder: string, names: ThemeNames): boolean {
  // Files of other kinds lie beside, so that names tell too little.
  if (isOneFile(platform))
    return isAtPlace(platform, folder) && recognise(treeAtPlace(platform, folder), platform, names).missing === undefined;
  return platform.contract.recognise.every((mark) => {
    const path = fillShape(mark.path, names);
    return isGlob(path) ? hasMatching(folder, path.split('/')) : existsBelow(folder, path);
  });
}

/** Whether a folder has a file whose path matches a glob, folder by folder: most of a site is never listed. */
function hasMatching(folder: string, [part = '', ...rest]: readonly string[]): boolean {
  // A brace that is not closed here goes on in the next folder.
  if (part === '**' || /\{[^}]*$/.test(part))
    return new DiskTree(folder).entries.some(({ path }) => matchesGlob(path, [part, ...rest].join('/')));
  if (rest.length === 0) return filesOf(folder).some((name) => matchesGlob(name, part));
  const folders = isGlob(part) ? subfoldersOf(folder).filter((name) => matchesGlob(name, part)) : [part];
  return folders.some((name) => hasMatching(join(folder, name), rest));
}

/** The folders, or the files, so many levels below a folder. */
function placesBelow(root: string, depth: number, areFiles: boolean): string[] {
  let places = [''];
  for (let level = 1; level <= depth; level++) {
    const namesIn = level === depth && areFiles ? filesOf : subfoldersOf;
    places = places.flatMap((place) => namesIn(join(root, place)).map((name) => (place === '' ? name : `${place}/${name}`)));
  }
  return places;
}
