import { baseOf, isInFolder } from '../files/file-tree.ts';
import type { Platform } from '../platform/platform.ts';
import { shapePattern } from '../names/shape.ts';
import { Wildcard } from '../text/wildcard.ts';
import type { TextRange } from '../text/edits.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { KeptByWish, OtherNames } from './kept.ts';
import { MovedPaths, StayingNames } from './moved-paths.ts';
import { spokenId, type FullName } from '../names/full-name.ts';
import { EncodedFinder } from '../names/encoded-finder.ts';
import { NameFinder, spellingOf, type Occurrence } from '../names/name-finder.ts';
import type { Renaming } from './respell.ts';
import { weigh, type Weight } from '../names/weight.ts';
import { KEPT_GROUPS, type KeptGroup, type Reason, type ReasonCode } from './reason.ts';

/** All that matching needs to know of a rename, as plain data: it can be sent to another thread. */
export interface MatchingSetup {
  readonly from: FullName;
  readonly to: FullName;
  /** Names that may contain the old one and stay: other themes', people's. */
  readonly others: readonly { readonly name: string; readonly code: ReasonCode }[];
  /** The name of the theme's folder, where the theme calls itself otherwise. */
  readonly folder: string | undefined;
  /** The ids and titles among them that are other themes'. */
  readonly otherThemes: readonly string[];
  /** Who made the theme: a name that equals the theme's is ambiguous in prose. */
  readonly author: string | undefined;
  /** The theme's version. */
  readonly version: string | undefined;
  /** Texts or files in which the old name stays. */
  readonly keep: readonly string[];
  /** Groups of {@link KEPT_GROUPS} that are changed as well, `unsure`, or texts whose unsure places are. */
  readonly include: readonly string[];
  /** How else than by its own words the theme’s identifiers take the id apart. */
  readonly splits: readonly string[];
  /** Shapes of identifiers that prove the name, as sources of patterns. */
  readonly shapes: readonly string[];
  /** Identifiers that the host owns, with `*`. */
  readonly hostNames: readonly string[];
  /** Files that the platform says are templates, whatever they end with. */
  readonly templates: readonly string[];
  /** What files call entries of the theme’s documents, and the entries. */
  readonly usedNames: readonly (readonly [used: string, entry: string])[];
  /** The documents that these entries stand in. */
  readonly entryDocuments: readonly string[];
  /** Packages of others that the theme depends on, whose names hold the old one. */
  readonly dependencies: readonly string[];
  /** Files that belong to a set of files of others. */
  readonly bundled: readonly string[];
  /** Folders that are packages of their own, of another name. */
  readonly packages: readonly string[];
  /** Paths of files and folders that get another name. */
  readonly moved: readonly (readonly [from: string, to: string])[];
  /** Names of files that hold the old name and keep it, for whatever reason. */
  readonly staying: readonly { readonly path: string; readonly kind: 'kept' | 'unsure'; readonly reason: Reason }[];
  /** Whether another theme that has the old name is declared as a parent, and its files: what refers to them stays. */
  readonly isParent: boolean;
  /** Whether a user began the rename by hand: the new name is there too, and may be misspelled. */
  readonly isBegun: boolean;
  readonly parentFiles: readonly string[];
  /** All paths of the tree, where the name does not say enough by itself: an address that leads to one proves it. */
  readonly files: readonly string[];
  /** Where the host keeps the theme, when that is more than its name: `themes/albar`. */
  readonly home: string | undefined;
  /** Stretches of binaries that look like paths and hold the old name. */
  readonly binaryPaths: readonly string[];
}

/** One of the theme's names, and what takes its place. */
export interface NamePair extends Renaming {
  readonly sort: 'id' | 'title' | 'vendor';
  readonly finder: NameFinder;
  /** Finds it where it is not written letter by letter. */
  readonly encoded: EncodedFinder;
  readonly weight: Weight;
  /** `exact`: only where it is written just so; `apart`: only where its words are told apart. */
  readonly spellings: 'all' | 'exact' | 'apart';
  /** Whether a person or an organization has the same name. */
  readonly isPersons: boolean;
}

