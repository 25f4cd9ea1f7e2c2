import { formatOfName } from '../archives/archive-format.ts';
import { isAtPlace, isCalledLikeTheme, isOneFile, placeOfFolder } from './place.ts';
import { basename, dirname } from 'node:path';
import { findConfiguration, type Configuration } from '../configuration/configuration.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { kindOnDisk, placeOnDisk } from '../files/disk.ts';
import { displayPath, pathFrom } from '../files/paths.ts';
import type { FileTree } from '../files/file-tree.ts';
import { loadPlatform, shippedPlatform, shippedPlatforms } from '../platform/load.ts';
import { findByName, type Platform } from '../platform/platform.ts';
import { isGlob } from '../files/glob.ts';
import { fillShape } from '../names/shape.ts';
import { openChain, type Chain } from './chain.ts';
import { likenessTo, nearestPlatform, recognise, type Likeness } from './recognise.ts';
import { Shelves, themeAround } from './shelf.ts';
import { Theme } from './theme.ts';
import { didYouMean, listed } from '../text/sentence.ts';

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
  /** The platform of the workspace that people are in: another one to choose from, and the one where several fit. */
  readonly preferred?: string | undefined;
  /** The theme's earlier name: files that mark its platform may still have it. */
  readonly formerId?: string | undefined;
  /** Shelves that were looked through already, to be shared by whoever opens many themes. */
  readonly known?: Map<string, Shelves> | undefined;
  /** Whether a folder that lacks the marks of its platform is opened all the same, where all else says what it is. */
  readonly isLenient?: boolean | undefined;
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
    const path = placeOnDisk(currentFolder, wanted);
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
    hint: `${near === undefined ? '' : `${didYouMean(near, '')} `}known: ${names.join(', ')}; a platform file of your own is named by its path`,
  });
}

/** So many shelves are kept with the themes that were opened on them. */
const MOST_KNOWN = 24;

export function sharedShelves(platform: Platform, folders: readonly string[], { known, currentFolder }: OpenOptions): Shelves {
  const key = [platform.file, ...folders].join('\n');
  const shelves = known?.get(key) ?? new Shelves(platform, folders, currentFolder);
  // The last one used is last: whoever goes through thousands of shelves does not come back to the first.
  known?.delete(key);
  known?.set(key, shelves);
  const [oldest] = known?.keys() ?? [];
  if (known !== undefined && known.size > MOST_KNOWN && oldest !== undefined) known.delete(oldest);
  return shelves;
}

/** Opens the theme in a folder. @throws UsageError when it is not there or not a theme */
export function openThemeFolder(folder: string, options: OpenOptions): OpenedTheme {
  const { currentFolder } = options;
  const path = placeOnDisk(currentFolder, folder);
  const kind = kindOnDisk(path);
  if (kind === undefined)
    throw new UsageError({ what: `there is no folder ${folder}`, hint: `check the path; relative paths start at ${currentFolder}` });
  if (kind === 'other') throw notAFolder(folder);
  const configuration = findConfiguration(path);
  const tree = kind === 'file' ? DiskTree.ofFile(path) : new DiskTree(path);
  const unlisted = tree.unlisted.find((each) => each.path === '');
  if (unlisted !== undefined) throw new RefusedError({ what: `${folder} cannot be read`, why: unlisted.reason });
  const { platform, reasons } = platformFor(tree, path, folder, { ...options, platform: options.platform ?? configuration.platform });
  if (!isAtPlace(platform, path)) throw kind === 'file' ? notAFolder(folder) : isOneFileHint(folder, path, platform);
  const { shelf, names } = placeOfFolder(platform, path);
  const shelves = sharedShelves(platform, [...checkedShelves(options), ...configuration.shelves, shelf], options);
  const theme = new Theme(platform, tree, names, displayPath(path, currentFolder));
  return { theme, chain: openChain(theme, shelves), shelves, configuration, reasons, folder: path };
}

function notAFolder(shownAs: string): UsageError {
  return new UsageError({ what: `${shownAs} is a file, not a theme’s folder` });
}

function isOneFileHint(shownAs: string, path: string, platform: Platform): UsageError {
  const files = new Shelves(platform, [path]).list().map(({ folder }) => basename(folder));
  const { title } = platform.contract;
  return new UsageError({
    what: `${shownAs} is a folder, and a theme for ${title} is one file`,
    hint: files.length === 0 ? `${title} keeps themes at ${platform.contract.home}` : `it holds ${listed(files, 5)}: name one of them`,
  });
}

/** The absolute paths of the shelves that were asked for. @throws UsageError when one is not a folder */
export function checkedShelves({ shelves = [], currentFolder }: Pick<OpenOptions, 'shelves' | 'currentFolder'>): string[] {
  return shelves.map((shelf) => {
    const path = placeOnDisk(currentFolder, shelf);
    if (kindOnDisk(path) === 'folder') return path;
    throw new UsageError({ what: `there is no folder ${shelf} to use as a shelf`, hint: 'name the folder whose subfolders are themes' });
  });
}

