import { posix } from 'node:path';
import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { withFile } from '../files/changed-tree.ts';
import { folderOf, type FileTree } from '../files/file-tree.ts';
import { sha256 } from '../changes/stamps.ts';
import { compareRanges, type TextEdit } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { partialAtPath, pathsOfPartial } from '../templates/template-index.ts';
import { keptOriginal, readOverrides, withOverrides, type TakenFile } from '../theme/overrides.ts';
import { templatesOf } from '../theme/templates.ts';
import type { FullName } from '../names/full-name.ts';
import { fillPlace } from '../platform/platform.ts';
import { referencesOf } from '../theme/references.ts';
import { setFacts } from '../theme/set-facts.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';

/** A theme that builds on a renamed one, and what is changed in it so that it goes on doing so. */
export interface FollowingChild {
  readonly id: string;
  readonly plan: ChangePlan;
  /** The paths that are changed. */
  readonly files: readonly string[];
}

/** A theme before and after its rename, and which of its files moved. */
export interface RenamedParent {
  readonly from: FullName;
  readonly to: FullName;
  readonly before: Theme;
  readonly after: Theme;
  readonly moves: readonly { readonly from: string; readonly to: string }[];
}

/**
 * Plans what the children of a theme on its shelves must say when it gets another name: the parent that they declare, its name in
 * templates, includes of its files that are called otherwise, addresses that lead into its folder, and what is on record as taken from
 * it. Writes nothing.
 */
export function planChildren(shelves: Shelves, renamed: RenamedParent): FollowingChild[] {
  const { from, to } = renamed;
  if (from.id === to.id && from.vendor === to.vendor) return [];
  return shelves.list().flatMap((shelved): FollowingChild[] => {
    const child = shelves.open(shelved);
    const isOurs = child.parents.includes(from.id) && (child.parentVendor ?? from.vendor) === from.vendor;
    if (!isOurs || child.names.id === from.id) return [];
    const followed = [withParent, withIncludes, withAddresses, withRecord].reduce((theme, follow) => follow(theme, renamed), child);
    const touched = new Set(
      child.tree.entries.filter(({ kind, path }) => kind === 'file' && isOther(child, followed, path)).map(({ path }) => path),
    );
    const title = `rename ${from.id} → ${to.id} in ${child.names.id}`;
    const plan = planBetween(title, shelved.folder, child.asRead(touched), followed.tree, touched);
    const files = plan.operations.map(({ path }) => path);
    return files.length === 0 ? [] : [{ id: child.names.id, plan, files }];
  });
}

/** The child with the new name in the place of the old one, wherever it says what it builds on. */
function withParent(child: Theme, { from, to }: RenamedParent): Theme {
  const { fact, 'vendor-fact': vendorFact } = child.platform.contract.inheritance;
  const parents = child.parents.map((id) => (id === from.id ? to.id : id));
  const vendor = vendorFact === undefined || to.vendor === undefined || to.vendor === child.parentVendor ? undefined : to.vendor;
  return setFacts(child, [
    { fact, op: 'set', value: parents.join(', ') },
    ...(vendor === undefined || vendorFact === undefined ? [] : [{ fact: vendorFact, op: 'set' as const, value: vendor }]),
  ]);
}

function isOther(a: Theme, b: Theme, path: string): boolean {
  return a.tree !== b.tree && !a.tree.read(path).equals(b.tree.read(path));
}

/** The child with other files. */
function withTree(child: Theme, tree: FileTree): Theme {
  return tree === child.tree ? child : new Theme(child.platform, tree, child.names, child.location);
}

/** The child with texts of it edited, each by its path. */
function withEdits(child: Theme, edits: ReadonlyMap<SourceDocument, readonly TextEdit[]>): Theme {
  let { tree } = child;
  for (const [source, own] of edits) {
    const bytes = source.encode(source.withEdits(own).text);
    if (bytes !== undefined) tree = withFile(tree, source.file, bytes);
  }
  return withTree(child, tree);
}

/** The child’s templates take in the parent’s files by their new names, where it has none of its own of that name. */
function withIncludes(child: Theme, { moves }: RenamedParent): Theme {
  const moved = new Map(moves.map((move) => [move.from, move.to]));
  const edits = new Map<SourceDocument, TextEdit[]>();
  for (const { source, template, contract, path } of templatesOf(child)) {
    const own = [...template.includes, ...template.extends].flatMap(({ name, nameStart }): TextEdit[] => {
      const places = pathsOfPartial(contract, name, path);
      const target = places.find((place) => moved.has(place));
      const becomes = target === undefined ? undefined : partialAtPath(contract, moved.get(target) ?? '');
      if (becomes === undefined || places.some((place) => child.tree.get(place) !== undefined)) return [];
      return [{ start: nameStart, end: nameStart + name.length, text: becomes }];
    });
    if (own.length > 0) edits.set(source, own.sort(compareRanges));
  }
  return withEdits(child, edits);
}

/** The child’s record of what it took from the parent; copies that were as the parent had them are as it has them now. */
function withRecord(child: Theme, { from, to, before, after, moves }: RenamedParent): Theme {
  const { taken, problems } = readOverrides(child.tree);
  if (problems.length > 0 || !taken.some(({ theme }) => theme === from.id)) return child;
  const moved = new Map(moves.map((move) => [move.from, move.to]));
  let { tree } = child;
  const next = taken.map((record): TakenFile => {
    if (record.theme !== from.id) return record;
    const path = moved.get(record.from) ?? record.from;
    const followed = { ...record, theme: to.id, from: path };
    const [old, now] = [bytesAt(before, record.from), bytesAt(after, path)];
    // Where the parent has changed it since, the original keeps the old name, and so does its hash.
    if (old === undefined || now === undefined || sha256(old) !== record.sha256) return followed;
    if (bytesAt(child, record.file)?.equals(old) === true) tree = withFile(tree, record.file, now);
    return { ...followed, sha256: sha256(now), ...(record.original === undefined ? {} : { original: keptOriginal(now) }) };
  });
  return withTree(child, withOverrides(tree, next));
}

function bytesAt({ tree }: Theme, path: string): Buffer | undefined {
  return tree.get(path)?.kind === 'file' ? tree.read(path) : undefined;
}

/** The child with the parent’s new place in relative addresses that lead out of it into the parent: `../albar/hut.css`. */
function withAddresses(child: Theme, { from, to, moves }: RenamedParent): Theme {
  const moved = new Map(moves.map((move) => [move.from, move.to]));
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
    const inside = tail.slice(old.length + 1);
    const file = inside.replace(/[?#].*$/s, '');
    const text = `${now}/${moved.get(file) ?? file}${inside.slice(file.length)}`;
    return [{ source, edit: { start: start + up.length, end: start + target.length, text } }];
  });
  const edits = new Map<SourceDocument, TextEdit[]>();
  for (const { source, edit } of found) edits.set(source, [...(edits.get(source) ?? []), edit]);
  return withEdits(child, edits);
}
