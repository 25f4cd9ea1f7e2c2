import { posix } from 'node:path';
import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { withFile } from '../files/changed-tree.ts';
import { folderOf } from '../files/file-tree.ts';
import type { FullName } from '../names/full-name.ts';
import { fillPlace } from '../platform/platform.ts';
import { referencesOf } from '../theme/references.ts';
import { setFacts, writtenPaths } from '../theme/set-facts.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';

/** A theme that builds on a renamed one, and what is changed in it so that it goes on doing so. */
export interface FollowingChild {
  readonly id: string;
  readonly plan: ChangePlan;
  /** The paths that are changed. */
  readonly files: readonly string[];
}

/**
 * Plans what the children of a theme on its shelves must say when it gets another name: the parent that they declare, its name in
 * templates, and addresses that lead into its folder. Writes nothing.
 */
export function planChildren(shelves: Shelves, from: FullName, to: FullName): FollowingChild[] {
  if (from.id === to.id && from.vendor === to.vendor) return [];
  return shelves.list().flatMap((shelved): FollowingChild[] => {
    const child = shelves.open(shelved);
    const isOurs = child.parents.includes(from.id) && (child.parentVendor ?? from.vendor) === from.vendor;
    if (!isOurs || child.names.id === from.id) return [];
    const followed = withAddresses(withParent(child, from, to), from, to);
    const touched = new Set([...writtenPaths(child, followed), ...referencesOf(child).map(({ path }) => path)]);
    const title = `rename ${from.id} → ${to.id} in ${child.names.id}`;
    const plan = planBetween(title, shelved.folder, child.asRead(touched), followed.tree, touched);
    const files = plan.operations.map(({ path }) => path);
    return files.length === 0 ? [] : [{ id: child.names.id, plan, files }];
  });
}

/** The child with the new name in the place of the old one, wherever it says what it builds on. */
function withParent(child: Theme, from: FullName, to: FullName): Theme {
  const { fact, 'vendor-fact': vendorFact } = child.platform.contract.inheritance;
  const parents = child.parents.map((id) => (id === from.id ? to.id : id));
  const vendor = vendorFact === undefined || to.vendor === undefined || to.vendor === child.parentVendor ? undefined : to.vendor;
  return setFacts(child, [
    { fact, op: 'set', value: parents.join(', ') },
    ...(vendor === undefined || vendorFact === undefined ? [] : [{ fact: vendorFact, op: 'set' as const, value: vendor }]),
  ]);
}

/** The child with the parent’s new place in relative addresses that lead out of it into the parent: `../albar/hut.css`. */
function withAddresses(child: Theme, from: FullName, to: FullName): Theme {
  const home = fillPlace(child.platform, child.names);
  const [old, now] = [from, to].map((names) => fillPlace(child.platform, names));
  if (old === undefined || now === undefined) return child;
  const depth = home.split('/').length;
  const found = referencesOf(child).flatMap(({ path, source, isSheet, reference }) => {
    const { target, start } = reference;
    const up = /^(?:\.\.\/)+/.exec(target)?.[0] ?? '';
    const base = isSheet ? posix.join(home, folderOf(path)) : home;
    // Only what leaves the theme can be in another one.
    const leads = up === '' || depth === 0 ? '' : posix.join(base, target);
    const tail = target.slice(up.length);
    if (!leads.startsWith(`${old}/`) || !tail.startsWith(`${old}/`)) return [];
    return [{ path, source, edit: { start: start + up.length, end: start + up.length + old.length, text: now } }];
  });
  let { tree } = child;
  for (const { path, source } of new Map(found.map((each) => [each.path, each])).values()) {
    const own = found.filter((each) => each.path === path).map(({ edit }) => edit);
    const bytes = source.encode(source.withEdits(own).text);
    if (bytes !== undefined) tree = withFile(tree, path, bytes);
  }
  return tree === child.tree ? child : new Theme(child.platform, tree, child.names, child.location);
}
