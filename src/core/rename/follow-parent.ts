import { fillPlace } from '../theme/place.ts';
import { posix } from 'node:path';
import { withFile } from '../files/changed-tree.ts';
import { folderOf, type FileTree, isInFolder } from '../files/file-tree.ts';
import { sha256 } from '../changes/stamps.ts';
import { compareRanges, type TextEdit } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { shapePattern } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';
import { pathOfAddress, sourcesOf } from '../contents/serving.ts';
import { partialAtPath, pathsOfPartial, searchTemplate } from '../templates/template-index.ts';
import { keptOriginal, readOverrides, withOverrides } from '../contents/overrides.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import { templatesOf } from '../contents/templates.ts';
import type { FullName } from '../names/full-name.ts';
import { referencesOf } from '../contents/references.ts';
import { setFacts } from '../facts/set-facts.ts';
import { Theme } from '../theme/theme.ts';

/** A theme before and after its rename, and which of its files moved. */
export interface RenamedParent {
  readonly from: FullName;
  readonly to: FullName;
  readonly before: Theme;
  readonly after: Theme;
  readonly moves: readonly { readonly from: string; readonly to: string }[];
}

/** A child as it must be so that it goes on building on a parent that was renamed. Nothing is written to disk. */
export function followParent(child: Theme, renamed: RenamedParent): Theme {
  return [withParent, withIncludes, withInherited, withAddresses, withRecord].reduce((theme, follow) => follow(theme, renamed), child);
}

/** The child with the new name in the place of the old one, wherever it says what it builds on. */
function withParent(child: Theme, { from, to }: RenamedParent): Theme {
  if (!child.parents.includes(from.id)) return child;
  const { fact, 'vendor-fact': vendorFact } = child.platform.contract.inheritance;
  const parents = child.parents.map((id) => (id === from.id ? to.id : id));
  const vendor = vendorFact === undefined || to.vendor === undefined || to.vendor === child.parentVendor ? undefined : to.vendor;
  return setFacts(child, [
    { fact, op: 'set', value: parents.join(', ') },
    ...(vendor === undefined || vendorFact === undefined ? [] : [{ fact: vendorFact, op: 'set' as const, value: vendor }]),
  ]);
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

/** The child with the new names of inherited files, where a template asks for them from the theme’s root or by a function. */
function withInherited(child: Theme, { moves }: RenamedParent): Theme {
  const { assets } = child.platform.contract;
  const root = assets['theme-root'];
  const moved = new Map(moves.filter(({ from }) => child.tree.get(from) === undefined).map((move) => [move.from, move.to]));
  const edits = new Map<SourceDocument, TextEdit[]>();
  const add = (source: SourceDocument, target: string, start: number, path: string): void => {
    const becomes = movedTo(child.platform, moved, path);
    if (becomes === undefined) return;
    const end = start + target.length;
    const own = edits.get(source) ?? [];
    // What ends with the path keeps what stands before it, such as the name under which a folder is served.
    const text = target.endsWith(path) ? target.slice(0, -path.length) + becomes : sharedHead(target, path, becomes);
    if (own.every((edit) => edit.start !== start)) edits.set(source, [...own, { start, end, text }].sort(compareRanges));
  };
  for (const { reference, source, isSheet } of referencesOf(child)) {
    const { target, start } = reference;
    if (!isSheet && root !== undefined && target.startsWith(root)) add(source, target, start, target.slice(root.length));
  }
  for (const { source, template } of assets.addresses.length === 0 ? [] : templatesOf(child)) {
    for (const match of assets.addresses.flatMap((shape) => [...searchTemplate(template, source.text, shapePattern(shape))])) {
      const target = match.groups?.['path'] ?? '';
      add(source, target, match.index + match[0].lastIndexOf(target), pathOfAddress(child.platform, target));
    }
  }
  return withEdits(child, edits);
}

/** Where a path is now: a file that moved, or one that is made of a file that moved. */
function movedTo(platform: Platform, moved: ReadonlyMap<string, string>, path: string): string | undefined {
  const own = moved.get(path);
  if (own !== undefined) return own;
  const source = sourcesOf(platform, path).find((each) => moved.has(each));
  const now = source === undefined ? undefined : moved.get(source);
  // The text behind the path in the source’s name stays behind it after the move.
  const tail = source?.startsWith(path) === true ? source.slice(path.length) : undefined;
  return now !== undefined && tail !== undefined && now.endsWith(tail) ? now.slice(0, now.length - tail.length) : undefined;
}

/** An address whose folder is served under another name, with the new end. */
function sharedHead(target: string, path: string, becomes: string): string {
  let same = 0;
  while (same < target.length && same < path.length && target.at(-1 - same) === path.at(-1 - same)) same += 1;
  const gone = path.length - same;
  return target.slice(0, target.length - same) + becomes.slice(gone);
}

/** The child with the parent’s new place in relative addresses that lead out of it into the parent: `../albar/hut.css`. */
function withAddresses(child: Theme, { from, to, moves }: RenamedParent): Theme {
  const moved = new Map(moves.map((move) => [move.from, move.to]));
  const home = fillPlace(child.platform, child.names);
  const [old, now] = [from, to].map((names) => fillPlace(child.platform, names));
  if (old === undefined || now === undefined) return child;
  const depth = home.split('/').length;
  const found = [...referencesOf(child)].flatMap(({ path, source, isSheet, reference }) => {
    const { target, start } = reference;
    const up = /^(?:\.\.\/)+/.exec(target)?.[0] ?? '';
    const base = isSheet ? posix.join(home, folderOf(path)) : home;
    // Only what leaves the theme can be in another one.
    const leads = up === '' || depth === 0 ? '' : posix.join(base, target);
    const tail = target.slice(up.length);
    if (!isInFolder(leads, old) || !isInFolder(tail, old)) return [];
    const inside = tail.slice(old.length + 1);
    const file = inside.replace(/[?#].*$/s, '');
    const text = `${now}/${moved.get(file) ?? file}${inside.slice(file.length)}`;
    return [{ source, edit: { start: start + up.length, end: start + target.length, text } }];
  });
  const edits = new Map<SourceDocument, TextEdit[]>();
  for (const { source, edit } of found) edits.set(source, [...(edits.get(source) ?? []), edit]);
  return withEdits(child, edits);
}
