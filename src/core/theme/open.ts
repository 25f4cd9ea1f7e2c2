import { basename, dirname, resolve } from 'node:path';
import { findConfiguration, type Configuration } from '../configuration/configuration.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { displayPath, kindOnDisk } from '../files/disk.ts';
import { matchesGlob } from '../files/glob.ts';
import { UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { loadPlatform, shippedPlatform, shippedPlatforms } from '../platform/load.ts';
import { findByName, type Platform } from '../platform/platform.ts';
import { fillShape } from '../names/shape.ts';
import { openChain, type Chain } from './chain.ts';
import { placeOfFolder, Shelves } from './shelf.ts';
import { Theme } from './theme.ts';
import type { ThemeNames } from '../names/full-name.ts';

/** The platforms to choose from, read only when they are needed. */
export type PlatformSource = () => readonly Platform[];

/** How themes are looked for; all optional. */
export interface OpenOptions {
  /** Where relative paths start, and where people are who read messages; absolute. */
  readonly currentFolder: string;
  /** A shipped platform's name or a platform file's path. */
  readonly platform?: string | undefined;
  readonly shelves?: readonly string[] | undefined;
  /** The platforms to choose from; the shipped ones when left out. */
  readonly platforms?: PlatformSource | undefined;
  /** What the theme was called before: files that mark its platform may still be called so. */
  readonly formerId?: string | undefined;
  /** Shelves that were looked through already, to be shared by whoever opens many themes. */
  readonly known?: Map<string, Shelves> | undefined;
}

/** A theme with all that commands need around it. */
export interface OpenedTheme {
  readonly theme: Theme;
  readonly chain: Chain;
  readonly shelves: Shelves;
  readonly configuration: Configuration;
  /** Why it is taken for a theme of its platform, for people. */
  readonly reasons: readonly string[];
  /** The theme's folder on disk, absolute. */
  readonly folder: string;
  /** Of an archive: what was not unpacked because it belongs to tools. */
  readonly leftBehind?: readonly string[] | undefined;
}

/** Which platforms can be chosen, and where the paths of their files start. */
export type PlatformChoice = Pick<OpenOptions, 'currentFolder' | 'platforms'>;

/** Finds a platform by name or file. @throws UsageError when there is none of that name. */
export function choosePlatform(wanted: string, { currentFolder, platforms: source = shippedPlatforms }: PlatformChoice): Platform {
  if (/[/\\]|\.ya?ml$/.test(wanted)) {
    const path = resolve(currentFolder, wanted);
    if (kindOnDisk(path) !== 'file') throw new UsageError({ what: `there is no platform file ${wanted}` });
    return { ...loadPlatform(new DiskTree(dirname(path)), basename(path), wanted, dirname(path)), path };
  }
  const shipped = shippedPlatform(wanted);
  if (shipped !== undefined) return shipped;
  const platforms = source();
  const { platform, near } = findByName(platforms, wanted);
  if (platform !== undefined) return platform;
  const names = platforms.map((each) => each.contract.name);
  throw new UsageError({
    what: `there is no platform called “${wanted}”`,
    hint: `${near === undefined ? '' : `did you mean “${near}”? `}known: ${names.join(', ')}; a platform file of your own is named by its path`,
  });
}

function sharedShelves(platform: Platform, folders: readonly string[], { known, currentFolder }: OpenOptions): Shelves {
  const key = [platform.file, ...folders].join('\n');
  const shelves = known?.get(key) ?? new Shelves(platform, folders, currentFolder);
  known?.set(key, shelves);
  return shelves;
}

/** Opens the theme in a folder. @throws UsageError when it is not there or not a theme */
export function openThemeFolder(folder: string, options: OpenOptions): OpenedTheme {
  const { currentFolder } = options;
  const path = resolve(currentFolder, folder);
  const kind = kindOnDisk(path);
  if (kind === undefined)
    throw new UsageError({ what: `there is no folder ${folder}`, hint: `check the path; relative paths start at ${currentFolder}` });
  if (kind !== 'folder') throw new UsageError({ what: `${folder} is a file, not a theme’s folder` });
  const configuration = findConfiguration(path);
  const tree = new DiskTree(path);
  const unlisted = tree.unlisted.find((each) => each.path === '');
  if (unlisted !== undefined) throw new RefusedError({ what: `${folder} cannot be read`, why: unlisted.reason });
  const { platform, reasons } = platformFor(tree, path, folder, { ...options, platform: options.platform ?? configuration.platform });
  const { shelf, names } = placeOfFolder(platform, path);
  const shelves = sharedShelves(platform, [...checkedShelves(options), ...configuration.shelves, shelf], options);
  const theme = new Theme(platform, tree, names, displayPath(path, currentFolder));
  return { theme, chain: openChain(theme, shelves), shelves, configuration, reasons, folder: path };
}

/** The absolute paths of the shelves that were asked for. @throws UsageError when one is not a folder */
export function checkedShelves({ shelves = [], currentFolder }: Pick<OpenOptions, 'shelves' | 'currentFolder'>): string[] {
  return shelves.map((shelf) => {
    const path = resolve(currentFolder, shelf);
    if (kindOnDisk(path) === 'folder') return path;
    throw new UsageError({ what: `there is no folder ${shelf} to use as a shelf`, hint: 'name the folder whose subfolders are themes' });
  });
}

function platformFor(tree: FileTree, path: string, shownAs: string, options: OpenOptions): { platform: Platform; reasons: string[] } {
  if (options.platform !== undefined) return { platform: choosePlatform(options.platform, options), reasons: ['it was named'] };
  const platforms = (options.platforms ?? shippedPlatforms)();
  const verdicts = platforms.map((platform) => {
    const { names } = placeOfFolder(platform, path);
    const verdict = recognise(tree, platform, names);
    const { formerId } = options;
    if (verdict.missing === undefined || formerId === undefined) return verdict;
    const former = recognise(tree, platform, { ...names, id: formerId });
    return former.missing === undefined ? former : verdict;
  });
  const fitting = verdicts.filter((verdict) => verdict.missing === undefined);
  const first = fitting[0];
  if (first !== undefined && fitting.length === 1) {
    const others = verdicts.flatMap((verdict) =>
      verdict.missing === undefined ? [] : [`not ${verdict.platform.contract.title}: ${verdict.missing}`],
    );
    const marks = first.platform.contract.recognise.map(
      (mark) => `${mark.path}${mark.holds === undefined ? ' is there' : ` holds “${mark.holds}”`}`,
    );
    return { platform: first.platform, reasons: [...marks, ...others] };
  }
  if (fitting.length > 1) {
    throw new UsageError({
      what: `${shownAs} fits more than one platform: ${fitting.map((verdict) => verdict.platform.contract.name).join(', ')}`,
      hint: 'say which with --platform',
    });
  }
  throw new UsageError({
    what: `${shownAs} is not a theme`,
    why: verdicts.map((verdict) => `${verdict.platform.contract.title}: ${verdict.missing}`).join('; '),
    hint: shelfHint(path, platforms) ?? 'name a theme’s folder, or say with --platform which host it is for',
  });
}

/** Whether a tree shows a platform's marks; `missing` says which one it lacks. */
export function recognise(tree: FileTree, platform: Platform, names: ThemeNames): { platform: Platform; missing?: string | undefined } {
  for (const mark of platform.contract.recognise) {
    const path = fillShape(mark.path, names);
    const files = path.includes('*') ? tree.entries.map((entry) => entry.path).filter((each) => matchesGlob(each, path)) : [path];
    const present = files.filter((each) => tree.get(each) !== undefined);
    if (present.length === 0) return { platform, missing: `${path} is not there` };
    const { holds } = mark;
    if (holds !== undefined && !present.some((each) => holdsText(tree, each, holds))) {
      return { platform, missing: `${path} does not hold “${holds}”` };
    }
  }
  return { platform };
}

function holdsText(tree: FileTree, path: string, text: string): boolean {
  try {
    return tree.read(path).includes(text);
  } catch (error) {
    // A file that cannot be read still marks the theme; the check then says what is wrong with it.
    if (error instanceof UnreadableFileError) return true;
    throw error;
  }
}

function shelfHint(path: string, platforms: readonly Platform[]): string | undefined {
  for (const platform of platforms) {
    const ids = new Shelves(platform, [path]).list().map((theme) => theme.names.id);
    if (ids.length > 0) return `it is a shelf; name one of its themes: ${ids.slice(0, 5).join(', ')}${ids.length > 5 ? ', …' : ''}`;
  }
  return undefined;
}
