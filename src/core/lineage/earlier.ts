import { basename, join } from 'node:path';
import { formatOfName } from '../archives/archive-format.ts';
import { PioneroError } from '../errors.ts';
import { filesOf } from '../files/disk.ts';
import { ifHistoryTells, isGitThere, repositoryOf, tagsOf, treeOfCommit } from '../files/disk-git.ts';
import { openChain } from '../theme/chain.ts';
import { openThemeArchive } from '../theme/open-archive.ts';
import type { OpenedTheme, OpenOptions } from '../theme/open.ts';
import { Theme } from '../theme/theme.ts';

/** A theme as it was at another version, and where that was found, for people. */
export interface EarlierTheme {
  readonly theme: Theme;
  readonly found: string;
}

/** Where a version that nobody found was looked for, for people. */
export function whereLooked(folder: string): string {
  const tags = isGitThere() ? 'no tag of its repository' : 'tags of a repository were not looked at, since there is no git program';
  return `no folder or archive is called so, no archive of ${basename(folder)} here is that version, and ${tags}`;
}

/**
 * Finds a version of a theme: among the archives in some folders, then among the tags of the repository that it is in.
 * @param folders where archives of it may lie; absolute
 * @param except an archive that does not count, though it may state that version: the one that came back from a site
 * @returns undefined when no archive and no tag is that version
 */
export async function earlierVersion(
  opened: Pick<OpenedTheme, 'theme' | 'folder'>,
  version: string,
  folders: readonly string[],
  options: OpenOptions,
  except?: string,
): Promise<EarlierTheme | undefined> {
  const archives = await versionsInArchives(opened.theme, folders, options, except);
  return archives.find(({ theme }) => theme.text('version') === version) ?? inHistory(opened, version);
}

/**
 * The theme as archives in some folders have it, whatever version they are.
 * @param folders absolute
 * @param except an archive to leave out, by its absolute path
 */
export async function versionsInArchives(
  { names, platform }: Theme,
  folders: readonly string[],
  options: OpenOptions,
  except?: string,
): Promise<EarlierTheme[]> {
  const found: EarlierTheme[] = [];
  const files = [...new Set(folders)].flatMap((folder) => filesOf(folder).map((file) => ({ file, path: join(folder, file) })));
  for (const { file, path } of files) {
    if (formatOfName(file) === undefined || !file.includes(names.id) || path === except) continue;
    try {
      const { theme } = await openThemeArchive(path, { ...options, platform: options.platform ?? platform.contract.name });
      if (theme.names.id === names.id) found.push({ theme, found: file });
    } catch (error) {
      // Of what is damaged, or no theme, none is a version.
      if (!(error instanceof PioneroError)) throw error;
    }
  }
  return found;
}

/** A tag that is the version, with or without a v or the theme’s id before it. */
function inHistory({ theme, folder }: Pick<OpenedTheme, 'theme' | 'folder'>, version: string): EarlierTheme | undefined {
  if (theme.tree.disk === undefined) return undefined;
  return ifHistoryTells(() => {
    const repository = repositoryOf(folder);
    const id = theme.names.id;
    const wanted = new Set([version, `v${version}`, `${id}-${version}`, `${id}-v${version}`, `${id}/${version}`, `${id}/v${version}`]);
    const tag = tagsOf(repository.root).find((each) => wanted.has(each));
    if (tag === undefined) return undefined;
    const tree = treeOfCommit(repository.root, tag, repository.place);
    const { vendor } = theme.names;
    const then = new Theme(theme.platform, tree, { id, ...(vendor === undefined ? {} : { vendor }) }, `${basename(folder)} at ${tag}`);
    return tree.entries.length === 0 ? undefined : { theme: then, found: `the tag ${tag}` };
  });
}

/** The chain of a theme that lies nowhere: its parents are those of the theme as it is now. */
export function chainOfEarlier({ theme }: EarlierTheme, { shelves }: Pick<OpenedTheme, 'shelves'>) {
  return openChain(theme, shelves);
}
