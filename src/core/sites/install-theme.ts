import { join } from 'node:path';
import type { ChangePlan } from '../changes/plan.ts';
import { planBetween } from '../changes/plan-between.ts';
import { copyOperations } from '../changes/plan.ts';
import { RefusedError } from '../errors.ts';
import { isBelowOnDisk, kindOnDisk, linkTarget } from '../files/disk.ts';
import type { FileTree } from '../files/file-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import type { Chain } from '../theme/chain.ts';
import { installedOf, type Installed } from '../theme/layout.ts';
import { choosePackageContents } from '../contents/package-contents.ts';
import { isOneFile, treeAtPlace } from '../theme/place.ts';
import { recognise } from '../theme/recognise.ts';
import { Theme } from '../theme/theme.ts';

/** The contents of an installation. */
export interface InstallRequest {
  readonly chain: Chain;
  /** The site’s folder; absolute. */
  readonly site: string;
  /** Where the site keeps themes, when that is elsewhere than the platform says. */
  readonly home?: string | undefined;
  /** Patterns of what stays out, as for a package. */
  readonly excluded?: readonly string[] | undefined;
  /** Whether what it builds on is put there too. */
  readonly withParents?: boolean | undefined;
  /** Whether the theme’s folder is linked in place of a copy: what is edited there is seen at once. */
  readonly isLinked?: boolean | undefined;
}

/** What becomes of one theme in the site. Paths are from the theme’s folder. */
export interface InstallStep {
  readonly id: string;
  /** From the site’s folder. */
  readonly home: string;
  readonly state: 'new' | 'changed' | 'same' | 'linked';
  readonly version: { readonly before: string | undefined; readonly after: string | undefined };
  readonly added: readonly string[];
  readonly changed: readonly string[];
  readonly removed: readonly string[];
  /** Undefined when nothing is to be done. */
  readonly plan: ChangePlan | undefined;
}

/**
 * Plans what puts a theme into a site’s folder, what it builds on first. Writes nothing.
 * @throws RefusedError when the folder is not a site of the platform, another theme has the place, or something there is not a theme
 */
export function planInstall(request: InstallRequest): InstallStep[] {
  const { chain, withParents } = request;
  const all = installedOf(chain, request.home);
  const wanted = withParents === true ? all.toReversed() : all.slice(0, 1);
  return wanted.map((installed) => planStep(request, installed, installed.theme === chain.themes[0]));
}

function planStep(request: InstallRequest, { theme, home }: Installed, isItself: boolean): InstallStep {
  const { site, excluded = [], isLinked, chain } = request;
  const folder = join(site, home);
  assertSite(theme, site, request.home ?? theme.platform.contract.home);
  const isLink = isLinked === true && isItself;
  const tree = isLink ? theme.tree : contentsOf(theme, isItself ? excluded : []);
  const named = { id: theme.names.id, home };
  if (kindOnDisk(folder) === undefined && linkTarget(folder) === undefined) {
    const added = filesOf(tree);
    const version = { before: undefined, after: theme.text('version') };
    const plan = isLink ? linkPlan(theme, site, home) : copyPlan(theme, folder, tree);
    return { ...named, state: isLink ? 'linked' : 'new', version, added, changed: [], removed: [], plan };
  }
  const own = theme.place;
  if (own !== undefined && isBelowOnDisk(folder, own))
    throw new RefusedError({ what: `${home} in the site is the theme’s own folder already`, hint: 'there is nothing to install' });
  const there = treeAtPlace(theme.platform, folder);
  assertSameTheme(theme, there, home, chain.commons.has(theme));
  if (isLink || linkTarget(folder) !== undefined)
    throw new RefusedError({
      what: `${home} is in the site already`,
      why: isLink ? 'a link cannot take the place of a copy' : 'it is a link, and may lead to files that you work on',
      hint: 'remove it first',
    });
  return { ...named, ...difference(theme, folder, there, tree) };
}