/** A rename prepared for matching. */
export interface Matching {
  readonly pairs: readonly NamePair[];
  readonly others: OtherNames;
  readonly moved: MovedPaths;
  readonly staying: StayingNames;
  readonly files: ReadonlySet<string>;
  readonly parentFiles: ReadonlySet<string>;
  /** Whether an identifier, or what it begins with, was proven elsewhere. */
  isProven(identifier: string): boolean;
  readonly home: string | undefined;
  readonly keep: KeptByWish;
  readonly include: ReadonlySet<string>;
  readonly shapes: readonly RegExp[];
  readonly hostNames: readonly Wildcard[];
  /** Those with points in them, such as modules of the host. */
  readonly hostPaths: readonly Wildcard[];
  readonly templates: ReadonlySet<string>;
  /** The entry of one of the theme’s documents that an identifier asks for. */
  readonly usedNames: ReadonlyMap<string, string>;
  readonly entries: ReadonlySet<string>;
  readonly entryDocuments: ReadonlySet<string>;
  readonly packages: ReadonlySet<string>;
  /** Whether a file of that name is in the theme, also where it is named by another ending than it has. */
  hasFileCalled(name: string): boolean;
  /** Files that belong to a set of files of others. */
  readonly bundled: ReadonlySet<string>;
  /** Whether a file lies in a package of another name. */
  isInPackage(path: string): boolean;
  /** The new name, where it may be there already in spellings that code does not take. */
  readonly begun: string | undefined;
  /** The vendor, where it stays; undefined when it changes, or none is known. */
  readonly vendor: string | undefined;
  /** Who made the theme, without an address; '' when nobody is named. */
  readonly author: string;
  readonly version: string | undefined;
  /** Whether the user wants an unsure place changed. */
  includes(text: string, at: TextRange): boolean;
  isOnlyInBinary(address: string): boolean;
}

export function prepareMatching(setup: MatchingSetup): Matching {
  const { from, include } = setup;
  const wanted = new KeptByWish(include.filter((each) => each !== 'unsure' && !isKeptGroup(each)));
  const moved = new MovedPaths(
    setup.moved,
    setup.staying.map(({ path }) => baseOf(path)),
  );
  const staying = new StayingNames(setup.staying);
  const binaryPaths = setup.binaryPaths.map((path) => path.toLowerCase());
  return {
    pairs: namePairs(setup),
    others: new OtherNames(from.id, setup.others),
    moved,
    staying,
    hasFileCalled: (name) => moved.isName(name) || moved.isStem(name.split('.', 1)[0] ?? name) || staying.isName(name),
    files: new Set(setup.files),
    parentFiles: new Set(setup.parentFiles),
    home: setup.home,
    keep: new KeptByWish(setup.keep),
    include: new Set(include),
    shapes: setup.shapes.map((source) => new RegExp(source, 'g')),
    templates: new Set(setup.templates),
    usedNames: new Map(setup.usedNames),
    entries: new Set(setup.usedNames.map(([, entry]) => entry)),
    entryDocuments: new Set(setup.entryDocuments),
    packages: new Set(setup.dependencies),
    bundled: new Set(setup.bundled),
    isInPackage: (path) => setup.packages.some((folder) => isInFolder(path, folder)),
    version: setup.version,
    begun: setup.isBegun ? setup.to.id : undefined,
    vendor: setup.from.vendor === setup.to.vendor ? setup.from.vendor : undefined,
    author: setup.author ?? '',
    hostNames: setup.hostNames.filter((name) => !name.includes('.')).map((name) => new Wildcard(name, /[^\w-]/)),
    hostPaths: setup.hostNames.filter((name) => name.includes('.')).map((name) => new Wildcard(name, /[^\w.-]/)),
    includes: (text, { start, end }) =>
      include.includes('unsure') || wanted.find('', text).some((stretch) => stretch.start <= start && end <= stretch.end),
    ...provenBy(new Set()),
    isOnlyInBinary: (address) => {
      const path = address.toLowerCase().replace(/^[./]+/, '');
      return binaryPaths.some((each) => each.includes(path));
    },
  };
}

