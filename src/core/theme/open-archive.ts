import { basename, dirname } from 'node:path';
import { findConfiguration } from '../configuration/configuration.ts';
import { RefusedError } from '../errors.ts';
import { placeOnDisk } from '../files/disk.ts';
import { displayPath } from '../files/paths.ts';
import type { FileTree } from '../files/file-tree.ts';
import { SubTree } from '../files/sub-tree.ts';
import { shippedPlatforms } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { shapePattern, wholePattern } from '../names/shape.ts';
import { openChain } from './chain.ts';
import { isOneFile, namesOfPlace, placeOnShelf } from './place.ts';
import { recognise } from './recognise.ts';
import { checkedShelves, choosePlatform, sharedShelves, type OpenedTheme, type OpenOptions } from './open.ts';
import { Theme } from './theme.ts';
import { readArchive } from '../archives/archive-format.ts';
import { assertLinksStay } from '../archives/unpacking.ts';
import type { ThemeNames } from '../names/full-name.ts';

/**
 * Opens the theme in an archive, in memory. Its parents are looked for on the given shelves and beside it.
 * @param options `called`: what the archive is called, where its file is called otherwise
 * @throws RefusedError when the archive is damaged or holds no theme
 */
export async function openThemeArchive(
  file: string,
  options: OpenOptions & { readonly called?: string | undefined },
): Promise<OpenedTheme> {
  const path = placeOnDisk(options.currentFolder, file);
  const { tree: unpacked, leftBehind } = await readArchive(path, file);
  const configuration = findConfiguration(dirname(path));
  const source = options.platforms ?? shippedPlatforms;
  const possible = options.platform === undefined ? source() : [choosePlatform(options.platform, options)];
  const reasons: string[] = [];
  for (const platform of possible) {
    const named = namesOfArchive(unpacked, platform, options.called ?? basename(path));
    if (named === undefined) {
      const { top, name } = platform.contract.package;
      reasons.push(
        isOneFile(platform)
          ? `${platform.contract.title} wants one file ${placeOnShelf(platform)} in it`
          : top === ''
            ? `${platform.contract.title} wants the archive to be called ${name}, with the theme’s files at its root`
            : `${platform.contract.title} wants one folder ${top}/ with everything in it`,
      );
      continue;
    }
    const tree = named.top === '' ? unpacked : new SubTree(unpacked, named.top);
    const { missing } = recognise(tree, platform, named.names);
    if (missing !== undefined && options.platform === undefined) {
      reasons.push(`${platform.contract.title}: ${missing}`);
      continue;
    }
    // A link may stay inside the archive and leave the theme.
    assertLinksStay(tree, file);
    const shelves = sharedShelves(platform, [...checkedShelves(options), ...configuration.shelves, dirname(path)], options);
    const theme = new Theme(platform, tree, named.names, displayPath(path, options.currentFolder));
    return { theme, chain: openChain(theme, shelves), shelves, configuration, reasons: [], folder: path, leftBehind };
  }
  throw new RefusedError({
    what: `${basename(file)} is not a theme’s package`,
    why: reasons.join('; '),
    hint: 'make it with “pionero pack”',
  });
}

/** The names that an archive's top folder gives, and what it should be called; undefined when it has no one top folder. */
function namesOfArchive(tree: FileTree, platform: Platform, file: string): { names: ThemeNames; top: string } | undefined {
  if (isOneFile(platform)) {
    const files = tree.entries.filter(({ kind, path }) => kind === 'file' && namesOfPlace(platform, path) !== undefined);
    const names = files[0] === undefined ? undefined : namesOfPlace(platform, files[0].path);
    return names === undefined || files.length > 1 ? undefined : { names, top: '' };
  }
  // Without a top folder, only the archive's own name tells what the theme is called.
  if (platform.contract.package.top === '') {
    const name = file.replace(/(?:\.tar)?\.\w+$/, '');
    const groups = wholePattern(platform.contract.package.name).exec(name)?.groups;
    return groups?.['id'] === undefined ? undefined : { names: { id: groups['id'], vendor: groups['vendor'] }, top: '' };
  }
  const depth = platform.contract.package.top.split('/').length;
  const tops = new Set(
    tree.entries.filter((entry) => entry.kind !== 'folder').map((entry) => entry.path.split('/').slice(0, depth).join('/')),
  );
  const top = [...tops][0];
  if (top === undefined || tops.size !== 1 || tree.get(top)?.kind !== 'folder') return undefined;
  const groups = new RegExp(`^${shapePattern(platform.contract.package.top).source}$`).exec(top)?.groups;
  return groups?.['id'] === undefined ? undefined : { names: { id: groups['id'], vendor: groups['vendor'] }, top };
}
