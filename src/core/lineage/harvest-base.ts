import type { JournalEntry } from '../changes/journal.ts';
import { isSameStamp, stampTree } from '../changes/stamps.ts';
import { blobHash, blobsOf, commitsOf, ifHistoryTells, repositoryOf, treeOfCommit } from '../files/disk-git.ts';
import type { FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import type { EarlierTheme } from './earlier.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { readOverrides } from '../contents/overrides.ts';
import type { Theme } from '../theme/theme.ts';
import { keptIn } from './originals.ts';

/** So many commits of a theme are compared with an export. */
const MOST_COMMITS = 200;

/** So many trees that are alike to an export in as many files are compared with it line by line. */
const MOST_NEAR = 20;

/** A tree that may be what was put on a site, and what tells how near it is. */
interface Candidate {
  readonly called: string;
  /** How many files of the export it has just so. */
  readonly same: number;
  tree(): FileTree;
}

/**
 * The state that was put on a site, found by the export that came back from it: of the theme’s earlier versions the one with most of the export’s files; of
 * several the one that differs from it in the fewest lines, and then the oldest, so that no work that came later counts as removed.
 * @param archives versions of the theme that are known already
 */
export function nearestVersion(
  { theme, folder }: Pick<OpenedTheme, 'theme' | 'folder'>,
  exported: FileTree,
  archives: readonly EarlierTheme[],
): { readonly tree: FileTree; readonly called: string } | undefined {
  const fromArchives = archives.map(({ theme: { tree }, found }): Candidate => ({
    called: found,
    same: sameFiles(tree, exported),
    tree: () => tree,
  }));
  const candidates = [...commitCandidates(theme, folder, exported), ...fromArchives].filter(({ same }) => same > 0);
  const most = Math.max(0, ...candidates.map(({ same }) => same));
  const near = candidates.filter(({ same }) => same === most).slice(0, MOST_NEAR);
  const judged = near.map((each) => ({ ...each, distance: distanceTo(each.tree(), exported) }));
  const nearest = judged.reduce<(typeof judged)[number] | undefined>(
    (best, each) => (best === undefined || each.distance <= best.distance ? each : best),
    undefined,
  );
  return nearest === undefined ? undefined : { tree: nearest.tree(), called: nearest.called };
}

function sameFiles(tree: FileTree, exported: FileTree): number {
  const isSame = (path: string): boolean => tree.get(path)?.kind === 'file' && tree.read(path).equals(exported.read(path));
  return exported.entries.filter(({ kind, path }) => kind === 'file' && isSame(path)).length;
}

/** The theme in the commits of its repository, newest first; none where it is in no repository. */
function commitCandidates(theme: Theme, folder: string, exported: FileTree): Candidate[] {
  if (theme.tree.disk === undefined) return [];
  const found = ifHistoryTells(() => {
    const { root, place } = repositoryOf(folder);
    const files = exported.entries.flatMap(({ kind, path }) => (kind === 'file' ? [{ path, bytes: exported.read(path) }] : []));
    const hashes = new Map<number, Map<string, string>>();
    const hashesOf = (digits: number): Map<string, string> => {
      const known = hashes.get(digits) ?? new Map(files.map(({ path, bytes }) => [path, blobHash(bytes, digits)]));
      hashes.set(digits, known);
      return known;
    };
    return commitsOf(root, place, MOST_COMMITS).map((commit): Candidate => {
      const blobs = blobsOf(root, commit, place);
      const same = blobs.filter(({ path, hash }) => hashesOf(hash.length).get(place === '' ? path : path.slice(place.length + 1)) === hash);
      return { called: `commit ${commit.slice(0, 10)}`, same: same.length, tree: () => treeOfCommit(root, commit, place) };
    });
  });
  return found ?? [];
}

/** How many lines of the export a tree does not have, and the other way round. */
function distanceTo(tree: FileTree, exported: FileTree): number {
  return exported.entries.reduce((sum, { path, kind }) => {
    if (kind !== 'file' || tree.get(path)?.kind !== 'file' || tree.read(path).equals(exported.read(path))) return sum;
    const [a, b] = [tree, exported].map((each) => new Set(readText(each, path)?.text.split(/\r?\n/) ?? []));
    return (
      sum + [...(a ?? [])].filter((line) => b?.has(line) !== true).length + [...(b ?? [])].filter((line) => a?.has(line) !== true).length
    );
  }, 0);
}

/**
 * What single files held when they were put on a site, where no whole version tells it: a file that looks there as our own install left
 * it, or that was not touched here since, and what the record keeps of a parent’s.
 * @param installs what is on record of installs, the newest last
 * @param site the folder of the theme on the site; undefined for an export
 */
export function singleOriginals(
  theme: Theme,
  exported: FileTree,
  installs: readonly JournalEntry[],
  site: string | undefined,
): (file: string) => Buffer | undefined {
  const install = site === undefined ? undefined : installs.findLast(({ root, stamps }) => root === site && stamps !== undefined);
  const installed = new Map((install?.stamps ?? []).map((stamp) => [stamp.path, stamp]));
  const now = new Map(install === undefined || site === undefined ? [] : stampTree(site).map((stamp) => [stamp.path, stamp]));
  const kept = new Map(readOverrides(theme.tree).taken.map((each) => [each.file, each]));
  return (file) => {
    const stamp = installed.get(file);
    if (stamp !== undefined && isSameStamp(stamp, now.get(file))) return exported.read(file);
    const own = theme.tree.get(file);
    if (
      stamp !== undefined &&
      install !== undefined &&
      own?.kind === 'file' &&
      (own.mtimeMs ?? Infinity) < install.time &&
      own.size === stamp.size
    )
      return theme.tree.read(file);
    const record = kept.get(file);
    return record === undefined ? undefined : keptIn(record);
  };
}
