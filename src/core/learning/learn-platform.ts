import { compareText, type FileTree } from '../files/file-tree.ts';
import { matchesGlob } from '../files/glob.ts';
import { factName } from './fact-names.ts';
import { learnDocuments, GENERIC } from './learn-documents.ts';
import { isBeside, learnFiles, learnFolders, learnHostFiles, learnImages, learnLeaveOut, learnMainSheet } from './learn-files.ts';
import { globOfShape } from './id-shapes.ts';
import { learnAssets } from './learn-assets.ts';
import { learnBundles } from './learn-bundles.ts';
import { learnIdentifiers } from './learn-identifiers.ts';
import { learnRegions } from './learn-regions.ts';
import { learnStrings } from './learn-strings.ts';
import { learnTemplates } from './learn-templates.ts';
import type { Learned, LearnedDocument, LearnedField, LearnedParents, LearnedTemplates, Mark } from './learned.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';
import { split } from './values.ts';
import { plainValue, findEntry } from '../documents/syntax.ts';
import { canBeDocument, readsOf } from './readers.ts';

const GRAMMARS = [
  { pattern: '^[a-z][a-z0-9-]*$', grammar: 'a lower-case letter, then lower-case letters, digits or hyphens', spelling: 'kebab' },
  { pattern: '^[a-z][a-z0-9_]*$', grammar: 'a lower-case letter, then lower-case letters, digits or underscores', spelling: 'snake' },
  { pattern: '^[A-Z][A-Za-z0-9]*$', grammar: 'a capital, then letters or digits', spelling: 'pascal' },
  { pattern: '^[A-Za-z0-9][A-Za-z0-9._-]*$', grammar: 'letters, digits, dots, hyphens and underscores', spelling: 'free' },
  { pattern: '^[^/\\\\]+$', grammar: 'a folder’s name', spelling: 'free' },
] as const;

/**
 * What nearly all themes of a set have in common, as a platform file says it.
 * @param manifest the path of the document that is the manifest, where you know it
 * @param strangers themes of other hosts, and folders of other things: the marks must not fit them
 */
export function learnPlatform(themes: readonly SampleTheme[], manifest?: string, strangers: readonly FileTree[] = []): Learned {
  const set = new ThemeSet(themes);
  const documents = withOwnFacts(learnDocuments(set, manifest));
  const named = namedParents(set, documents);
  const templates = learnTemplates(set, named?.strangers);
  const images = learnImages(set);
  const pages = templates?.roles ?? [];
  const regions = learnRegions(set, documents, templates);
  const bundles = learnBundles(set, documents);
  const known = new Set([...documents.map(({ path }) => path), ...images.map(({ path }) => path), ...pages.map(({ file }) => file)]);
  const files = learnFiles(set, known);
  const strings = learnStrings(set);
  const identifiers = learnIdentifiers(set);
  const hostFiles = learnHostFiles(set);
  const spoken = [
    ...known,
    ...files.map(({ path }) => path),
    ...(templates?.files ?? []).map(({ glob }) => glob),
    ...(strings === undefined ? [] : [strings.file]),
    ...identifiers.flatMap((each) => each.files),
    ...(hostFiles?.globs ?? []),
  ];
  const sheet = learnMainSheet(set);
  const assets = learnAssets(set);
  const fitting = GRAMMARS.find(({ pattern }) => set.themes.every(({ id }) => new RegExp(pattern).test(id))) ?? GRAMMARS[4];
  // Few ids do not tell what others may hold.
  const grammar = set.size < TELLING && fitting !== GRAMMARS[4] ? { ...GRAMMARS[3], spelling: fitting.spelling } : fitting;
  return {
    ids: set.themes.map(({ id }) => id),
    middle: middleOf(set),
    releases: releasesOf(set, documents),
    grammar,
    marks: marksFor(set, documents, templates, strangers),
    documents,
    files: [...files, ...learnFolders(set, spoken)],
    images,
    templates,
    mainSheet: sheet === undefined ? undefined : { path: sheet.path, seen: { count: sheet.count, of: set.size } },
    parents: named === undefined ? undefined : parentsOf(named, assets.missing),
    leaveOut: learnLeaveOut(set),
    assets,
    regions,
    bundles,
    identifiers,
    strings,
    hostFiles,
  };
}

