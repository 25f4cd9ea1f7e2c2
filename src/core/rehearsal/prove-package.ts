import { readArchive } from '../archives/archive-format.ts';
import { assertLinksStay } from '../archives/unpacking.ts';
import type { ApplyOptions } from '../changes/apply.ts';
import { SubTree } from '../files/sub-tree.ts';
import type { PackagePlan } from '../package/pack-theme.ts';
import { checkTheme, type CheckOptions, type Finding } from '../rules/engine/check.ts';
import { openChain } from '../theme/chain.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { rehearse, type Rehearsal } from './rehearse.ts';

/** What became of a package when it was unpacked, checked and installed. */
export interface Proof {
  /** Errors of the theme as it was unpacked. */
  readonly errors: readonly Finding[];
  readonly rehearsal: Rehearsal;
}

/**
 * Unpacks a package as a host would, checks what came out of it, and installs that into a stand-in host.
 * @param path of the archive, under whatever name
 * @throws RefusedError when it is damaged or would do harm
 */
export async function provePackage(
  path: string,
  { theme: { platform, names }, top, name }: Pick<PackagePlan, 'theme' | 'top' | 'name'>,
  shelves: Shelves,
  options: CheckOptions,
  applying: ApplyOptions,
): Promise<Proof> {
  const { tree: unpacked } = await readArchive(path, name);
  const tree = top === '' ? unpacked : new SubTree(unpacked, top);
  assertLinksStay(tree, name);
  const theme = new Theme(platform, tree, names, name);
  const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, options);
  return {
    errors: findings.filter(({ severity }) => severity === 'error'),
    rehearsal: await rehearse({ platform, tree, names, shelves, applying }),
  };
}
