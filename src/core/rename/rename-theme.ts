import { fillPlace, isOneFile, placeOfFolder } from '../theme/place.ts';
import { resolve } from 'node:path';
import { Shelves } from '../theme/shelf.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { linkTarget } from '../files/disk.ts';
import { plannedTree, type CarriedFolder, type ChangePlan } from '../changes/plan.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { isNamedIn, ownNameOf, type OwnName } from '../contents/own-name.ts';
import { Theme } from '../theme/theme.ts';
import { folderOf } from '../files/file-tree.ts';
import { shellWord } from '../text/shell-word.ts';
import type { Decisions } from './decisions.ts';
import { followTitle, newName, type FullName, fullNameOf } from '../names/full-name.ts';
import { planChildren, type FollowingChild } from './children.ts';
import { misspeltIn } from '../names/misspelt.ts';
import { readText } from '../files/read-text.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { findZones } from '../text/zones.ts';
import { spell, splitWords } from '../names/spelling.ts';
import type { RenameRequest } from './rename-request.ts';
import { renameTreeOnDisk, type RenamedTree } from './rename-tree.ts';
import { assertFree, assertNamesAllowed } from '../placing/free-name.ts';

/** The new names of a theme, and the choices for places that are not plain. */
export interface RenameWishes {
  /** Left out when only the title changes. */
  readonly id?: string | undefined;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  /** Texts or files in which the old name stays. */
  readonly keep?: readonly string[] | undefined;
  /** Groups of places, or texts, that are changed although they would stay. */
  readonly include?: readonly string[] | undefined;
  readonly decisions?: Decisions | undefined;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
}

export interface ThemeRename extends RenamedTree {
  readonly from: FullName;
  readonly to: FullName;
  readonly plan: ChangePlan;
  readonly source: OpenedTheme;
  /** The theme as it will be. */
  readonly theme: Theme;
  /** Where its parents and siblings will be. */
  readonly shelves: Shelves;
  /** The name that the theme called itself by, where its folder had another one. */
  readonly own?: OwnName | undefined;
  /** For a rename in place: the themes on its shelves that build on it, and how they follow. */
  readonly children?: readonly FollowingChild[] | undefined;
}

/**
 * Plans a copy of a theme under another name. Writes nothing.
 * @param into the shelf that the clone is made on; absolute
 * @throws UsageError when the new name cannot be used
 * @throws RefusedError when it is taken
 */
export async function planClone(opened: OpenedTheme, into: string, wishes: RenameWishes): Promise<ThemeRename> {
  const { source, own } = asCalled(opened);
  const { theme, shelves } = source;
  const to = wantedName(theme, wishes);
  const root = resolve(into, fillPlace(theme.platform, to));
  const around = new Shelves(theme.platform, [into, ...shelves.folders], shelves.currentFolder);
  assertFree(to, root, to.id === theme.names.id ? new Shelves(theme.platform, [into], shelves.currentFolder) : around);
  const rename = await planRenamed(
    source,
    { ...wishes, folder: own === undefined ? undefined : opened.theme.names.id },
    to,
    around,
    root,
    (renamed) => ({
      title: `clone ${theme.names.id} → ${to.id}`,
      root,
      isNewRoot: true,
      isFile: isOneFile(theme.platform),
      operations: renamed.operations,
    }),
  );
  return { ...rename, own };
}

/**
 * Plans another name for a theme where it lies: its folder is replaced by the renamed one. Writes nothing.
 * @returns undefined when it already has that name
 * @throws UsageError when the new name cannot be used
 * @throws RefusedError when it is taken, or the folder holds what could get lost
 */
export async function planRename(opened: OpenedTheme, wishes: RenameWishes): Promise<ThemeRename | undefined> {
  const { source, own } = asCalled(opened);
  const { theme, folder } = source;
  const from = fullNameOf(theme.names);
  const to = wantedName(theme, wishes, own === undefined ? undefined : opened.theme.names.id);
  if (opened.theme.names.id === to.id && from.id === to.id && from.title === to.title && from.vendor === to.vendor) return undefined;
  assertNothingHidden(theme);
  const target = linkTarget(folder);
  if (target !== undefined)
    throw new RefusedError({
      what: `${theme.location} is a link to ${target}`,
      hint: 'rename the theme where it really lies, then make the link again',
    });
  const { shelf } = placeOfFolder(theme.platform, folder);
  const root = resolve(shelf, fillPlace(theme.platform, to));
  const around = source.shelves.without(folder);
  assertFree(to, root, around, folder);
  const rename = await planRenamed(
    source,
    { ...wishes, folder: own === undefined ? undefined : opened.theme.names.id },
    to,
    around,
    root,
    (renamed) => ({
      title: `rename ${from.id} → ${to.id === from.id ? `“${to.title}”` : to.id}`,
      root,
      isNewRoot: true,
      isFile: isOneFile(theme.platform),
      replaces: folder,
      carried: carriedFolders(theme, renamed),
      operations: renamed.operations,
    }),
  );
  const { moves, theme: after } = rename;
  return { ...rename, own, children: planChildren(around, { from, to, before: theme, after, moves }) };
}

