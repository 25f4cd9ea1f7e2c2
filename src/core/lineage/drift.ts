import semver from 'semver';
import { sha256 } from '../changes/stamps.ts';
import { followLinks } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { SourceDocument } from '../text/source-document.ts';
import { readCatalogues } from '../contents/catalogues.ts';
import { findEntry } from '../documents/syntax.ts';
import { isNeeded } from '../platform/platform.ts';
import type { Chain } from '../theme/chain.ts';
import { isSameField, isSound, keyPath } from '../theme/documents.ts';
import { isMadeFor } from '../facts/made-for.ts';
import { declaredRegions } from '../contents/regions.ts';
import { templateAt } from '../contents/templates.ts';
import type { Theme } from '../theme/theme.ts';
import { readOverrides } from '../contents/overrides.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import { parentsOf } from './override.ts';
import type { FoundOriginal, Originals } from './originals.ts';

/**
 * What became of a file that was taken:
 * - `kept`: the parent has it as it was taken; where this one was not changed either, it could be dropped
 * - `equal`: the parent changed it to what is here, so it could be dropped
 * - `changed`: the parent changed it since
 * - `removed`, `moved`: the parent has it no more, or elsewhere
 * - `gone`: it is not in the child any more
 * - `no-parent`: the theme that it was taken from is not in the chain
 */
export type DriftState = 'kept' | 'equal' | 'changed' | 'removed' | 'moved' | 'gone' | 'no-parent';

export interface DriftedFile {
  readonly record: TakenFile;
  readonly state: DriftState;
  /** Whether the child’s copy was changed since it was taken. */
  readonly isOurs: boolean;
  /** For a moved one: where the parent has it now. */
  readonly movedTo?: string | undefined;
  /** The version of the parent now. */
  readonly version: string | undefined;
  /** Whether the parent is older than when the file was taken. */
  readonly isDowngraded: boolean;
  /** For a changed one: the child’s, the original and the parent’s; undefined where there is none. */
  readonly ours: Buffer | undefined;
  readonly original: FoundOriginal | undefined;
  readonly theirs: Buffer | undefined;
}

/** Something that the parent has, and the child, which has its own in the place of the parent’s, lacks. */
export interface Lacking {
  readonly kind: 'include' | 'region' | 'text' | 'field';
  readonly name: string;
  /** The child’s file that lacks it. */
  readonly file: string;
  readonly of: string;
}

export interface Drift {
  readonly files: readonly DriftedFile[];
  readonly lacking: readonly Lacking[];
  /** Files that take the place of a parent’s without being on record; `isEqual` when they are the same. */
  readonly unrecorded: readonly { readonly file: string; readonly theme: string; readonly isEqual: boolean }[];
  /** When the child says that it is made for other versions of the parent. */
  readonly notMadeFor?: { readonly parent: string; readonly version: string; readonly range: string } | undefined;
}

/** Whether there is anything to do about it. */
export function hasDrifted({ files, lacking, notMadeFor }: Drift): boolean {
  return files.some(({ state }) => state !== 'kept') || lacking.length > 0 || notMadeFor !== undefined;
}

/** Tells what changed under a child since it took files from its parents. */
export async function findDrift(chain: Chain, originals: Originals): Promise<Drift> {
  const [theme] = chain.themes;
  if (theme === undefined) return { files: [], lacking: [], unrecorded: [] };
  const { taken } = readOverrides(theme.tree);
  const files: DriftedFile[] = [];
  for (const record of taken) files.push(await driftOf(record, theme, chain, originals));
  const recorded = new Set(taken.map(({ file }) => file));
  return {
    files,
    lacking: [
      ...lackingIncludes(files, theme, chain),
      ...lackingRegions(theme, chain),
      ...lackingTexts(theme, chain),
      ...lackingFields(theme, chain),
    ],
    unrecorded: unrecordedIn(theme, chain, recorded),
    notMadeFor: notMadeFor(theme, chain),
  };
}

async function driftOf(record: TakenFile, theme: Theme, chain: Chain, originals: Originals): Promise<DriftedFile> {
  const parent = parentsOf(chain).themes.find(({ names }) => names.id === record.theme);
  const ours = bytesAt(theme, record.file);
  const theirs = bytesAt(parent, record.from);
  const version = parent?.text('version');
  const isOurs = ours !== undefined && sha256(ours) !== record.sha256;
  const isDowngraded =
    semver.valid(version) !== null && semver.valid(record.version) !== null && semver.lt(version ?? '', record.version ?? '');
  const common = { record, isOurs, version, isDowngraded, ours, theirs, original: undefined };
  if (ours === undefined) return { ...common, state: 'gone' };
  if (parent === undefined) return { ...common, state: 'no-parent' };
  if (theirs === undefined) {
    const movedTo = movedIn(parent, record);
    return { ...common, state: movedTo === undefined ? 'removed' : 'moved', movedTo };
  }
  if (sha256(theirs) === record.sha256) return { ...common, state: 'kept' };
  if (theirs.equals(ours)) return { ...common, state: 'equal' };
  return { ...common, state: 'changed', original: await originals.find(record, parent) };
}