function platformFor(tree: FileTree, path: string, shownAs: string, options: OpenOptions): { platform: Platform; reasons: string[] } {
  if (options.platform !== undefined) return { platform: choosePlatform(options.platform, options), reasons: ['it was named'] };
  const preferred = options.preferred === undefined ? undefined : choosePlatform(options.preferred, options);
  const isFile = kindOnDisk(path) === 'file';
  const all = withPreferred((options.platforms ?? shippedPlatforms)(), preferred);
  const platforms = all.filter((platform) => isOneFile(platform) === isFile);
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
    const own = fitting.find(({ platform }) => platform.contract.name === preferred?.contract.name);
    if (own !== undefined) return { platform: own.platform, reasons: ['it is the one of the workspace'] };
    throw new UsageError({
      what: `${shownAs} fits more than one platform: ${fitting.map((verdict) => verdict.platform.contract.name).join(', ')}`,
      hint: 'say which with --platform',
    });
  }
  // Among themes, a file that is called like one is a theme that lost its mark.
  const lost = isFile
    ? verdicts.find((verdict) => isCalledLikeTheme(verdict.platform, path) && hasThemesBeside(verdict.platform, path, options))
    : undefined;
  if (lost !== undefined && options.isLenient === true)
    return { platform: lost.platform, reasons: ['it lies among its themes', `but ${lost.missing}`] };
  if (isFile) throw notAFolder(shownAs);
  const likenesses = verdicts.map(({ platform }) => likenessTo(tree, platform, placeOfFolder(platform, path).names));
  const near = nearestPlatform(likenesses);
  if (near !== undefined && options.isLenient === true && isAtHand(near, tree, path, options))
    return { platform: near.platform, reasons: [...near.evidence, `but ${near.missing}`] };
  throw new UsageError({
    what: `${shownAs} is not recognized as a theme`,
    details: [...nearestLines(near), 'Looked for:', ...markLines(platforms)],
    hint: shelfHint(path, all) ?? insideHint(path, platforms, options) ?? archiveHint(tree, shownAs) ?? unknownHint(near, shownAs),
  });
}

function withPreferred(platforms: readonly Platform[], preferred: Platform | undefined): readonly Platform[] {
  const isNew = preferred !== undefined && platforms.every(({ contract }) => contract.name !== preferred.contract.name);
  return isNew ? [...platforms, preferred] : platforms;
}

/** Whether more than its look says that a folder is of a platform: its neighbors, or the file that should carry the mark. */
function isAtHand({ platform }: Likeness, tree: FileTree, path: string, options: OpenOptions): boolean {
  const { names } = placeOfFolder(platform, path);
  const files = platform.contract.recognise.map((mark) => fillShape(mark.path, names));
  const isThere = files.every((file) => !isGlob(file) && tree.get(file) !== undefined);
  return isThere || hasThemesBeside(platform, path, options);
}

function hasThemesBeside(platform: Platform, path: string, options: OpenOptions): boolean {
  return sharedShelves(platform, [placeOfFolder(platform, path).shelf], options).list().length > 0;
}

function nearestLines(near: Likeness | undefined): string[] {
  if (near === undefined) return [];
  return [`Nearest: ${near.platform.contract.title}, since ${near.evidence.slice(0, 3).join(', ')}; but ${near.missing}`];
}

function markLines(platforms: readonly Platform[]): string[] {
  const markOf = ({ path, holds }: Platform['contract']['recognise'][number]): string =>
    holds === undefined ? path : `${path} with “${holds}”`;
  return platforms.map(({ contract }) => `  ${contract.recognise.map(markOf).join(' and ')} (${contract.title})`);
}

/** A place deep inside a theme means that theme. */
function insideHint(path: string, platforms: readonly Platform[], { currentFolder }: OpenOptions): string | undefined {
  const around = platforms.flatMap((platform) => themeAround(platform, path) ?? [])[0];
  if (around === undefined) return undefined;
  return `it is inside the theme ${basename(around)}: name ${pathFrom(currentFolder, around)}`;
}

function unknownHint(near: Likeness | undefined, shownAs: string): string {
  const named = near === undefined ? '' : `say that it is one with --platform ${near.platform.contract.name}; or `;
  return `${named}name a theme’s folder; for a host that is not listed, describe it: “pionero platform new ${shownAs}”`;
}

/** A folder in which packages lie, as pack leaves it. */
function archiveHint(tree: FileTree, shownAs: string): string | undefined {
  const files = tree.entries.filter(({ kind, path }) => kind === 'file' && !path.includes('/') && formatOfName(path) !== undefined);
  const archives = files.map(({ path }) => `${shownAs}/${path}`);
  return archives.length === 0 ? undefined : `it holds archives; name one of them: ${listed(archives, 3)}`;
}

function shelfHint(path: string, platforms: readonly Platform[]): string | undefined {
  for (const platform of platforms) {
    const ids = new Shelves(platform, [path]).list().map((theme) => theme.names.id);
    if (ids.length > 0) return `it is a shelf, a folder of themes; name one of them: ${listed(ids, 5)}`;
  }
  return undefined;
}