/**
 * Plans what is left to do of a rename that someone began by hand: the folder has its new name already, the old one is
 * still in it, and perhaps in another theme beside it. Writes nothing.
 * @param was what the theme was called; its title follows from the theme of that name on the shelf, or from the id
 * @throws UsageError when the theme is still called so
 */
export async function planFinish(
  source: OpenedTheme,
  was: { id: string; title?: string | undefined },
  wishes: RenameWishes,
): Promise<ThemeRename> {
  const { theme, folder, shelves, chain } = source;
  if (was.id === theme.names.id)
    throw new UsageError({ what: `the theme is called ${was.id}: nothing of its rename is done`, hint: `pionero rename ${was.id} NEW-ID` });
  assertNothingHidden(theme);
  const called = ownNameOf(theme)?.id;
  if (called !== undefined && called !== was.id && !isNamedIn(theme, was.id) && !holdsMisspelt(theme))
    throw new UsageError({
      what: `nothing in ${theme.location} is called ${was.id}: the theme calls itself ${called}`,
      hint: `pionero rename ${shellWord(theme.names.id)} --was ${called}`,
    });
  const former = new Theme(theme.platform, theme.tree, { ...theme.names, id: was.id }, theme.location);
  const original = shelves.find(was.id, theme.names.vendor);
  const own = theme.names.title ?? former.names.title;
  const isOld = own !== undefined && splitWords(own).join('') === splitWords(was.id).join('');
  const shelved = original === undefined ? undefined : shelves.open(original).names.title;
  const oldTitle = was.title ?? shelved ?? (isOld ? own : spell(splitWords(was.id), 'title'));
  const from = { ...theme.names, id: was.id, title: oldTitle };
  const title = wishes.title ?? (own === undefined || own === oldTitle ? followTitle(from, theme.names.id) : own);
  const to = { ...theme.names, title };
  const parent = chain.themes.slice(1).find((each) => each.names.id === was.id);
  const others = namesOfOthers(source).filter((name) => name !== was.id && name !== oldTitle);
  const beginning = { former, parentFiles: parent?.tree.entries.map(({ path }) => path), isParent: theme.parents.includes(was.id) };
  const rename = await planRenamed(source, { ...wishes, beginning, others, from }, to, shelves, folder, (renamed) => ({
    title: `rename ${was.id} → ${to.id}`,
    root: folder,
    isNewRoot: true,
    isFile: isOneFile(theme.platform),
    replaces: folder,
    carried: carriedFolders(theme, renamed),
    operations: renamed.operations,
  }));
  // Where there still is a theme of the old name, those that name it mean that one.
  if (original !== undefined) return rename;
  const { moves, theme: after } = rename;
  return { ...rename, children: planChildren(shelves.without(folder), { from, to, before: former, after, moves }) };
}

/** Whether a search and replace wrote the theme's own name in a spelling that its place forbids. */
function holdsMisspelt({ tree, names }: Theme): boolean {
  const code = tree.entries.filter(({ kind, path }) => kind === 'file' && ['code', 'script'].includes(kindOfPath(path)));
  return code.some(({ path }) => {
    const text = readText(tree, path)?.text ?? '';
    return misspeltIn(text, findZones(path, text), names.id).length > 0;
  });
}

/** A theme under the name that it calls itself by, which its folder need not have: it was downloaded, or copied. */
function asCalled(source: OpenedTheme): { readonly source: OpenedTheme; readonly own?: OwnName | undefined } {
  const { theme } = source;
  const own = ownNameOf(theme);
  if (own === undefined) return { source };
  return { source: { ...source, theme: new Theme(theme.platform, theme.tree, { ...theme.names, id: own.id }, theme.location) }, own };
}