/** What of a theme goes into a site: the same as into its package. */
function contentsOf(theme: Theme, excluded: readonly string[]): FileTree {
  const { entries } = choosePackageContents(theme, excluded);
  return new MemoryTree(
    entries.map(({ path, kind, mode, size, target = '' }): MemoryItem => {
      if (kind === 'link') return { kind, path, target };
      return kind === 'folder' ? { kind, path, mode } : { kind, path, content: { tree: theme.tree, path }, size, mode };
    }),
  );
}

function filesOf(tree: FileTree): string[] {
  return tree.entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path]));
}

function copyPlan({ names, platform }: Theme, root: string, tree: FileTree): ChangePlan {
  return {
    title: `install ${names.id} (${platform.contract.title})`,
    root,
    isNewRoot: true,
    isFile: isOneFile(platform),
    operations: copyOperations(tree),
  };
}

function linkPlan(theme: Theme, site: string, home: string): ChangePlan {
  const { names } = theme;
  const target = theme.place;
  if (target === undefined) throw new RefusedError({ what: 'an archive cannot be linked', hint: 'unpack it, or leave --link out' });
  return { title: `install ${names.id} --link`, root: site, isNewRoot: false, operations: [{ op: 'link', path: home, target }] };
}

/** @throws RefusedError when a folder is not there in which the platform’s themes would be */
function assertSite({ platform }: Theme, site: string, home: string): void {
  const parts = home.split('/');
  const shelf = join(
    site,
    ...parts.slice(
      0,
      parts.findIndex((part) => part.includes('{')),
    ),
  );
  if (kindOnDisk(shelf) === 'folder') return;
  throw new RefusedError({
    what: `${site} does not look like a site of ${platform.contract.title}: there is no folder ${shelf}`,
    hint: `name the folder of the site, in which themes are at ${home}`,
  });
}

/** @throws RefusedError when something else than an earlier version of the theme has its place */
function assertSameTheme(theme: Theme, there: FileTree, home: string, isCommons: boolean): void {
  if (isCommons) return;
  const { missing } = recognise(there, theme.platform, theme.names);
  if (missing !== undefined)
    throw new RefusedError({
      what: `${home} is in the site already and is not a theme of ${theme.platform.contract.title}: ${missing}`,
      hint: 'move it away first',
    });
  const known = new Theme(theme.platform, there, theme.names, home);
  // The title and the author of a theme can each change from one version to the next; hardly both.
  const differs = (fact: string): boolean => {
    const [before, after] = [known.text(fact), theme.text(fact)];
    return before !== undefined && after !== undefined && before !== after;
  };
  if (differs('title') && (differs('author') || known.text('author') === undefined))
    throw new RefusedError({
      what: `${home} in the site is another theme: “${known.text('title')}”, and not “${theme.text('title')}”`,
      why: 'a host can hold only one theme of an id',
      hint: 'rename yours with “pionero rename”, or remove the other one',
    });
}

function difference(theme: Theme, folder: string, there: FileTree, tree: FileTree): Omit<InstallStep, 'id' | 'home'> {
  const [before, after] = [new Set(filesOf(there)), new Set(filesOf(tree))];
  const added = [...after].filter((path) => !before.has(path));
  const removed = [...before].filter((path) => !after.has(path));
  const changed = [...after].filter((path) => before.has(path) && !isSame(there, tree, path));
  const known = new Theme(theme.platform, there, theme.names, folder);
  const version = { before: known.text('version'), after: theme.text('version') };
  const touched = new Set([...added, ...removed, ...changed]);
  if (touched.size === 0) return { state: 'same', version, added, changed, removed, plan: undefined };
  const title = `install ${theme.names.id} (${theme.platform.contract.title})`;
  return { state: 'changed', version, added, changed, removed, plan: planBetween(title, folder, there, tree, touched) };
}

function isSame(a: FileTree, b: FileTree, path: string): boolean {
  const [one, other] = [a.get(path), b.get(path)];
  if (one?.kind !== other?.kind || one?.size !== other?.size) return false;
  return one?.kind === 'file' ? a.read(path).equals(b.read(path)) : one?.target === other?.target;
}
