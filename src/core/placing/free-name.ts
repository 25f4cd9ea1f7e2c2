import { matchesGlob } from '../files/glob.ts';
import { kitFolders } from '../platform/platform.ts';
import { basename, dirname } from 'node:path';
import { RefusedError, UsageError } from '../errors.ts';
import { isSameFolder, kindOnDisk } from '../files/disk.ts';
import type { FullName } from '../names/full-name.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import { themeAround, type Shelves } from '../theme/shelf.ts';

/** @throws UsageError when the platform's grammar does not take a name */
export function assertNamesAllowed(name: FullName, platform: Platform): void {
  const { id, vendor } = platform.contract;
  for (const [kind, grammar, value] of [
    ['id', id, name.id],
    ['vendor', vendor, name.vendor],
  ] as const) {
    if (grammar === undefined) continue;
    if (value === undefined)
      throw new UsageError({ what: `${platform.contract.title} needs a vendor`, hint: `name it with --vendor: ${grammar.grammar}` });
    const verdict = judgeName(value, grammar);
    if (verdict === undefined) continue;
    throw new UsageError({
      what: `“${value}” cannot be the ${kind} of a theme for ${platform.contract.title}`,
      why: verdict.problem,
      hint: verdict.suggestion === undefined ? undefined : `try “${verdict.suggestion}”`,
    });
  }
}

/**
 * @param own the folder of the theme that is to be called so, when it is there already
 * @throws RefusedError when another theme has the id, or something lies at the place
 */
export function assertFree(name: FullName, folder: string, shelves: Shelves, own?: string): void {
  assertOutsideThemes(shelves, folder);
  const taken = shelves
    .list()
    .find((theme) => theme.names.id.toLowerCase() === name.id.toLowerCase() && theme.names.vendor === name.vendor);
  if (taken !== undefined) {
    throw new RefusedError({
      what: `the id “${name.id}” is taken by the theme in ${shelves.shown(taken.folder)}`,
      why: 'a host can hold only one theme of an id',
      hint: 'choose another id',
    });
  }
  if (kindOnDisk(folder) !== undefined && !(own !== undefined && isSameFolder(own, folder))) {
    throw new RefusedError({
      what: `${shelves.shown(folder)} is there already`,
      hint: 'choose another id, or add what the folder lacks with --here',
    });
  }
}

/** @throws RefusedError when a place lies inside a theme, where no host looks for another; a parent's kits may lie there */
function assertOutsideThemes(shelves: Shelves, folder: string): void {
  const { platform } = shelves;
  const around = themeAround(platform, dirname(folder));
  if (around === undefined) return;
  const within = folder.slice(around.length + 1);
  if (kitFolders(platform).some((kits) => matchesGlob(within, `${kits}/*`))) return;
  throw new RefusedError({
    what: `${shelves.shown(dirname(folder))} lies inside the theme ${basename(around)}`,
    why: 'a host looks for themes beside one another, not in one another',
    hint: `make it in ${shelves.shown(dirname(around))}: --to names the folder`,
  });
}
