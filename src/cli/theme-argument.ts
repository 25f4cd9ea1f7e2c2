import { setFlagsFromString } from 'node:v8';
import { basename, dirname } from 'node:path';
import { formatOfName } from '../core/archives/archive-format.ts';
import { UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import { loadOwnRules } from '../core/rules/engine/own-rules.ts';
import { nearest } from '../core/text/nearest.ts';
import { findThemes, isTheme } from '../core/theme/find-themes.ts';
import { isCalledLikeTheme } from '../core/theme/place.ts';
import { openThemeArchive } from '../core/theme/open-archive.ts';
import { openThemeFolder, type OpenedTheme, type OpenOptions } from '../core/theme/open.ts';
import type { Context } from './command.ts';
import { agreedRules } from './rule-agreement.ts';
import { didYouMean, listed } from '../core/text/sentence.ts';

/**
 * Opens what a theme argument names: a folder, or the id of a theme on a shelf; default: the current folder.
 * @param more `formerId`: what the theme was called before, when its rename is to be finished
 */
export async function openArgument(
  argument: string | undefined,
  context: Context,
  more: Pick<OpenOptions, 'formerId' | 'isLenient' | 'shelves'> = {},
): Promise<OpenedTheme> {
  const opening = { ...context.opening, ...more };
  const opened = openThemeFolder(folderOf(argument, context), opening);
  await loadAgreedRules(context, opened);
  return opened;
}

async function loadAgreedRules(context: Context, { configuration, folder }: OpenedTheme): Promise<void> {
  await loadOwnRules(configuration, folder, context.io.folder, await agreedRules(context, configuration, folder));
}

/** The folder that a theme argument names. @throws UsageError when it names none, with what was likely meant */
export function folderOf(argument: string | undefined, context: Context): string {
  const folder = argument ?? '.';
  const path = context.path(folder);
  const kind = kindOnDisk(path);
  if (kind === 'folder' || (kind === 'file' && isThemeFile(path, context))) return folder;
  if (kind !== undefined) throw fileGiven(folder, path, context);
  const shelved = /[/\\]/.test(folder) ? undefined : onShelf(folder, context);
  if (shelved !== undefined) return shelved;
  const near = nearThemes(folder, context);
  throw new UsageError({
    what: `there is no folder ${folder}${/[/\\]/.test(folder) ? '' : `, and no theme of that id on a shelf`}`,
    hint: near ?? `check the path; relative paths start at ${context.io.folder}`,
  });
}

/** The folder of a theme on one of the shelves that the command line names. */
function onShelf(id: string, context: Context): string | undefined {
  for (const each of context.possiblePlatforms()) {
    const shelved = context.shelvesOf(each).find(id);
    if (shelved !== undefined) return shelved.folder;
  }
  return undefined;
}

/** What to do when a file was given in place of a theme's folder. */
function fileGiven(argument: string, path: string, context: Context): UsageError {
  const what = `${argument} is a file, not a theme’s folder`;
  if (kindOnDisk(path) === 'file' && formatOfName(argument) !== undefined)
    return new UsageError({
      what: `${argument} is an archive, and a theme’s folder is expected`,
      hint: 'an archive can be given to check, clone, rehearse, install, trace and meta show; unpack it to change it',
    });
  const theme = themeAbove(dirname(path), context);
  if (theme === undefined) return new UsageError({ what, hint: 'name the folder that the theme’s files are in' });
  return new UsageError({ what, hint: `it belongs to the theme ${basename(theme)}: name ${context.shown(theme)}` });
}

/** The theme that a folder lies in, itself included; undefined when it lies in none. */
export function themeAbove(folder: string, context: Context): string | undefined {
  const platforms = context.platforms();
  for (let at = folder; dirname(at) !== at; at = dirname(at)) if (isTheme(at, platforms)) return at;
  return undefined;
}

/** Which theme was likely meant: one of nearly that name among those around here; else which there are. */
function nearThemes(argument: string, context: Context): string | undefined {
  const parent = dirname(context.path(argument));
  if (kindOnDisk(parent) !== 'folder') return undefined;
  const shelves = context.options.shelf.map((shelf) => context.path(shelf));
  const found = [parent, ...shelves].flatMap((folder) => findThemes(folder, context.platforms()).themes);
  const near = nearest(
    basename(argument),
    found.map((theme) => basename(theme)),
  );
  const meant = found.find((theme) => basename(theme) === near);
  if (meant !== undefined) return didYouMean(context.shown(meant), '');
  const shown = found.map((theme) => context.shown(theme));
  return shown.length === 0 ? undefined : `the themes here are ${listed(shown, 5)}`;
}

/**
 * Tells a theme from what follows it: the first word is one when it is a folder, the id of a theme on a shelf, or when the current
 * folder is not a theme that the words could be about.
 */
export function themeFirst(
  words: readonly string[],
  context: Context,
): { readonly theme: string | undefined; readonly rest: readonly string[] } {
  const [first, ...rest] = words;
  if (first === undefined) return { theme: undefined, rest };
  const isNamed =
    isThemePlace(context, first) ||
    isArchive(first, context) ||
    (!/[/\\.]/.test(first) && onShelf(first, context) !== undefined) ||
    themeAbove(context.io.folder, context) === undefined;
  return isNamed ? { theme: first, rest } : { theme: undefined, rest: words };
}

/** Whether a file is a theme, or called like one and in none. */
function isThemeFile(path: string, context: Context): boolean {
  const platforms = context.possiblePlatforms();
  return (
    isTheme(path, platforms) ||
    (platforms.some((each) => isCalledLikeTheme(each, path)) && themeAbove(dirname(path), context) === undefined)
  );
}

/** Whether an argument is a folder, or a theme that is one file. */
export function isThemePlace(context: Context, argument: string): boolean {
  const path = context.path(argument);
  return kindOnDisk(path) === 'folder' || isTheme(path, context.possiblePlatforms());
}

/** Like {@link openArgument}; takes an archive too. */
export async function openSource(
  argument: string | undefined,
  context: Context,
  more: Pick<OpenOptions, 'isLenient' | 'shelves'> = {},
): Promise<OpenedTheme> {
  if (argument === undefined || !isArchive(argument, context)) return openArgument(argument, context, more);
  // An archive may hold as much as it likes: memory is collected when a quarter more is in use, not when twice as much is.
  setFlagsFromString('--heap-growing-percent=25');
  const opened = await openThemeArchive(argument, { ...context.opening, ...more });
  sayLeftBehind(context, argument, opened.leftBehind);
  await loadAgreedRules(context, opened);
  return opened;
}

/** Whether an argument is taken for an archive: a file that is not one of a theme's own. */
export function isArchive(argument: string, context: Context): boolean {
  const path = context.path(argument);
  if (kindOnDisk(path) !== 'file' || isThemeFile(path, context)) return false;
  return formatOfName(argument) !== undefined || themeAbove(dirname(path), context) === undefined;
}

/** Says what of an archive was not unpacked. */
export function sayLeftBehind(context: Context, archive: string, leftBehind: readonly string[] = []): void {
  if (leftBehind.length === 0) return;
  context.warn(
    `${context.paint.warn('▲')} Not unpacked from ${archive}: ${listed(leftBehind, 8)}. Developers’ tools run commands that they find there; a theme needs none.`,
  );
}
