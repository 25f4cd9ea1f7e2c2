import { hostOfShelf, isAtPlace, placeOfFolder, shelfDepth } from '../core/theme/place.ts';
import { dirname, join } from 'node:path';
import { findConfiguration } from '../core/configuration/configuration.ts';
import { PioneroError, UsageError } from '../core/errors.ts';
import { filesOf, kindOnDisk, subfoldersOf } from '../core/files/disk.ts';
import { type Platform } from '../core/platform/platform.ts';
import { findThemes, isTheme } from '../core/theme/find-themes.ts';
import { checkedShelves, openThemeFolder, type OpenedTheme } from '../core/theme/open.ts';
import { Shelves } from '../core/theme/shelf.ts';
import { isArchive, themeAbove } from './theme-argument.ts';
import type { Context } from './command.ts';

/** A theme near the folder that someone works in, that a new one could be a child of. */
export interface NearTheme {
  readonly id: string;
  readonly title: string;
  /** Absolute. */
  readonly folder: string;
  /** The folder of themes that it is in; absolute. */
  readonly shelf: string;
  readonly platform: Platform;
}

/** Everything that the place of a new theme says without a question. */
export interface Workspace {
  readonly near: readonly NearTheme[];
  /** The platforms of the themes near here, the commonest first; or the only one that is configured. */
  readonly platforms: readonly Platform[];
  /** The folder of themes that a new one belongs into; the current one when nothing tells. Absolute. */
  readonly into: string;
  /** Whether the current folder is empty and in the place of a theme: then that is made in it. */
  readonly isPlace: boolean;
}

/**
 * Looks around: at the theme that the current folder is in, at those below it, and at those beside it.
 * @param parent an id, or the path of a theme
 */
export function lookAround(context: Context, parent: string | undefined): Workspace {
  const named = parent === undefined ? undefined : namedByPath(context, parent);
  const { folder } = context.io;
  const isEmpty = filesOf(folder).length === 0 && subfoldersOf(folder).length === 0;
  if (named !== undefined) {
    const isPlace = isEmpty && dirname(folder) === named.shelf;
    return { near: [named], platforms: [named.platform], into: named.shelf, isPlace };
  }
  const inside = themeAbove(folder, context);
  const at = inside === undefined ? folder : dirname(inside);
  const below = themesBelow(context, at);
  const beside = below.length === 0 ? themesBeside(context, folder) : [];
  const platform = saidPlatform(context);
  const isFitting = (each: NearTheme): boolean => platform === undefined || each.platform.contract.name === platform.contract.name;
  const near = [...below, ...beside].filter(isFitting);
  const [only, ...more] = [...new Set(below.filter(isFitting).map(({ shelf }) => shelf))];
  return {
    near,
    platforms: platform === undefined ? byCount(near) : [platform],
    into: only !== undefined && more.length === 0 ? only : at,
    isPlace: isEmpty && near.length > 0 && below.length === 0,
  };
}

/** The platform that the command line or a configuration names. */
function saidPlatform(context: Context): Platform | undefined {
  const said = context.options.platform ?? findConfiguration(context.io.folder).platform;
  return said === undefined ? undefined : context.platformNamed(said);
}

/** A parent that is given by its path. @throws UsageError when the path is not a theme */
function namedByPath(context: Context, parent: string): NearTheme | undefined {
  const path = context.path(parent);
  if (!/[/\\]/.test(parent) && isArchive(parent, context)) return namedByPath(context, `./${parent}`);
  if (!/[/\\]/.test(parent) || kindOnDisk(path) === undefined) {
    if (/[/\\]/.test(parent)) throw new UsageError({ what: `there is no theme in ${parent} to be the parent`, hint: 'check the path' });
    return undefined;
  }
  if (isArchive(parent, context))
    throw new UsageError({ what: `${parent} is an archive, and a parent is a folder`, hint: 'unpack it onto a shelf first' });
  return nearTheme(context, path);
}

/** A question does not wait for a walk over someone’s whole home. */
export const MOST_FOLDERS = 3000;

function themesBelow(context: Context, folder: string): NearTheme[] {
  return findThemes(folder, context.platforms(), MOST_FOLDERS).themes.flatMap((theme) => nearOrNothing(context, theme));
}

/** The themes in the folders beside one, where a theme in it would be beside them. */
function themesBeside(context: Context, folder: string): NearTheme[] {
  const shelf = dirname(folder);
  const platforms = context.platforms().filter((platform) => shelfDepth(platform) === 1);
  const siblings = subfoldersOf(shelf).map((name) => join(shelf, name));
  return siblings.filter((each) => each !== folder && isTheme(each, platforms)).flatMap((theme) => nearOrNothing(context, theme));
}

/**
 * The shelf that a theme lies on: what is made of it belongs beside it. Undefined for a theme that lies alone somewhere,
 * and for an archive.
 */
export function shelfAround(context: Context, { theme, folder, configuration }: OpenedTheme): string | undefined {
  const { platform } = theme;
  if (!isAtPlace(platform, folder)) return undefined;
  const { shelf } = placeOfFolder(platform, folder);
  if (shelf === context.io.folder) return shelf;
  // In a theme lie its kits.
  if (themeAbove(shelf, context) !== undefined) return undefined;
  const isNamed = [...checkedShelves(context.opening), ...configuration.shelves].includes(shelf);
  const isShelf = isNamed || hostOfShelf(platform, shelf) !== shelf || new Shelves(platform, [shelf]).list().length > 1;
  return isShelf ? shelf : undefined;
}

/** The folder of themes that something new from an archive belongs into: the only one that is named or lies around here, else the current one. */
export function shelfForArchive(context: Context, platform: Platform): string {
  const named = checkedShelves(context.opening);
  const around = lookAround(context, undefined).near.filter((each) => each.platform.contract.name === platform.contract.name);
  const [only, ...more] = named.length > 0 ? named : [...new Set(around.map(({ shelf }) => shelf))];
  return only === undefined || more.length > 0 ? context.io.folder : only;
}

/** A neighbor that cannot be opened, since its configuration is wrong, is not a reason to stop. */
function nearOrNothing(context: Context, folder: string): NearTheme[] {
  try {
    return [nearTheme(context, folder)];
  } catch (error) {
    if (error instanceof PioneroError) return [];
    throw error;
  }
}

function nearTheme(context: Context, folder: string): NearTheme {
  const { theme } = openThemeFolder(context.shown(folder), context.opening);
  const { shelf } = placeOfFolder(theme.platform, folder);
  return { id: theme.names.id, title: theme.names.title ?? theme.names.id, folder, shelf, platform: theme.platform };
}

function byCount(themes: readonly NearTheme[]): Platform[] {
  const counts = new Map<Platform, number>();
  const byName = new Map(themes.map(({ platform }) => [platform.contract.name, platform]));
  for (const { platform } of themes) {
    const one = byName.get(platform.contract.name) ?? platform;
    counts.set(one, (counts.get(one) ?? 0) + 1);
  }
  return [...counts].toSorted((a, b) => b[1] - a[1]).map(([platform]) => platform);
}