/**
 * @param folder what the folder is called, when the theme calls itself otherwise
 * @throws UsageError when nothing is asked for, or the platform does not take the name
 */
function wantedName(theme: Theme, { id, title, vendor }: RenameWishes, folder?: string): FullName {
  const from = fullNameOf(theme.names);
  if (id === undefined && title === undefined)
    throw new UsageError({
      what: 'the new name is missing',
      why: folder === undefined ? undefined : `the folder is called ${folder}, and the theme calls itself ${from.id}`,
      hint:
        folder === undefined
          ? 'name the new id, or the new title with --title-only --title TEXT'
          : `name the new id; or let the theme be called like its folder: pionero rename ${shellWord(folder)} --was ${from.id}`,
    });
  if ((id ?? from.id) === from.id && theme.names.title === undefined)
    throw new UsageError({
      what: `${theme.location} has no title to change`,
      why: `${theme.platform.contract.title} knows its themes by their ids`,
      hint: 'name a new id',
    });
  const { vendor: grammar } = theme.platform.contract;
  const named = newName(from, { id: id ?? from.id, title: title ?? (id === undefined || id === from.id ? from.title : undefined), vendor });
  const to = { ...named, vendor: grammar === undefined ? undefined : named.vendor };
  assertNamesAllowed(to, theme.platform);
  if (to.id !== from.id) assertImportable(theme, to.id);
  return to;
}

/** @throws UsageError when code imports the theme's folder by its name, and its language has no such names */
function assertImportable({ tree }: Theme, id: string): void {
  if (tree.get('__init__.py') === undefined || /^[\p{L}_][\p{L}\p{N}_]*$/u.test(id)) return;
  throw new UsageError({
    what: `“${id}” cannot be the id of this theme: its folder is a package that Python code imports by its name`,
    why: 'it holds __init__.py, and a name in Python has letters, digits and underscores',
    hint: `try “${spell(splitWords(id), 'snake')}”`,
  });
}

/** @throws RefusedError when the folder holds what cannot be carried over */
function assertNothingHidden({ tree, location }: Theme): void {
  const [path] = [...(tree.disk?.unlisted ?? []).map((each) => each.path), ...(tree.disk?.special ?? [])];
  if (path === undefined) return;
  throw new RefusedError({
    what: `${location} cannot be renamed: ${path} cannot be read, or is not a file, folder or link`,
    why: 'what cannot be read would get lost',
    hint: 'give yourself the right to read it, or move it away',
  });
}

/** Folders of tools are not looked into: they go along as they are. */
function carriedFolders({ tree }: Theme, { moves }: RenamedTree): CarriedFolder[] {
  const moved = new Map(moves.map(({ from, to }) => [from, to]));
  return (tree.disk?.skipped ?? []).map((path) => {
    const folder = folderOf(path);
    return { from: path, to: folder === '' ? path : `${moved.get(folder) ?? folder}${path.slice(folder.length)}` };
  });
}

async function planRenamed(
  source: OpenedTheme,
  wishes: RenameWishes &
    Partial<Pick<RenameRequest, 'beginning' | 'from' | 'folder'>> & { readonly others?: readonly string[] | undefined },
  to: FullName,
  shelves: Shelves,
  root: string,
  planFor: (renamed: RenamedTree) => ChangePlan,
): Promise<ThemeRename> {
  const { theme } = source;
  const { keep = [], include, decisions, beginning, folder, jobs, from = fullNameOf(theme.names), others = namesOfOthers(source) } = wishes;
  const renamed = await renameTreeOnDisk({
    theme,
    root,
    from,
    to,
    folder,
    otherThemes: others.filter((name) => name !== folder),
    keep,
    include,
    decisions,
    beginning,
    jobs,
  });
  const plan = planFor(renamed);
  const result = new Theme(theme.platform, plannedTree(renamed.operations), to, shelves.shown(plan.root));
  return { ...renamed, from, to, plan, source, shelves, theme: result };
}

/** Ids and titles of the other themes on the shelves and in the chain. */
function namesOfOthers({ theme, chain, shelves, folder }: OpenedTheme): string[] {
  const shelved = shelves.list().filter((each) => each.names.id !== theme.names.id && each.folder !== folder);
  const names = shelved.flatMap((each) => [each.names.id, shelves.open(each).names.title ?? '']);
  const parents = chain.themes.slice(1).flatMap((each) => [each.names.id, each.names.title ?? '']);
  return [...new Set([...names, ...parents])].filter((name) => name !== '' && name !== theme.names.title);
}