/** The theme that has most of what others have, and is of middling size: the best to begin another from. */
function middleOf(set: ThemeSet): string {
  const common = set.commonShapes(0.5).map(({ shape }) => shape);
  const sizes = set.themes.map(({ tree }) => tree.entries.length).sort((a, b) => a - b);
  const median = sizes[Math.floor(sizes.length / 2)] ?? 0;
  const ranked = set.themes.map((theme) => ({
    id: theme.id,
    has: common.filter((shape) => set.shapes(theme).has(shape)).length,
    off: Math.abs(theme.tree.entries.length - median),
  }));
  return ranked.sort((a, b) => b.has - a.has || a.off - b.off)[0]?.id ?? '';
}

/** Of several documents the likeliest manifest says what the theme is; what others say has names of its own, but for the id. */
function withOwnFacts(documents: readonly LearnedDocument[]): LearnedDocument[] {
  const taken = new Set<string>();
  for (const { path, fields } of documents)
    for (const field of fields) {
      if (field.type !== 'id' && taken.has(field.fact)) field.fact = factName([path.replace(/[{}]/g, ''), ...field.key]);
      taken.add(field.fact);
    }
  return [...documents];
}

/** The releases of the host that the themes' own ranges name. */
function releasesOf(set: ThemeSet, documents: readonly LearnedDocument[]): string[] {
  for (const document of documents) {
    const field = document.fields.find(({ fact, type }) => fact === 'hosts' && type === 'range');
    if (field === undefined) continue;
    const named = [...valuesOf(set, document, field.key).values()].flatMap(rangeIn);
    return [...new Set(named)].sort((a, b) => Number(a) - Number(b));
  }
  return [];
}

function rangeIn(value: unknown): string[] {
  return typeof value === 'string' ? (value.match(/\d+(?:\.\d+)?/g) ?? []) : [];
}

/** The values of a key in the themes' documents, as plain values; undefined where a theme has none. */
function valuesOf(set: ThemeSet, document: LearnedDocument, key: readonly string[]): ReadonlyMap<string, unknown> {
  return new Map(
    readsOf(set, document).map(({ theme, root }) => {
      const node = findEntry(root, key)?.value;
      return [theme.id, node === undefined ? undefined : plainValue(node)];
    }),
  );
}

/** The field that names parents, and those that each theme names. */
interface NamedParents {
  readonly field: LearnedField;
  readonly byTheme: ReadonlyMap<string, readonly string[]>;
  /** Those that are nowhere among the themes: the host brings them, or people install them first. */
  readonly strangers: readonly string[];
}

function namedParents(set: ThemeSet, documents: readonly LearnedDocument[]): NamedParents | undefined {
  for (const document of documents) {
    const field = document.fields.find(({ fact, type, of }) => fact === 'parent' && (type === 'parent' || of === 'parent'));
    if (field === undefined) continue;
    const byTheme = new Map(
      [...valuesOf(set, document, field.key)].map(([id, plain]) => [
        id,
        Array.isArray(plain) ? plain.map(String) : typeof plain === 'string' ? split(plain, field.separator ?? '\n') : [],
      ]),
    );
    // A name in the wrong case is a mistake, and no theme of the host's own.
    const ids = new Set([...set.ids].map((id) => id.toLowerCase()));
    const strangers = [...new Set([...byTheme.values()].flat())].filter((name) => !ids.has(name.toLowerCase())).sort(compareText);
    return { field, byTheme, strangers };
  }
  return undefined;
}

/** The parents that the host has itself, and what they serve: the files that their children ask for and do not have. */
function parentsOf({ field, byTheme, strangers }: NamedParents, missing: ReadonlyMap<string, readonly string[]>): LearnedParents {
  const none = strangers.find((name) => /^(?:none|null|false)$/i.test(name));
  if (none !== undefined) field.none = none;
  const builtIn = strangers.filter((name) => name !== none);
  const serves = new Map<string, Set<string>>();
  for (const [id, names] of byTheme)
    for (const parent of names.filter((name) => builtIn.includes(name)))
      for (const path of missing.get(id) ?? []) serves.set(parent, (serves.get(parent) ?? new Set()).add(path));
  return { builtIn, serves, seen: field.seen };
}

const MOST_MARKS = 3;
/** Fewer themes than this share a key by chance. */
const TELLING = 8;

