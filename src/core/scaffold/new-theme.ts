import { fillPlace, isOneFile } from '../theme/place.ts';
import { resolve } from 'node:path';
import { plannedTree, type ChangePlan, copyOperations, type Operation } from '../changes/plan.ts';
import { planBetween } from '../changes/plan-between.ts';
import { UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { type Platform } from '../platform/platform.ts';
import { newName, fullNameOf, type FullName } from '../names/full-name.ts';
import { NameFinder } from '../names/name-finder.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { renameTree } from '../rename/rename-tree.ts';
import { scanForLeftovers, type Leftover } from '../rename/second-scan.ts';
import { beyondCounts, countFindings } from '../rules/engine/baseline.ts';
import { type Finding, checkOptionsOf, checkTheme, type CheckOptions } from '../rules/engine/check.ts';
import { isBreaking } from '../rules/engine/errors-brought.ts';
import { planFixes } from '../rules/engine/fix.ts';
import { openChain } from '../theme/chain.ts';
import { applyEdits } from '../text/edits.ts';
import { keyPath } from '../theme/documents.ts';
import { setFacts, typedChanges } from '../facts/set-facts.ts';
import { withFile } from '../files/changed-tree.ts';
import { removeField } from '../facts/write-field.ts';
import { nearest } from '../text/nearest.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import type { Kit } from './kit.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import { fileToTake } from '../rules/advice.ts';
import { takeWithNeeds, type Need, type NeedAnswer, type TakenWithNeeds } from './needs.ts';
import type { TakingNote } from './take.ts';
import { fillingsFor, fillPlaceholders } from './fill-placeholders.ts';
import { withoutMarkedLines, type RemovedLines } from './marked-lines.ts';
import { allBut, chooseParts, withoutParts } from './parts.ts';
import { fullNameOfWords, placeholderWords, statedName, type KitName } from '../contents/placeholders.ts';
import { completeDocuments } from './merge-here.ts';
import { assertNamesAllowed, assertFree } from '../placing/free-name.ts';
import { withNote, noteFor, configurationOf } from './note.ts';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { textLeftover } from '../rules/text/text-leftover.ts';
import { count, didYouMean, listed, plural } from '../text/sentence.ts';

export interface NewThemeRequest {
  readonly platform: Platform;
  readonly kit: Kit;
  readonly id: string;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  readonly parent?: string | undefined;
  readonly facts?: Readonly<Record<string, string>> | undefined;
  /** Parts of the kit, or files of it by globs, that are left out. */
  readonly without?: readonly string[] | undefined;
  /** Globs of the only files that are taken, besides documents. */
  readonly only?: readonly string[] | undefined;
  /** Files or pages of the parent that the theme starts with copies of. */
  readonly take?: readonly string[] | undefined;
  /** The answer to files of the parent that these copies ask for. */
  readonly needs?: NeedAnswer | undefined;
  /** Milliseconds since 1970. */
  readonly now?: number | undefined;
  /** Words in the kit that someone said to be its name, besides those that are sure. */
  readonly kitNames?: readonly string[] | undefined;
  /** Words that look like a name of the kit, and are not. */
  readonly keptWords?: readonly string[] | undefined;
  /** Where parents and siblings are looked for. */
  readonly shelves: Shelves;
  /** The shelf that the theme is made on; absolute. */
  readonly into: string;
  /** An existing folder that gets what it lacks, in place of a new one; absolute. */
  readonly here?: string | undefined;
}

/** What `new` would do, and what `check` would say of it. */
export interface NewTheme {
  readonly plan: ChangePlan;
  readonly theme: Theme;
  readonly findings: readonly Finding[];
  /** Lines that the kit marks to be deleted. */
  readonly removed: readonly RemovedLines[];
  /** Files of the parent that it has copies of. */
  readonly taken: readonly TakenFile[];
  readonly notes: readonly TakingNote[];
  /** Files of the parent that the copies ask for, and that the host does not take from there. */
  readonly needs: readonly Need[];
  /** The words that the new theme's names replaced. */
  readonly names: readonly KitName[];
  /** The errors among the findings that neither the kit has nor the folder that is completed. */
  readonly broken: readonly Finding[];
  /** The mentions of the kit's name that a second scan finds, but for credits, links and the like, which stay. */
  leftovers(): readonly Leftover[];
}

/**
 * Plans a new theme: a kit's clone under a new name, with facts of its own. Writes nothing.
 * @throws UsageError when a name or fact cannot be used
 * @throws RefusedError when the name is taken or the folder exists
 */
export function planNewTheme(request: NewThemeRequest): NewTheme {
  const { platform, kit, here } = request;
  const own = fullNameOf(kit.theme.names);
  // A title that is a placeholder is found as one.
  const isName = kit.names.some(({ text }) => keyOfWord(text) === keyOfWord(own.title));
  const from = isName ? { ...own, title: spell(splitWords(own.id), 'title') } : own;
  // A kit's vendor is nobody's: the new theme's must be named.
  const to = { ...newName(from, request), vendor: platform.contract.vendor === undefined ? undefined : request.vendor };
  assertNamesAllowed(to, platform);
  const folder = here ?? resolve(request.into, fillPlace(platform, to));
  if (here === undefined) assertFree(to, folder, request.shelves);
  assertParent(request);
  const parts = chooseParts(kit.parts, request.without ?? [], kit.name, kit.theme.tree);
  const chosen = withoutParts(
    kit.theme,
    request.only === undefined || request.only.length === 0 ? parts : [...parts, allBut(kit.theme, request.only)],
  );
  const { tree: unmarked, removed } = withoutMarkedLines(chosen.tree, platform.contract.kits?.['delete-lines'] ?? []);
  const names = agreedNames(kit, request.kitNames ?? [], request.keptWords ?? []);
  const filled = fillPlaceholders(unmarked, names, fillingsFor(to, request.parent));
  const base = new Theme(platform, filled, kit.theme.names, kit.theme.location);
  const passes = renamePasses(base, from, to, names, request.parent);
  const clone = passes.at(-1) ?? { tree: base.tree, leftovers: () => [] };
  const shelves = request.shelves;
  const named = new Theme(platform, clone.tree, to, folder);
  // A plain kit's name is a placeholder, or nobody's title.
  const titled: Record<string, string> = kit.isPlain && named.facts.some((fact) => fact.name === 'title') ? { title: to.title } : {};
  const wanted = { ...kit.starts, ...titled, ...parentFacts(request), ...request.facts };
  const withFacts = setFacts(withoutMarkers(named, kit.markers), typedChanges(wanted));
  const taken = withTaken(new Theme(platform, withFacts.tree, to, folder), request, optionsFor(withFacts.tree, folder));
  const operations = withNote(copyOperations(taken.tree), noteFor(request, folder));
  const made = new Theme(platform, plannedTree(operations), to, folder);
  const existing = here === undefined ? undefined : new DiskTree(here);
  const missing = operations.filter(({ path }) => existing?.get(path) === undefined);
  const merged = existing === undefined ? made : completed(request, existing, missing, made);
  const options = optionsFor(merged.tree, folder);
  // A kit may lack fields that the stated releases need: those with only one right value are added.
  const { theme, findings, plan: fixed } = planFixes(merged, shelves, folder, options);
  const title = `new ${to.id}`;
  const plan: ChangePlan =
    existing === undefined
      ? { title, root: folder, isNewRoot: true, isFile: isOneFile(platform), operations: copyOperations(theme.tree) }
      : planBetween(title, folder, existing, theme.tree, touchedPaths(existing, theme, [...missing, ...fixed.operations]));
  const leftovers = (): Leftover[] => [
    ...passes.flatMap((pass) => pass.leftovers()),
    ...leftTokens(clone.tree, names),
    ...changedParent(base.tree, clone.tree, request.parent),
  ];
  const before = [kit.theme, ...(existing === undefined ? [] : [new Theme(platform, existing, to, folder)])];
  // What copies need is told by itself.
  const broken = errorsBeyond(
    before,
    findings.filter(({ hint }) => taken.needs.every(({ path }) => path !== fileToTake(hint)?.path)),
    shelves,
    options,
  );
  return { plan, theme, findings, broken, removed, names, taken: taken.taken, notes: taken.notes, needs: taken.needs, leftovers };
}

/** The errors that a kit, or a folder that is completed, does not have as often: files have other names in the new theme, so only rules are compared. */
function errorsBeyond(before: readonly Theme[], findings: readonly Finding[], shelves: Shelves, options: CheckOptions): Finding[] {
  const byRule = (all: readonly Finding[]): Finding[] => all.flatMap((each) => (isBreaking(each) ? [{ ...each, file: '' }] : []));
  const errors = findings.filter(isBreaking);
  if (errors.length === 0) return [];
  const had = before.flatMap((theme) => checkTheme(theme, openChain(theme, shelves), shelves, options).findings);
  const left = new Set(beyondCounts(countFindings(byRule(had)), byRule(errors)).map(({ rule }) => rule));
  return errors.filter(({ rule }) => left.has(rule));
}

/** A folder with what it lacks of the kit, its own documents completed. */
function completed(request: NewThemeRequest, existing: FileTree, missing: readonly Operation[], made: Theme): Theme {
  const { platform, facts = {}, shelves } = request;
  const tree = plannedTree([...copyOperations(existing), ...missing]);
  const given = new Set([...Object.keys(facts), ...(request.title === undefined ? [] : ['title'])]);
  return completeDocuments(new Theme(platform, tree, made.names, made.location), made, given, shelves);
}

/** The paths at which a folder may differ from what it will be. */
function touchedPaths(existing: FileTree, theme: Theme, operations: readonly Operation[]): ReadonlySet<string> {
  const gone = existing.entries.flatMap(({ path, kind }) => (kind === 'file' && theme.tree.get(path) === undefined ? [path] : []));
  return new Set([...gone, ...theme.documents.map(({ path }) => path), ...operations.map(({ path }) => path)]);
}

/** @throws UsageError when files are to be taken from a parent, and there is none */
function withTaken(theme: Theme, request: NewThemeRequest, options: CheckOptions): TakenWithNeeds {
  const { take = [], parent, shelves, now = 0, id, vendor, needs: answer } = request;
  const { tree } = theme;
  if (take.length === 0) return { tree, taken: [], notes: [], needs: [], errors: [] };
  const shelved = parent === undefined ? undefined : shelves.find(parent);
  if (shelved === undefined && parent !== undefined)
    throw new UsageError({
      what: `the files of “${parent}” are not here: the host brings it`,
      hint: 'name the shelf that it lies on with --shelf, or leave --take out',
    });
  if (shelved === undefined)
    throw new UsageError({ what: 'files are taken from a parent, and there is none', hint: 'name it with --parent' });
  return takeWithNeeds({
    ...{ tree, names: { id, vendor }, parents: openChain(shelves.open(shelved), shelves), wanted: take, now },
    ...{ before: theme, shelves, options, answer },
  });
}

/** One name of the kit, replaced everywhere. */
interface Pass {
  readonly tree: FileTree;
  leftovers(): readonly Leftover[];
}

/** Renames the kit by its theme's name, then by each other word that stands for it. */
function renamePasses(base: Theme, own: FullName, to: FullName, names: readonly KitName[], parent: string | undefined): Pass[] {
  const passes: Pass[] = [];
  const others = parent === undefined ? [] : [parent];
  const rename = (theme: Theme, from: FullName, include: readonly string[]): Theme => {
    const renamed = renameTree({ theme, from, to, otherThemes: others, keep: [], include });
    const tree = plannedTree(renamed.operations);
    const leftovers = (): Leftover[] => scanForLeftovers(tree, { ...from, vendor: undefined }, to, renamed.kept);
    passes.push({ tree, leftovers });
    return new Theme(theme.platform, tree, to, theme.location);
  };
  let theme = rename(base, own, []);
  for (const { words, stands, text } of names) {
    if (words === undefined || stands !== 'id') continue;
    const { id, title } = fullNameOfWords(words);
    // A placeholder means the theme wherever it stands; a folder's name may be any word.
    const isPlaceholder = placeholderWords(text) !== undefined;
    if (id !== splitWords(to.id).join('')) theme = rename(theme, { id, title, vendor: to.vendor }, isPlaceholder ? ['unsure'] : []);
  }
  return passes;
}

/** The parent's name stays wherever the kit has it. */
function changedParent(before: FileTree, after: FileTree, parent: string | undefined): Leftover[] {
  if (parent === undefined) return [];
  const finder = new NameFinder(parent);
  const countIn = (tree: FileTree): number =>
    tree.entries.reduce((sum, { path, kind }) => sum + (kind === 'file' ? finder.find(readText(tree, path)?.text ?? '').length : 0), 0);
  const [had, has] = [countIn(before), countIn(after)];
  return has >= had
    ? []
    : [{ file: '', line: 1, column: 1, text: `the parent’s name “${parent}” was changed in ${count(had - has, 'place')}` }];
}

/** Placeholders between signs that stand in the new theme yet. */
function leftTokens(tree: FileTree, names: readonly KitName[]): Leftover[] {
  const tokens = names.filter(({ words }) => words === undefined).map(({ text }) => text.toLowerCase());
  return tree.entries.flatMap(({ path, kind }) =>
    tokens.flatMap((token): Leftover[] => {
      if (baseOf(path).toLowerCase().includes(token)) return [{ file: path, line: 1, column: 1, text: `in its name: ${token}` }];
      const source = kind === 'file' ? readText(tree, path) : undefined;
      const at = source?.text.toLowerCase().indexOf(token) ?? -1;
      return source === undefined || at < 0 ? [] : [{ file: path, ...source.positionAt(at), text: token }];
    }),
  );
}

/** The names of a kit that are replaced. @throws UsageError when some are likely, and nobody said so */
function agreedNames({ names: all, name }: Kit, said: readonly string[], kept: readonly string[]): KitName[] {
  const isIn = (words: readonly string[], each: KitName): boolean => words.some((word) => keyOfWord(word) === keyOfWord(each.text));
  const isSaid = (each: KitName): boolean => isIn(said, each);
  const names = all.filter((each) => !isIn(kept, each));
  const doubtful = names.filter((each) => !each.isSure && !isSaid(each));
  const [first] = doubtful;
  if (first !== undefined)
    throw new UsageError({
      what: `the kit “${name}” seems to have ${plural(doubtful.length, 'another name', 'other names')}: ${doubtful.map(({ text, evidence }) => `${text} (${evidence})`).join('; ')}`,
      why: 'a placeholder for the new theme’s name must not stay',
      hint: `say so with ${doubtful.map(({ text }) => `--kit-name "${text}"`).join(' ')}; --keep-word keeps a word that is not one`,
    });
  const known = new Set(names.map(({ text }) => keyOfWord(text)));
  return [...names, ...said.filter((word) => !known.has(keyOfWord(word))).map((word) => statedName(word, 'you said so'))];
}

function keyOfWord(word: string): string {
  return word.toLowerCase().replace(/[-_ ]/g, '');
}

/** How the new theme will be checked. The kit's sample texts stand in it yet: nobody can have replaced them. */
function optionsFor(tree: FileTree, folder: string): CheckOptions {
  const options = checkOptionsOf(configurationOf(tree, folder));
  const { [textLeftover.meta.id]: _, ...settings } = options.settings ?? {};
  return { ...options, settings };
}

function assertParent({ parent, platform, shelves }: NewThemeRequest): void {
  if (parent === undefined) return;
  if (platform.contract.inheritance.kind === 'none')
    throw new UsageError({ what: `themes for ${platform.contract.title} have no parents` });
  const brought = platform.contract.inheritance['built-in'];
  if (shelves.find(parent) !== undefined || brought.includes(parent)) return;
  const ids = [...shelves.list().map((theme) => theme.names.id), ...brought];
  const same = ids.find((id) => id.toLowerCase() === parent.toLowerCase());
  const near = nearest(parent, ids);
  throw new UsageError({
    what: `the parent “${parent}” is in none of the folders of themes (${shelves.shownFolders})`,
    hint:
      same !== undefined
        ? `it is called “${same}”: case counts`
        : near !== undefined
          ? didYouMean(near, '')
          : ids.length > 0
            ? `there are ${listed(ids, 8)}; or name its shelf with --shelf`
            : 'name the shelf that it lies on with --shelf',
  });
}

/** A child's words about its parent: its id, before those that every host brings; and its vendor. */
function parentFacts({ parent, platform, shelves }: NewThemeRequest): Readonly<Record<string, string>> {
  if (parent === undefined) return {};
  const { inheritance } = platform.contract;
  const vendorFact = inheritance['vendor-fact'];
  const vendor = shelves.find(parent)?.names.vendor;
  const fields = platform.contract.documents.flatMap((document) => document.fields);
  const isList = fields.some(({ fact, type }) => fact === inheritance.fact && type === 'list');
  const named = { [inheritance.fact]: [...new Set([parent, ...(isList ? inheritance['built-in'] : [])])].join(',') };
  return vendorFact === undefined || vendor === undefined ? named : { ...named, [vendorFact]: vendor };
}

/** A clone of a kit is not a kit. */
function withoutMarkers(theme: Theme, markers: readonly string[]): Theme {
  const marker = theme.facts.find((fact) => fact.field.marker || markers.includes(fact.name));
  if (marker?.document.source === undefined) return theme;
  const { document, field } = marker;
  const text = applyEdits(marker.document.source.text, removeField(document, keyPath(field)) ?? []);
  const bytes = document.source?.encode(text);
  if (bytes === undefined) return theme;
  return withoutMarkers(new Theme(theme.platform, withFile(theme.tree, document.path, bytes), theme.names, theme.location), markers);
}
