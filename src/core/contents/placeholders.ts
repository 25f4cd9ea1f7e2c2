import { baseOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { NameFinder } from '../names/name-finder.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { weigh } from '../names/weight.ts';

/** The meaning of a name in a kit. */
export type StandsFor = 'id' | 'title' | 'vendor' | 'parent';

/** A name in a kit that the new theme's takes the place of. */
export interface KitName {
  /** As it is written: `YOURTHEME`, `%theme%`. */
  readonly text: string;
  readonly stands: StandsFor;
  /** Its words, in lower case; undefined for one between signs, which is found as it is written. */
  readonly words?: readonly string[] | undefined;
  /** Who says that it is one: the platform file or the kit file; else the places that show it. */
  readonly evidence: string;
  /** Whether it needs nobody's word. */
  readonly isSure: boolean;
}

/** The words of which people make placeholders. */
const PARTS = `your my our sub starter kit theme child new name named example sample base parent project machine change me placeholder
  custom slug id title vendor label human site skin template layout`
  .split(/\s+/)
  // The longest first: named before name.
  .toSorted((a, b) => b.length - a.length);
/** Those that say that something is to be replaced. */
const TELLING = new Set(['your', 'my', 'our', 'sub', 'starter', 'example', 'placeholder', 'change', 'machine', 'child', 'name', 'named']);
/** Documents that are written in capitals. */
const DOCUMENT =
  /^(?:readme|licen[cs]e|copying|changelog|changes|authors?|install|notice|todo|news|credits|contributing|security|code_of_conduct)$/i;

/** Puts the letters of a placeholder into words: `YOURTHEME` gives your, theme. Undefined when other words are in it. */
export function placeholderWords(text: string): string[] | undefined {
  const flat = text.toLowerCase().replace(/[-_ .]/g, '');
  const split = (rest: string): string[] | undefined => {
    if (rest === '') return [];
    for (const part of PARTS) {
      const tail = rest.startsWith(part) ? split(rest.slice(part.length)) : undefined;
      if (tail !== undefined) return [part, ...tail];
    }
    return undefined;
  };
  const words = split(flat);
  return words !== undefined && words.length > 1 && words.some((word) => TELLING.has(word)) ? words : undefined;
}

/** A name as a platform file, a kit file or a person states it. */
export function statedName(text: string, evidence: string): KitName {
  const between = TOKEN_ALONE.exec(text);
  const inner = between?.slice(1).find((part) => part !== undefined);
  if (inner !== undefined) return { text, stands: standsFor(inner), evidence, isSure: true };
  const words = placeholderWords(text) ?? text.split(/[^\p{L}\p{N}]+|(?<=\p{Ll})(?=\p{Lu})/u).filter((word) => word !== '');
  return { text, stands: standsFor(words.join('_')), words: words.map((word) => word.toLowerCase()), evidence, isSure: true };
}

function standsFor(word: string): StandsFor {
  const flat = word.toLowerCase();
  if (/title|label|human/.test(flat)) return 'title';
  if (/vendor/.test(flat)) return 'vendor';
  return /parent|base(?!ic)/.test(flat) ? 'parent' : 'id';
}

/** Words between signs that no sentence holds: `{{theme}}`, `%theme%`, `__THEME__`, `@@theme@@`. */
const TOKEN = /\{\{\s*([a-z_]{2,24})\s*\}\}|%([a-z_]{2,24})%|__([a-z]+(?:_[a-z]+)*)__|@@([a-z_]{2,24})@@/gi;
const TOKEN_ALONE = new RegExp(`^(?:${TOKEN.source})$`, 'i');

/** A name that may be one: texts are looked at until one of them says so. */
interface Suspect {
  found: KitName | undefined;
  /** @returns whether it need not be shown more */
  look(path: string, text: string): boolean;
}

/** A search for placeholders: to be shown each text once. None is kept. */
export interface PlaceholderSearch {
  look(path: string, text: string): void;
  /** The placeholders in everything that was shown. */
  found(): KitName[];
}

/**
 * Finds the placeholders of a kit: what stands in file names, or in capitals in texts, and says of itself that it is one.
 * @param documents the paths of its manifests: what stands there between signs is a placeholder, elsewhere it may be a template's
 * @param others names of the parent, the host and the kit itself, which are not placeholders
 */
export function findPlaceholders(tree: FileTree, documents: readonly string[], others: readonly string[]): KitName[] {
  const search = searchPlaceholders(tree, documents, others);
  for (const { path, kind } of tree.entries) {
    const text = kind === 'file' ? readText(tree, path)?.text : undefined;
    if (text !== undefined) search.look(path, text);
  }
  return search.found();
}

/** Begins a {@link findPlaceholders search} for whoever reads the texts anyway. */
export function searchPlaceholders(tree: FileTree, documents: readonly string[], others: readonly string[]): PlaceholderSearch {
  const known = others.map((name) => new NameFinder(name));
  const isNone = (word: string): boolean => DOCUMENT.test(word) || known.some((finder) => finder.isIn(word));
  const names = tree.entries.map(({ path }) => ({ path, text: baseOf(path).replace(/\.[a-z]+$/, '') }));
  const inNames = names.map(({ text }) => text).join('\n');
  const named = names.flatMap(({ path, text }) => [
    ...tokensIn(text, `in the name of ${path}`).map((found): Suspect => ({ found, look: () => true })),
    ...wordsIn(groupsOf(text), '', isNone).map((name) => suspectWords(name, path)),
  ]);
  const leading = leadingWords(names, documents).filter(({ word }) => !isNone(word) && placeholderWords(word) === undefined);
  const inTexts: KitName[] = [];
  const suspects = new Set<Suspect>([...named, ...leading]);
  const look = (path: string, text: string): void => {
    for (const token of tokensIn(text, `in ${path}`))
      if (!token.text.startsWith('{{') || documents.includes(path) || inNames.includes(token.text)) inTexts.push(token);
    const capitals = new Set(text.match(/(?<![A-Za-z0-9])[A-Z]{4,}(?:[_-][A-Z]{2,})*(?![a-z])/g) ?? []);
    inTexts.push(...wordsIn([...capitals].flatMap(groupsOf), `in ${path}`, isNone));
    for (const suspect of suspects) if (suspect.look(path, text)) suspects.delete(suspect);
  };
  return { look, found: () => together([...named.map((each) => each.found), ...inTexts, ...leading.map((each) => each.found)]) };
}

/** Each once, the first to be found; a group of words says more than one of them: my_subtheme, and not subtheme. */
function together(names: readonly (KitName | undefined)[]): KitName[] {
  const found = new Map<string, KitName>();
  for (const name of names) if (name !== undefined && !found.has(keyOf(name))) found.set(keyOf(name), name);
  const all = [...found.values()];
  const isWithin = (a: KitName, b: KitName): boolean =>
    a !== b && ` ${(b.words ?? []).join(' ')} `.includes(` ${(a.words ?? ['\0']).join(' ')} `);
  return all.filter((name) => !all.some((other) => isWithin(name, other)));
}

function keyOf({ words, text }: KitName): string {
  return (words ?? [text]).join(' ');
}

function tokensIn(text: string, evidence: string): KitName[] {
  return [...text.matchAll(TOKEN)].flatMap((match) => {
    const inner = match.slice(1).find((part) => part !== undefined) ?? '';
    return isTokenWord(inner) ? [{ text: match[0], words: undefined, stands: standsFor(inner), evidence, isSure: false }] : [];
  });
}

function wordsIn(groups: readonly string[], evidence: string, isNone: (word: string) => boolean): KitName[] {
  return groups.flatMap((text) => {
    const words = placeholderWords(text);
    return words === undefined || isNone(text) ? [] : [{ text, words, stands: standsFor(words.join('_')), evidence, isSure: false }];
  });
}

/** Words of a file's name: a placeholder when a text holds them, too. */
function suspectWords(name: KitName, file: string): Suspect {
  const finder = new NameFinder((name.words ?? []).join(' '));
  const suspect: Suspect = {
    found: undefined,
    look(path, text) {
      if (finder.isIn(text)) suspect.found = { ...name, evidence: evidenceOf(file, path) };
      return suspect.found !== undefined;
    },
  };
  return suspect;
}

/**
 * Words that no dictionary knows, and that are names all the same: in capitals in a file's name and in a text, or at the head of
 * several files' names and in a manifest, in more than one spelling.
 */
function leadingWords(
  names: readonly { readonly path: string; readonly text: string }[],
  documents: readonly string[],
): (Suspect & { readonly word: string })[] {
  const heads = new Map<string, { readonly file: string; readonly count: number }>();
  const capitals: (Suspect & { readonly word: string })[] = [];
  for (const { path, text } of names) {
    const [head = ''] = text.split(/[-_. ]/);
    if (/^\p{L}{4,}$/u.test(head)) {
      const at = heads.get(head.toLowerCase()) ?? { file: path, count: 0 };
      heads.set(head.toLowerCase(), { ...at, count: at.count + 1 });
    }
    capitals.push(...(text.match(/(?<![A-Za-z])[A-Z]{4,}(?![A-Za-z])/g) ?? []).map((word) => suspectCapitals(word, path)));
  }
  const several = [...heads].filter(([head, { count }]) => count > 1 && weigh(head) === 'distinctive');
  return [...capitals, ...several.map(([head, { file }]) => suspectHead(head, file, documents))];
}

function suspectCapitals(word: string, file: string): Suspect & { readonly word: string } {
  const suspect: ReturnType<typeof suspectCapitals> = {
    word,
    found: undefined,
    look(path, text) {
      if (path !== file && text.includes(word)) suspect.found = wordName(word, evidenceOf(file, path));
      return suspect.found !== undefined;
    },
  };
  return suspect;
}

function suspectHead(head: string, file: string, documents: readonly string[]): Suspect & { readonly word: string } {
  const finder = new NameFinder(head);
  const spellings = new Set<string>();
  let manifest: string | undefined;
  const suspect: ReturnType<typeof suspectHead> = {
    word: head,
    found: undefined,
    look(path, text) {
      const places = finder.find(text);
      if (places.length > 0 && documents.includes(path)) manifest ??= path;
      for (const { edges, text: spelt } of places) if (edges !== 'inside-word') spellings.add(spelt);
      if (manifest !== undefined && spellings.size > 1) suspect.found = wordName(head, evidenceOf(file, manifest));
      return suspect.found !== undefined;
    },
  };
  return suspect;
}

function wordName(word: string, evidence: string): KitName {
  return { text: word, words: splitWords(word), stands: 'id', evidence, isSure: false };
}

function isTokenWord(inner: string): boolean {
  return inner
    .toLowerCase()
    .split('_')
    .every((word) => PARTS.includes(word) || (placeholderWords(word)?.length ?? 0) > 0);
}

/** Every group of up to three words. */
function groupsOf(text: string): string[] {
  const parts = text.split(/([-_. ])/);
  const groups: string[] = [];
  for (let length = 5; length >= 1; length -= 2)
    for (let at = 0; at + length <= parts.length; at += 2)
      if (parts[at] !== '' && parts[at + length - 1] !== '') groups.push(parts.slice(at, at + length).join(''));
  return groups;
}

function evidenceOf(name: string | undefined, text: string): string {
  return name === undefined ? `in ${text}` : `in the name of ${name}, and in ${text}`;
}

/** The name that a placeholder of words is, for who renames it. */
export function fullNameOfWords(words: readonly string[]): { id: string; title: string } {
  return { id: spell(words, 'flat'), title: spell(words, 'title') };
}