/** Whether an occurrence is spelled as its pair wants it. */
export function isWanted({ spellings, from }: NamePair, occurrence: Occurrence): boolean {
  if (spellings === 'all') return true;
  if (spellings === 'exact') return occurrence.edges === 'free' && occurrence.text === from;
  const { separator, letters } = occurrence;
  return spellingOf(occurrence) !== undefined && (separator !== '' || letters === 'capitals' || letters === 'camel');
}

/** Identifiers longer than the name that some place proved to be the theme's. */
export function provenBy(proven: ReadonlySet<string>): Pick<Matching, 'isProven'> {
  return { isProven: (identifier) => proven.size > 0 && headsOf(identifier).some((head) => proven.has(head)) };
}

/** An identifier, and what it begins with up to each of its joints: `core_menu_item` gives `core_menu_item` and `core_menu`. */
function headsOf(identifier: string): string[] {
  return [identifier, ...[...identifier.matchAll(/[-_]|(?<=[a-z\d])(?=[A-Z])/g)].map((joint) => identifier.slice(0, joint.index))];
}

export function isKeptGroup(name: string): name is KeptGroup {
  return (KEPT_GROUPS as readonly string[]).includes(name);
}

function namePairs({ from, to, folder, author, otherThemes, splits, isParent }: MatchingSetup): NamePair[] {
  // Where a parent has the same name, a word alone can mean either.
  const weightOf = (name: string): Weight => {
    const weight = weigh(name, otherThemes);
    return isParent && weight === 'distinctive' ? 'part' : weight;
  };
  const isPersons = (name: string): boolean => author !== undefined && flat(author) === flat(name);
  const pair = (sort: NamePair['sort'], old: string, now: string, spellings: NamePair['spellings'] = 'all'): NamePair => ({
    sort,
    from: old,
    to: now,
    fromTitle: sort === 'id' ? from.title : undefined,
    toTitle: sort === 'id' ? to.title : undefined,
    toWords: sort === 'id' ? splitWords(spokenId(to)) : undefined,
    finder: new NameFinder(sort === 'id' ? spokenId(from) : old),
    encoded: new EncodedFinder(sort === 'id' ? spokenId(from) : old),
    weight: sort === 'vendor' ? 'short' : weightOf(old),
    spellings,
    isPersons: sort === 'vendor' || isPersons(old),
  });
  const pairs: NamePair[] = [];
  const isRenamed = from.id !== to.id;
  const isOwnTitle = flat(from.title) !== flat(from.id);
  // A title that is no more than the id's words is found with the id.
  if (from.title !== to.title && flat(from.title) !== '' && (isOwnTitle || !isRenamed))
    pairs.push(pair('title', from.title, to.title, isOwnTitle ? 'all' : 'exact'));
  // A folder's name that holds the theme's is found whole.
  if (isRenamed && folder !== undefined && flat(folder) !== flat(from.id) && new NameFinder(from.id).isIn(folder))
    pairs.push({ ...pair('id', folder, to.id), finder: new NameFinder(folder), encoded: new EncodedFinder(folder) });
  const own = splitWords(spokenId(from)).join(' ');
  for (const split of isRenamed ? splits : [])
    if (split !== own)
      pairs.push({ ...pair('id', from.id, to.id, 'apart'), finder: new NameFinder(split), encoded: new EncodedFinder(split) });
  if (isRenamed) pairs.push(pair('id', from.id, to.id));
  const { vendor } = from;
  if (vendor !== undefined && to.vendor !== undefined && vendor !== to.vendor && flat(vendor) !== flat(from.id))
    pairs.push(pair('vendor', vendor, to.vendor));
  return pairs;
}

function flat(name: string): string {
  return spell(splitWords(name), 'flat');
}

/** The identifiers that a platform's shapes give to a theme: whoever finds one has found the theme's name. */
export function identifierShapes(platform: Platform, name: FullName): string[] {
  const shapes = platform.contract.identifiers.flatMap(({ shape }) => shape);
  return shapes.map((shape) => shapePattern(shape, name, '').source.replace(/\(\?<\w+>/g, '(?:'));
}
