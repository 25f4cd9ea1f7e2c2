import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import type { FullName } from '../names/full-name.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { followParent, type RenamedParent } from './follow-parent.ts';

/** A theme that builds on a renamed one, and what is changed in it so that it goes on doing so. */
export interface FollowingChild {
  readonly id: string;
  readonly plan: ChangePlan;
  /** The paths that are changed. */
  readonly files: readonly string[];
}

/**
 * Plans what the children of a theme on its shelves must say when it gets another name: the parent that they declare, its name in
 * templates, includes of its files that are called otherwise, addresses that lead into its folder, and what is on record as taken from
 * it. Writes nothing.
 */
export function planChildren(shelves: Shelves, renamed: RenamedParent): FollowingChild[] {
  const { from, to } = renamed;
  if (from.id === to.id && from.vendor === to.vendor) return [];
  return descendantsOf(shelves, from).flatMap(({ theme: child, folder }): FollowingChild[] => {
    const followed = followParent(child, renamed);
    const touched = new Set(
      child.tree.entries.filter(({ kind, path }) => kind === 'file' && isOther(child, followed, path)).map(({ path }) => path),
    );
    const title = `rename ${from.id} → ${to.id} in ${child.names.id}`;
    const plan = planBetween(title, folder, child.asRead(touched), followed.tree, touched);
    const files = plan.operations.map(({ path }) => path);
    return files.length === 0 ? [] : [{ id: child.names.id, plan, files }];
  });
}

function isOther(a: Theme, b: Theme, path: string): boolean {
  return a.tree !== b.tree && !a.tree.read(path).equals(b.tree.read(path));
}

/** The themes on shelves that build on one, also by way of others. */
function descendantsOf(shelves: Shelves, { id, vendor }: FullName): { theme: Theme; folder: string }[] {
  const all = shelves.list().map((shelved) => ({ theme: shelves.open(shelved), folder: shelved.folder }));
  const isChild = ({ theme }: { theme: Theme }): boolean => theme.parents.includes(id) && (theme.parentVendor ?? vendor) === vendor;
  const found = new Set(all.filter((each) => isChild(each) && each.theme.names.id !== id));
  // A loop over a set also visits what is added to it on the way.
  for (const { theme } of found)
    for (const each of all) if (each.theme.parents.includes(theme.names.id) && each.theme.names.id !== id) found.add(each);
  return all.filter((each) => found.has(each));
}
