import { baseOf } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import type { FullName } from '../names/full-name.ts';
import { fillShape } from '../names/shape.ts';
import { SplitFinder } from '../names/splits.ts';
import { weigh } from '../names/weight.ts';
import { isTemplate } from '../contents/templates.ts';
import type { Theme } from '../theme/theme.ts';
import { bundledAmong } from './bundled.ts';
import { usedNames } from '../theme/used-entries.ts';
import type { Decisions } from './decisions.ts';
import type { FileGlance } from './glance.ts';
import { listsPackages, packagesNamedIn } from './judges/dependency.ts';
import { thirdParty } from './judges/third-party.ts';
import { findMentions } from './match-text.ts';
import { identifierShapes, prepareMatching, type Matching, type MatchingSetup } from './matching.ts';
import { FileView } from './mention.ts';
import { packageNames, packagesIn } from './open-documents.ts';

export interface RenameRequest {
  readonly theme: Theme;
  /** Where the renamed theme will lie; absolute, left out for what is not written to a disk. */
  readonly root?: string | undefined;
  readonly from: FullName;
  readonly to: FullName;
  /** The name of the theme's folder, where the theme calls itself otherwise: code that names the folder follows it. */
  readonly folder?: string | undefined;
  /** Other themes' ids and titles that may contain the old name. */
  readonly otherThemes: readonly string[];
  /** Texts or files in which the old name stays. */
  readonly keep: readonly string[];
  /** Groups of places, or texts, that are changed although they would stay. */
  readonly include?: readonly string[] | undefined;
  /** The state of a rename that a user began by hand. */
  readonly beginning?: BegunRename | undefined;
  /** Decisions on single places of the old tree. */
  readonly decisions?: Decisions | undefined;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
}

/** A rename that is half done: some of the files are called as before, others as they are to be called. */
export interface BegunRename {
  /** The theme as its old name shows it. */
  readonly former: Theme;
  /** Whether the theme builds on another one that has the old name. */
  readonly isParent: boolean;
  /** The files of that one, when it is there. */
  readonly parentFiles?: readonly string[] | undefined;
}

/** What matching has to know of a rename after the first look at all files; the paths that move come later. */
export function matchingSetup(request: RenameRequest, glances: readonly FileGlance[]): MatchingSetup {
  const setup = setUp(request, glances);
  const first = prepareMatching(setup);
  const { theme } = request;
  return { ...setup, dependencies: packagesOf(theme, glances, first), bundled: bundledIn(theme, glances, first) };
}

function setUp(
  { theme, from, to, folder, otherThemes, keep, include = [], beginning }: RenameRequest,
  glances: readonly FileGlance[],
): MatchingSetup {
  // Without an address: “Albar Hut League <huts@albar.example>”.
  const author = theme.text('author')?.replace(/\s*[<(].*$/, '');
  return {
    from,
    to,
    others: [
      ...otherThemes.map((name) => ({ name, code: 'other-theme' as const })),
      ...(author === undefined ? [] : [{ name: author, code: 'person' as const }]),
    ],
    otherThemes,
    folder,
    author,
    version: theme.text('version'),
    keep,
    include,
    splits: splitsOf(theme, from, glances),
    shapes: identifierShapes(theme.platform, from),
    hostNames: theme.platform.contract['host-names'],
    templates: theme.tree.entries.flatMap(({ kind, path }) => (kind === 'file' && isTemplate(theme, path) ? [path] : [])),
    packages: packagesIn(theme.tree, from),
    usedNames: theme.documents.flatMap(usedNames),
    entryDocuments: theme.documents.flatMap(({ path, contract }) => (contract['used-as'].length > 0 ? [path] : [])),
    bundled: [],
    dependencies: [],
    moved: [],
    staying: [],
    parentFiles: beginning?.parentFiles ?? [],
    isParent: beginning?.isParent === true,
    isBegun: beginning !== undefined,
    files: beginning === undefined && weigh(from.id, otherThemes) === 'distinctive' ? [] : theme.tree.entries.map(({ path }) => path),
    home: homeOf(theme, from),
    binaryPaths: glances.flatMap((each) => each.paths).filter((path) => theme.tree.get(path.replace(/^[./]+/, '')) === undefined),
  };
}

/** Files that are called like the theme, and whose banner names another owner. */
export function foreignFiles({ tree }: Theme, glances: readonly FileGlance[], matching: Matching): ReadonlySet<string> {
  const called = glances.filter(({ path, holds }) => holds === 'hit' && matching.pairs.some(({ finder }) => finder.isIn(baseOf(path))));
  const sources = called.flatMap(({ path }) => readText(tree, path) ?? []);
  const foreign = sources.filter((source) => thirdParty.judgeFile?.(new FileView(source, source.text, matching)) === true);
  return new Set(foreign.map(({ file }) => file));
}

/** The packages of others whose names hold the old one, as lists and lock files name them. */
function packagesOf({ tree }: Theme, glances: readonly FileGlance[], matching: Matching): string[] {
  const lists = glances.filter(({ path, holds }) => holds === 'hit' && listsPackages(path));
  const names = lists.flatMap(({ path }) => {
    const source = readText(tree, path);
    return source === undefined ? [] : packagesNamedIn(new FileView(source, source.text, matching), findMentions(source, matching));
  });
  if (names.length === 0) return [];
  const own = packageNames(tree);
  return [...new Set(names)].filter((name) => !own.has(name)).sort();
}

function bundledIn({ tree }: Theme, glances: readonly FileGlance[], matching: Matching): string[] {
  const hits = glances.flatMap(({ path, holds }) => (holds === 'hit' ? [path] : []));
  return bundledAmong(tree, hits, matching);
}

/** Where the host keeps the theme, when that is more than its own name. */
function homeOf({ platform }: Theme, from: FullName): string | undefined {
  const home = fillShape(platform.contract.home, from);
  return home.includes('/') ? home : undefined;
}

/** How the theme's files and their names take the id apart. */
function splitsOf({ tree }: Theme, from: FullName, glances: readonly FileGlance[]): string[] {
  const names = new SplitFinder(from.id).find(tree.entries.map(({ path }) => path).join('\n'));
  return [...new Set([...names, ...glances.flatMap((each) => each.splits)])].sort();
}
