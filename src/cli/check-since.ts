import { join } from 'node:path';
import { PioneroError } from '../core/errors.ts';
import { withCommit, type Changes } from '../core/files/disk-git.ts';
import { isTheme } from '../core/theme/find-themes.ts';
import { placeOfFile } from './output/places.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import { isWithin, pathFrom } from '../core/files/paths.ts';
import { beyondBaseline, EMPTY_BASELINE, withFindings } from '../core/rules/engine/baseline.ts';
import { basisOf, isAffected, type CheckBasis } from '../core/rules/engine/check-basis.ts';
import { checkFolders, type CheckedFolder, type FoldersToCheck } from '../core/rules/engine/check-folders.ts';
import { openThemeFolder } from '../core/theme/open.ts';
import type { Shelves } from '../core/theme/shelf.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';

/** What changed since a revision, and the targets that it can affect. */
export interface Since {
  readonly changes: Changes;
  readonly affected: readonly CheckTarget[];
}

/** Leaves of the targets those that what changed can affect. */
export function affectedBy(context: Context, targets: readonly CheckTarget[], changes: Changes): Since {
  const known = new Map<string, Shelves>();
  const affected = targets.filter(({ kind, path }) => {
    if (kind !== 'folder') return changes.paths.includes(path) || kind === 'failed';
    const basis = basisAt(context, path, known);
    return basis === undefined || changes.paths.some((each) => isAffected(basis, each));
  });
  return { changes, affected };
}

/** The places that a check of a theme would look at; undefined when it cannot be opened. */
function basisAt(context: Context, path: string, known: Map<string, Shelves>): CheckBasis | undefined {
  try {
    const { chain, shelves, configuration } = openThemeFolder(path, { ...context.opening, known, isLenient: true });
    return basisOf(chain, shelves, configuration);
  } catch (error) {
    if (error instanceof PioneroError) return undefined;
    throw error;
  }
}

/** Leaves of what was found that which stands in changed files, or was not found at the revision. */
export async function findingsSince(
  context: Context,
  { changes }: Since,
  checked: readonly CheckedFolder[],
  common: Omit<FoldersToCheck, 'folders'>,
): Promise<CheckedFolder[]> {
  const changed = new Set(changes.paths);
  const place = (path: string): string => pathFrom(changes.files, path);
  const isInside = (path: string): boolean => isWithin(path, changes.files);
  const places = [...new Set(checked.flatMap(({ basis }) => [...basis.folders, ...basis.shelves, ...basis.configurations]))];
  return withCommit(changes, places.filter(isInside).map(place), async (copy) => {
    const before = (path: string): string => (isInside(path) ? join(copy, place(path)) : path);
    const isThere = (path: string): boolean => kindOnDisk(path) === 'folder' || isTheme(path, context.possiblePlatforms());
    const folders = checked.map(({ folder }) => before(folder)).filter(isThere);
    const currentFolder = before(context.io.folder);
    const shelves = common.shelves.map((shelf) => before(context.path(shelf)));
    const then = await checkFolders({
      ...common,
      currentFolder,
      shelves,
      folders,
      copy: { folder: copy, of: changes.root },
      cache: undefined,
    });
    return checked.map((each) => {
      const old = then.find(({ folder }) => folder === before(each.folder));
      const baseline = old === undefined ? EMPTY_BASELINE : withFindings(EMPTY_BASELINE, each.id, old.result.findings);
      const added = new Set(beyondBaseline(baseline, each.id, each.result.findings));
      const findings = each.result.findings.filter((finding) => added.has(finding) || changed.has(placeOfFile(each.folder, finding.file)));
      return { ...each, result: { ...each.result, findings } };
    });
  });
}
