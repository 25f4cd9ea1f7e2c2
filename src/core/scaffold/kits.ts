import { isAtPlace, isOneFile, namesOfPlace, placeOfFolder, treeAtPlace } from '../theme/place.ts';
import { basename, dirname, join } from 'node:path';
import { readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationError, UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { filesOf, isBelowOnDisk, kindOnDisk, placeOnDisk, subfoldersOf } from '../files/disk.ts';
import { displayPath } from '../files/paths.ts';
import { openThemeArchive } from '../theme/open-archive.ts';
import { readConfigurationText } from '../platform/load.ts';
import { kitFolders, type Platform } from '../platform/platform.ts';
import { nearest } from '../text/nearest.ts';
import { recognise } from '../theme/recognise.ts';
import { type Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { matchesGlob } from '../files/glob.ts';
import { statedName, type KitName } from '../contents/placeholders.ts';
import type { Kit } from './kit.ts';
import { KitSchema } from './kit-schema.ts';
import { readPlainKit, reasonNotForUse } from './plain-kit.ts';
import { didYouMean } from '../text/sentence.ts';

/** The ending of a kit file beside a theme's folder on a shelf: `mochila.kit.yaml`. */
export const KIT_ENDING = '.kit.yaml';

/** The folder beside a platform file in which its kits lie. */
export const KITS_FOLDER = 'kits';

/** Where kits are looked for. */
export interface KitPlaces {
  readonly platform: Platform;
  /** The folder of the parent, which can keep kits of its own. */
  readonly parentFolder?: string | undefined;
  readonly shelves?: Shelves | undefined;
  /** Parts that the kit should have, because they are to be left out. */
  readonly parts?: readonly string[] | undefined;
}

/** The kits that a parent keeps itself, then those that come with a platform file, then those on the shelves. */
export function listKits(places: KitPlaces): Kit[] {
  return listAllKits(places).filter((kit) => kit.notForUse === undefined);
}

/** The kits that can be used: those of several parents, of the platform file, and on the shelves. @param parents folders; absolute */
export function usableKits(platform: Platform, parents: readonly string[], shelves: Shelves): Kit[] {
  const own = parents.flatMap((folder) => kitsOfParent(folder, platform));
  return [...own.filter(({ notForUse }) => notForUse === undefined), ...listKits({ platform, shelves })];
}

/** Like {@link listKits}, with those that are kept from use. */
export function listAllKits({ platform, parentFolder, shelves }: KitPlaces): Kit[] {
  return [
    ...(parentFolder === undefined ? [] : kitsOfParent(parentFolder, platform)),
    ...kitsIn(join(platform.folder, KITS_FOLDER), platform, platform.contract.title),
    ...(shelves?.folders ?? []).flatMap((shelf) => kitsIn(shelf, platform, shelves?.shown(shelf) ?? shelf)),
  ];
}

/** The kits that a theme keeps for its children: with a kit file, or plain folders. */
export function kitsOfParent(parent: string, platform: Platform): Kit[] {
  const from = `the parent ${basename(parent)}`;
  const globs = kitFolders(platform);
  const tree = globs.length === 0 ? undefined : new DiskTree(parent);
  const folders = (tree?.entries ?? []).filter(({ kind, path }) => kind === 'folder' && globs.some((glob) => matchesGlob(path, glob)));
  return folders.flatMap(({ path }) => {
    const root = join(parent, path);
    const made = kitsIn(root, platform, from).map((kit) => ({ ...kit, parentFolder: parent }));
    const taken = new Set(made.map((kit) => kit.theme.location));
    const plain = subfoldersOf(root).flatMap((name) => {
      const own = join(root, name);
      const isMade = taken.has(own) || kindOnDisk(join(own, 'kit.yaml')) === 'file';
      const kit = isMade ? undefined : readPlainKit(own, platform, from, parent);
      return kit === undefined ? [] : [kit];
    });
    return [...made, ...plain];
  });
}

/** The kits in a folder: `NAME/kit.yaml`, and `ID.kit.yaml` beside a theme. */
function kitsIn(root: string, platform: Platform, from: string): Kit[] {
  if (kindOnDisk(root) !== 'folder') return [];
  const files = [
    ...subfoldersOf(root).map((name) => `${name}/kit.yaml`),
    ...filesOf(root).filter((name) => name === 'kit.yaml' || name.endsWith(KIT_ENDING)),
  ].filter((path) => kindOnDisk(join(root, path)) === 'file');
  return files.flatMap((path) => {
    const { kit, isOffered } = openKitFile(join(root, path), platform, from);
    return isOffered && kit !== undefined ? [kit] : [];
  });
}

/**
 * Opens a kit by its file; no kit when its theme is one of another platform.
 * @throws ConfigurationError when the file is wrong
 */
function openKitFile(file: string, platform: Platform, from: string): { kit?: Kit; isOffered: boolean } {
  const folder = dirname(file);
  const contract = readConfiguration(readConfigurationText(new DiskTree(folder), basename(file), file), KitSchema, 'kit file');
  const root = join(folder, contract.theme);
  if (kindOnDisk(root) === undefined)
    throw new ConfigurationError({ what: `${file} names the theme “${contract.theme}”, which is not beside it` });
  // A kit of a platform whose themes are files, or folders, where this one's are not.
  if (!isAtPlace(platform, root)) return { isOffered: false };
  if (!isBelowOnDisk(root, folder))
    throw new ConfigurationError({
      what: `${file} names the theme “${contract.theme}”, which lies elsewhere`,
      why: 'a kit takes nothing from elsewhere',
      hint: 'name a folder beside the file',
    });
  const names = namesOfPlace(platform, contract.theme) ?? placeOfFolder(platform, root).names;
  const tree = treeAtPlace(platform, root);
  // A plain folder can have a kit file too, which says more of it.
  const plain = recognise(tree, platform, names).missing === undefined ? undefined : readPlainKit(root, platform, from);
  if (plain === undefined && recognise(tree, platform, names).missing !== undefined) return { isOffered: false };
  const theme = plain?.theme ?? new Theme(platform, tree, names, root);
  const parts = Object.entries(contract.parts).map(([name, part]) => ({ name, ...part }));
  const { title, about, markers } = contract;
  const kit = {
    name: contract.name,
    title,
    about,
    isChild: contract.for === 'child',
    parts,
    markers,
    asks: contract.ask,
    starts: contract.set,
    theme,
    from,
    names: [...contract.names.map((text) => statedName(text, 'the kit file')), ...namesBesides(plain, contract.names)],
    isPlain: false,
    notForUse: reasonNotForUse(theme),
  };
  return { kit, isOffered: contract.offered };
}

/** The names that a plain folder shows, besides those that its kit file states; with a kit file nobody need ask. */
function namesBesides(plain: Kit | undefined, stated: readonly string[]): KitName[] {
  return (plain?.names ?? []).filter(({ text, isSure }) => isSure && !stated.includes(text));
}

/**
 * Opens the kit at a path: a folder with a kit file in it or beside it, a theme's folder, or an archive.
 * @throws UsageError when there is none
 */
async function openKitAt(path: string, platform: Platform, currentFolder: string): Promise<Kit> {
  const from = displayPath(path, currentFolder);
  const isTheme = isOneFile(platform) && namesOfPlace(platform, basename(path)) !== undefined;
  if (kindOnDisk(path) === 'file' && !isTheme) {
    if (path.endsWith('.yaml')) return openKitFile(path, platform, from).kit ?? notForPlatform(from, platform);
    const { theme, leftBehind } = await openThemeArchive(path, {
      currentFolder,
      platform: platform.contract.name,
      platforms: () => [platform],
    });
    return { ...kitOfTheme(theme, from), leftBehind };
  }
  const file = [join(path, 'kit.yaml'), `${path}${KIT_ENDING}`].find((each) => kindOnDisk(each) === 'file');
  if (file !== undefined) return openKitFile(file, platform, from).kit ?? notForPlatform(from, platform);
  const { names } = placeOfFolder(platform, path);
  const tree = treeAtPlace(platform, path);
  const { missing } = recognise(tree, platform, names);
  const plain = missing === undefined ? undefined : readPlainKit(path, platform, from);
  if (plain !== undefined) return plain;
  if (missing !== undefined)
    throw new UsageError({
      what: `${from} is neither a kit nor a theme for ${platform.contract.title}`,
      why: missing,
      hint: 'name a folder with a kit.yaml, or a theme',
    });
  return kitOfTheme(new Theme(platform, tree, names, path), from);
}

function notForPlatform(from: string, platform: Platform): never {
  throw new UsageError({
    what: `the kit in ${from} is not for ${platform.contract.title}`,
    hint: 'say with --platform which platform the new theme is for',
  });
}

/** Whether a theme builds on one that people install: what every host brings, a new theme has, too. */
export function buildsOnAnother({ parents, platform }: Theme): boolean {
  return parents.some((id) => !platform.contract.inheritance['built-in'].includes(id));
}

/** Any theme can serve as a kit, without parts or facts of its own. */
export function kitOfTheme(theme: Theme, from: string): Kit {
  const { id, title = id } = theme.names;
  return {
    name: id,
    title,
    about: '',
    isChild: buildsOnAnother(theme),
    parts: [],
    markers: [],
    asks: [],
    starts: {},
    theme,
    from,
    names: [],
    isPlain: false,
  };
}

/**
 * The kit of a name; without one, the first that fits.
 * @throws UsageError when there is none, or it makes another kind of theme
 */
export function chooseKit(places: KitPlaces, wanted: string | undefined, isChild: boolean): Kit {
  const needed = places.parts ?? [];
  const { title } = places.platform.contract;
  const kits = listKits(places);
  const fitting = kits.filter((each) => each.isChild === isChild);
  const kit =
    wanted === undefined
      ? (fitting.find((kit) => !kit.isPlain && hasParts(kit, needed)) ?? fitting.find((kit) => !kit.isPlain) ?? fitting[0])
      : kits.find((each) => each.name === wanted);
  if (kit !== undefined) return ofKind(kit, isChild);
  const kept = listAllKits(places).find((each) => each.name === wanted);
  if (kept?.notForUse !== undefined)
    throw new UsageError({
      what: `the kit “${wanted}” is not for use`,
      why: kept.notForUse,
      hint: 'name it by its path to use it all the same',
    });
  const names = kits.map((each) => each.name);
  const near = wanted === undefined ? undefined : nearest(wanted, names);
  throw new UsageError({
    what:
      wanted === undefined
        ? `${title} has no kit for ${isChild ? 'a child' : 'a theme without a parent'}`
        : `${title} has no kit “${wanted}”`,
    hint: `${near === undefined ? '' : `${didYouMean(near, '')} `}known: ${names.join(', ')}; a folder or an archive is named by its path`,
  });
}

/**
 * Like {@link chooseKit}; a kit can also be named by the path of a folder or an archive.
 * @throws UsageError when there is none, or it makes another kind of theme
 */
export async function findKit(
  places: KitPlaces & { readonly shelves: Shelves },
  wanted: string | undefined,
  isChild: boolean,
): Promise<Kit> {
  const { currentFolder } = places.shelves;
  if (wanted === undefined || !/[/\\]|\.(?:zip|tar\.gz|tgz)$/.test(wanted)) return chooseKit(places, wanted, isChild);
  const path = placeOnDisk(currentFolder, wanted);
  if (kindOnDisk(path) === undefined)
    throw new UsageError({ what: `there is no kit in ${wanted}`, hint: `check the path; relative paths start at ${currentFolder}` });
  return ofKind(await openKitAt(path, places.platform, currentFolder), isChild);
}

function hasParts(kit: Kit, names: readonly string[]): boolean {
  return names.every((name) => kit.parts.some((part) => part.name === name));
}

function ofKind(kit: Kit, isChild: boolean): Kit {
  // A plain folder says nothing of that: it is what it is used for.
  if (kit.isChild === isChild || kit.isPlain) return kit;
  throw new UsageError({
    what: `the kit “${kit.name}” makes ${kit.isChild ? 'a child: it needs a parent' : 'a theme without a parent'}`,
    hint: kit.isChild ? 'name the parent with --parent' : 'leave --parent out, or take a kit for children',
  });
}