/** The file at a path, behind links too; undefined when there is no file. */
function bytesAt(theme: Theme | undefined, path: string): Buffer | undefined {
  return theme !== undefined && followLinks(theme.tree, path)?.kind === 'file' ? theme.tree.read(path) : undefined;
}

/** Where a parent has the very bytes that were taken, under another name. */
function movedIn({ tree }: Theme, { sha256: wanted, from }: TakenFile): string | undefined {
  const name = from.split('/').at(-1);
  const files = tree.entries.filter(({ kind }) => kind === 'file');
  const same = files.find(({ path }) => sha256(tree.read(path)) === wanted);
  return (same ?? files.find(({ path }) => path.split('/').at(-1) === name))?.path;
}

/** Partials that the parent’s template includes now, and the child’s copy of it does not. */
function lackingIncludes(files: readonly DriftedFile[], theme: Theme, chain: Chain): Lacking[] {
  return files
    .filter(({ state }) => state === 'changed')
    .flatMap(({ record, original }): Lacking[] => {
      const parent = chain.themes.find(({ names }) => names.id === record.theme);
      const own = templateAt(theme, record.file);
      const now = parent === undefined ? undefined : templateAt(parent, record.from);
      if (own === undefined || now === undefined) return [];
      const had = new Set(own.template.includes.map(({ name }) => name));
      // What stood there when it was taken was taken out on purpose.
      const before = original === undefined ? '' : (SourceDocument.decode(record.from, original.bytes)?.text ?? '');
      const names = new Set(now.template.includes.map(({ name }) => name).filter((name) => !had.has(name) && !before.includes(name)));
      return [...names].map((name) => ({ kind: 'include', name, file: record.file, of: record.theme }));
    });
}

/** Regions that the parent declares, where the child declares its own in their place. */
function lackingRegions(theme: Theme, chain: Chain): Lacking[] {
  const own = declaredRegions(chain);
  if (own?.theme !== theme) return [];
  const parents = parentsOf(chain);
  const theirs = parents.themes.length === 0 ? undefined : declaredRegions(parents);
  const had = new Set(own.regions.map(({ name }) => name));
  return (theirs?.regions ?? [])
    .filter(({ name }) => !had.has(name))
    .map(({ name }) => ({ kind: 'region', name, file: own.regions[0]?.fact.document.path ?? '', of: theirs?.theme.names.id ?? '' }));
}

/** Texts of a parent’s catalogue that the child’s of the same path, which takes its place, does not have. */
function lackingTexts(theme: Theme, chain: Chain): Lacking[] {
  const own = readCatalogues(theme);
  return parentsOf(chain).themes.flatMap((parent) =>
    readCatalogues(parent).flatMap(({ path, keys }) => {
      const mine = own.find((each) => each.path === path);
      const had = new Set(mine?.keys);
      // Where the host merges them, what is not here is taken from there.
      return mine === undefined || matchesAny(path, theme.platform.contract.inheritance.merges)
        ? []
        : keys.filter((key) => !had.has(key)).map((name): Lacking => ({ kind: 'text', name, file: path, of: parent.names.id }));
    }),
  );
}

/** Fields that the platform wants of every theme, that the parent has by now and the child has not. */
function lackingFields(theme: Theme, chain: Chain): Lacking[] {
  const [parent] = parentsOf(chain).themes;
  if (parent === undefined) return [];
  return theme.documents.flatMap((document) =>
    document.contract.fields.flatMap((field): Lacking[] => {
      if (!isSound(document) || !isNeeded(field.required, true) || findEntry(document.root, keyPath(field)) !== undefined) return [];
      const isThere = parent.facts.some((fact) => isSameField(fact.field, field));
      return isThere ? [{ kind: 'field', name: keyPath(field).join('.'), file: document.path, of: parent.names.id }] : [];
    }),
  );
}

/** Files in the place of a parent’s that nobody noted; documents say what each theme is, and are not copies. */
function unrecordedIn(theme: Theme, chain: Chain, recorded: ReadonlySet<string>): Drift['unrecorded'] {
  const { inheritance, images } = theme.platform.contract;
  const { inherits } = inheritance;
  // Files that each theme has for itself: its documents, its cover.
  const documents = new Set([...theme.documents, ...images].map(({ path }) => path));
  return theme.tree.entries.flatMap(({ path, kind }) => {
    if (kind !== 'file' || recorded.has(path) || documents.has(path) || !matchesAny(path, inherits)) return [];
    const parent = chain.themes.slice(1).find((each) => each.tree.get(path)?.kind === 'file');
    return parent === undefined
      ? []
      : [{ file: path, theme: parent.names.id, isEqual: parent.tree.read(path).equals(theme.tree.read(path)) }];
  });
}

function notMadeFor(theme: Theme, { themes }: Chain): Drift['notMadeFor'] {
  const fact = theme.platform.contract.inheritance['made-for'];
  const range = fact === undefined ? undefined : theme.text(fact);
  const parent = themes.find(({ names }) => names.id === theme.parents[0]);
  const version = parent?.text('version');
  if (range === undefined || parent === undefined || version === undefined || semver.validRange(range) === null) return undefined;
  return isMadeFor(version, range) ? undefined : { parent: parent.names.id, version, range };
}