/** Marks that all themes have and that, put together, no stranger has: the manifest with a text that all hold, then where templates are. */
function marksFor(
  set: ThemeSet,
  documents: readonly LearnedDocument[],
  templates: LearnedTemplates | undefined,
  strangers: readonly FileTree[],
): readonly Mark[] {
  const nearlyAll = (mark: Mark): boolean => ThemeSet.isNearlyAll(set.themes.filter(({ tree }) => hasMark(tree, mark)).length, set.size);
  const manifests = documents.filter(({ required }) => required || set.size === 1);
  const plain = manifests.flatMap((document): Mark[] => {
    const path = globOfShape(document.path);
    const holds = heldBy(set, document);
    // A text that a file must hold is one thing more that a theme may lack: only where the file alone fits others, too, it is worth it.
    const isNeeded = holds?.startsWith('[') === true || strangers.some((tree) => hasMark(tree, { path }));
    return (isNeeded ? [{ path, holds }, { path }] : [{ path }]).filter((mark) => nearlyAll(mark)).slice(0, 1);
  });
  const own = plain.toSorted((a, b) => Number(GENERIC.test(a.path)) - Number(GENERIC.test(b.path)));
  const folders = new Set((templates?.files ?? []).flatMap(({ glob }) => (glob.includes('/') ? [glob.split('/', 1)[0] ?? ''] : [])));
  const globs = [
    ...(templates?.files ?? []).map(({ glob }) => ({ path: glob })),
    ...[...folders].map((folder) => ({ path: `${folder}/**` })),
  ];
  const common = set.commonShapes(0.9).filter(({ shape }) => !isBeside(shape));
  const texts = common.filter(({ shape }) => canBeDocument(shape)).map(({ shape }) => ({ path: globOfShape(shape) }));
  const atTop = (mark: Mark): boolean => !mark.path.includes('/');
  // Where themes have no text in common, a picture or what a folder is called must do.
  const others = [...common.map(({ shape }) => globOfShape(shape)), ...foldersIn(set).map((folder) => `${folder}/*`)].map((path) => ({
    path,
  }));
  const candidates = [
    ...own,
    ...texts.filter((mark) => atTop(mark)),
    ...globs,
    ...texts.filter((mark) => !atTop(mark)),
    ...others.filter((mark) => !atTop(mark)),
  ].filter((mark) => nearlyAll(mark));
  const [first] = candidates;
  if (first === undefined) return [];
  const chosen = [first];
  const fitting = (marks: readonly Mark[]): number => strangers.filter((tree) => marks.every((mark) => hasMark(tree, mark))).length;
  for (const mark of candidates.slice(1)) {
    if (fitting(chosen) === 0 || chosen.length === MOST_MARKS) break;
    const isTold = chosen.every(({ path }) => path !== mark.path) && set.themes.every(({ tree }) => hasMark(tree, mark));
    if (isTold && fitting([...chosen, mark]) < fitting(chosen)) chosen.push(mark);
  }
  return chosen;
}

/** The folders at the top that nearly all themes have. */
function foldersIn(set: ThemeSet): string[] {
  return [...set.topFolders()].flatMap(([folder, count]) => (ThemeSet.isNearlyAll(count, set.size) ? [folder] : [])).sort(compareText);
}

function hasMark(tree: FileTree, { path, holds }: Mark): boolean {
  const files = path.includes('*') ? tree.entries.map((entry) => entry.path).filter((each) => matchesGlob(each, path)) : [path];
  return files.some((each) => {
    if (tree.get(each)?.kind !== 'file') return false;
    try {
      return holds === undefined || tree.read(each).includes(holds);
    } catch {
      return false;
    }
  });
}

/** A line of the manifest that all have, and that says most: a section, else the key that the fewest other hosts have. */
function heldBy(set: ThemeSet, { path, fields }: LearnedDocument): string | undefined {
  const texts = set.themes.flatMap((theme) => {
    const own = set.shapes(theme).get(path);
    return own === undefined ? [] : (set.text(theme, own) ?? []);
  });
  const all = (text: string): boolean => ThemeSet.isNearlyAll(texts.filter((each) => each.includes(text)).length, texts.length);
  const sections = [...new Set(fields.flatMap(({ key }) => (key.length > 1 && key[0] !== '*' ? [key[0] ?? ''] : [])))];
  const section = sections.map((name) => `[${name}]`).find((text) => all(text));
  if (section !== undefined) return section;
  // In few themes a key that all have may be chance.
  if (set.size < TELLING && set.size > 1 && !GENERIC.test(path)) return undefined;
  const required = fields.filter((field) => field.required && field.key.length === 1).map(({ key }) => key[0] ?? '');
  const telling = required.filter(
    (key) => !/^(?:name|version|description|license|author|title|id|homepage|keywords|repository|main|type)$/i.test(key),
  );
  const key = [...telling, ...required].find((each) => all(each));
  return key === undefined || key.length < 3 ? undefined : key;
}
