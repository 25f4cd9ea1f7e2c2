import { baseOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { NameFinder } from '../names/name-finder.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { weigh } from '../names/weight.ts';

/** What a name in a kit stands for. */
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

/**
 * Finds the placeholders of a kit: what stands in file names, or in capitals in texts, and says of itself that it is one.
 * @param documents the paths of its manifests: what stands there between signs is a placeholder, elsewhere it may be a template's
 * @param others names of the parent, the host and the kit itself, which are none
 */
export function findPlaceholders(tree: FileTree, documents: readonly string[], others: readonly string[]): KitName[] {
  const found = new Map<string, KitName>();
  const known = others.map((name) => new NameFinder(name));
  const texts = tree.entries.flatMap(({ path, kind }) => {
    const text = kind === 'file' ? readText(tree, path)?.text : undefined;
    return text === undefined ? [] : [{ path, text }];
  });
  const names = tree.entries.map(({ path }) => ({ path, text: baseOf(path).replace(/\.[a-z]+$/, '') }));
  const add = (text: string, words: readonly string[] | undefined, stands: StandsFor, where: string): void => {
    const key = (words ?? [text]).join(' ');
    if (!found.has(key)) found.set(key, { text, words, stands, evidence: where, isSure: false });
  };
  const inNames = names.map(({ text }) => text).join('\n');
  const places = [...names.map((name) => ({ ...name, isName: true })), ...texts.map((each) => ({ ...each, isName: false }))];
  for (const { path, text, isName } of places) {
    for (const match of text.matchAll(TOKEN)) {
      const inner = match.slice(1).find((part) => part !== undefined) ?? '';
      const isPlain = match[0].startsWith('{{') && !isName && !documents.includes(path) && !inNames.includes(match[0]);
      if (!isPlain && isTokenWord(inner)) add(match[0], undefined, standsFor(inner), `in ${isName ? 'the name of ' : ''}${path}`);
    }
    for (const word of candidates(text, isName)) {
      const words = placeholderWords(word);
      if (words === undefined || DOCUMENT.test(word) || known.some((finder) => finder.isIn(word))) continue;
      const finder = new NameFinder(words.join(' '));
      const user = texts.find((each) => finder.isIn(each.text));
      if (user !== undefined || !isName)
        add(word, words, standsFor(words.join('_')), evidenceOf(isName ? path : undefined, user?.path ?? path));
    }
  }
  for (const [word, where] of leadingWords(names, texts, documents)) {
    if (!DOCUMENT.test(word) && !known.some((finder) => finder.isIn(word)) && placeholderWords(word) === undefined)
      add(word, splitWords(word), 'id', where);
  }
  const all = [...found.values()];
  // A group of words says more than one of them: my_subtheme, and not subtheme.
  const isWithin = (a: KitName, b: KitName): boolean =>
    a !== b && ` ${(b.words ?? []).join(' ')} `.includes(` ${(a.words ?? ['\0']).join(' ')} `);
  return all.filter((name) => !all.some((other) => isWithin(name, other)));
}

/**
 * Words that no dictionary knows, and that are names all the same: in capitals in a file's name and in a text, or at the head of
 * several files' names and in a manifest, in more than one spelling.
 */
function* leadingWords(
  names: readonly { readonly path: string; readonly text: string }[],
  texts: readonly { readonly path: string; readonly text: string }[],
  documents: readonly string[],
): Generator<[word: string, evidence: string]> {
  const heads = new Map<string, string[]>();
  for (const { path, text } of names) {
    const [head = ''] = text.split(/[-_. ]/);
    if (/^\p{L}{4,}$/u.test(head)) heads.set(head.toLowerCase(), [...(heads.get(head.toLowerCase()) ?? []), path]);
    for (const word of text.match(/(?<![A-Za-z])[A-Z]{4,}(?![A-Za-z])/g) ?? []) {
      const user = texts.find((each) => each.path !== path && each.text.includes(word));
      if (user !== undefined) yield [word, evidenceOf(path, user.path)];
    }
  }
  for (const [head, paths] of heads) {
    if (paths.length < 2 || weigh(head) !== 'distinctive') continue;
    const finder = new NameFinder(head);
    const manifest = texts.find(({ path, text }) => documents.includes(path) && finder.isIn(text));
    const spellings = new Set(
      texts.flatMap(({ text }) =>
        finder
          .find(text)
          .filter(({ edges }) => edges !== 'inside-word')
          .map((each) => each.text),
      ),
    );
    if (manifest !== undefined && spellings.size > 1) yield [head, evidenceOf(paths[0], manifest.path)];
  }
}

function isTokenWord(inner: string): boolean {
  return inner
    .toLowerCase()
    .split('_')
    .every((word) => PARTS.includes(word) || (placeholderWords(word)?.length ?? 0) > 0);
}

/** Of a file's name every group of its words; of a text those in capitals. */
function candidates(text: string, isName: boolean): string[] {
  if (!isName) return [...new Set(text.match(/(?<![A-Za-z0-9])[A-Z]{4,}(?:[_-][A-Z]{2,})*(?![a-z])/g) ?? [])].flatMap(groupsOf);
  return groupsOf(text);
}

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
