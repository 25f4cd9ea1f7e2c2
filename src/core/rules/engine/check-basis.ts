import { shelfDepth } from '../../theme/place.ts';
import { CONFIGURATION_FILE, type Configuration } from '../../configuration/configuration.ts';
import { TOOL_FOLDERS } from '../../files/disk-tree.ts';
import { matchesAny } from '../../files/glob.ts';
import { isWithin, pathFrom, withSlashes } from '../../files/paths.ts';
import { type Platform } from '../../platform/platform.ts';
import type { Chain } from '../../theme/chain.ts';
import type { Shelves } from '../../theme/shelf.ts';

/** Everything that a check has looked at, as plain data: a change elsewhere cannot change its findings. Paths are absolute. */
export interface CheckBasis {
  /** The folders of the theme and of all that it builds on. */
  readonly folders: readonly string[];
  /** Where its siblings lie, and how deep. */
  readonly shelves: readonly string[];
  readonly depth: number;
  /** Which files of siblings count: globs, from a theme's root. */
  readonly shared: readonly string[];
  /** The folders of the siblings, where their files count. */
  readonly siblings: readonly string[];
  /** The configuration files that were used, and the modules of rules that they name. */
  readonly configurations: readonly string[];
}

export function basisOf(chain: Chain, shelves: Shelves, configuration: Configuration): CheckBasis {
  const { platform } = shelves;
  const shared = siblingFiles(platform);
  return {
    folders: chain.themes.flatMap(({ tree }) => tree.disk?.root ?? []),
    shelves: shelves.folders,
    depth: shelfDepth(platform),
    shared,
    siblings: shelves.list().map(({ folder }) => folder),
    configurations: configurationsOf(configuration),
  };
}

/** For checks that nobody asks about later. */
export const NO_BASIS: CheckBasis = { folders: [], shelves: [], depth: 1, shared: [], siblings: [], configurations: [] };

export function configurationsOf(configuration: Configuration): string[] {
  return [...configuration.layers.map(({ file }) => file), ...configuration['rule-files']];
}

/** The files of a theme that a check of another one on its shelf looks at, as globs: its documents, and what declares names that must be unique. */
export function siblingFiles({ contract }: Platform): string[] {
  const documents = contract.documents.map(({ path }) => path.replace(/\{path\}/g, '**').replace(/\{\w+(?::\w+)?\}/g, '*'));
  return [...new Set([...documents, ...contract.identifiers.flatMap(({ files }) => files)])];
}

/** Whether a change of a file or folder, by its absolute path, can change what a check finds. */
export function isAffected(basis: CheckBasis, path: string): boolean {
  if (
    withSlashes(path)
      .split('/')
      .some((part) => TOOL_FOLDERS.has(part))
  )
    return false;
  if (basis.configurations.includes(path) || basis.folders.some((folder) => partsBelow(folder, path) !== undefined)) return true;
  return basis.shelves.some((shelf) => {
    const parts = partsBelow(shelf, path);
    if (parts === undefined) return false;
    // A sibling that comes or goes, or a configuration file that is new.
    if (parts.length <= basis.depth) return parts.length === basis.depth || parts.at(-1) === CONFIGURATION_FILE;
    return matchesAny(parts.slice(basis.depth).join('/'), basis.shared);
  });
}

/** The parts of a path below a folder; undefined when it does not lie there. */
function partsBelow(folder: string, path: string): string[] | undefined {
  return isWithin(path, folder) ? pathFrom(folder, path).split('/') : undefined;
}
