import { baseOf } from '../files/file-tree.ts';
import { NameFinder } from '../names/name-finder.ts';
import { wholePattern } from '../names/shape.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { weigh } from '../names/weight.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import { isThirdParty, kindOfPath, type FileKind } from '../text/file-kinds.ts';
import { stretchAround } from '../text/stretch.ts';
import { findDeclarations } from './identifiers.ts';
import type { Theme } from '../theme/theme.ts';

/** What in a theme says a name: its title, names of files, names in its code, and documents that state or carry an id. */
export type NameSign = 'title' | 'files' | 'code' | 'documents';

/** The id that a theme calls itself by, where its folder is called otherwise. */
export interface OwnName {
  readonly id: string;
  readonly signs: readonly NameSign[];
}

/** One sign alone may be chance: a title has words of its own, and files are called after what they hold. */
const DECISIVE = 2;

/**
 * The id by which a theme calls itself, when its folder has another name, as folders have that were downloaded or copied
 * (`albar-main`, `albar (1)`, `my-copy`); undefined when anything in the theme carries the folder's name, or nothing else is sure.
 */
export function ownNameOf(theme: Theme): OwnName | undefined {
  const { id: folder, title } = theme.names;
  if (wordsOf(title ?? '') === wordsOf(folder)) return undefined;
  const stated = statedNames(theme);
  const declared = declaredName(theme);
  const candidates = [...stated, ...(declared === undefined ? [] : [declared]), ...namesOfFolder(folder), title ?? '']
    .map((name) => usableId(name, theme.platform))
    .filter((id) => id !== undefined && wordsOf(id) !== wordsOf(folder) && weigh(id) !== 'common');
  const ids = [...new Map(candidates.map((id) => [wordsOf(id ?? ''), id ?? ''])).values()].filter((id) => !theme.parents.includes(id));
  if (ids.length === 0) return undefined;
  const [own, ...others] = mentionsIn(theme, [folder, ...ids]);
  const judged = ids.flatMap((id, i): OwnName[] => {
    const found = others[i];
    if (own === undefined || found === undefined || isCalledLikeFolder(own, found, startsWith(folder, id))) return [];
    const isStated = [...stated, declared ?? ''].some((each) => wordsOf(each) === wordsOf(id));
    const signs: [NameSign, boolean][] = [
      ['title', wordsOf(title ?? '') === wordsOf(id)],
      ['files', found.files > 0],
      ['code', found.code.size >= DECISIVE],
      ['documents', isStated],
    ];
    return [{ id, signs: signs.flatMap(([sign, isThere]) => (isThere ? [sign] : [])) }];
  });
  const [first] = judged.filter(({ signs }) => signs.length >= DECISIVE).sort((a, b) => b.signs.length - a.signs.length);
  return first;
}

/** How often files are called after a name, and which names in code begin with it. */
interface Mentions {
  files: number;
  readonly code: Set<string>;
}

/**
 * Whether a theme carries its folder’s name. Where that only adds to the other name, `albar-main` may be a class of albar’s: then
 * those that it leads must be most of those that the shorter one leads.
 */
function isCalledLikeFolder(own: Mentions, other: Mentions, isLonger: boolean): boolean {
  if (own.files + own.code.size === 0) return false;
  return !isLonger || other.files + other.code.size < 2 * (own.files + own.code.size) + DECISIVE;
}

function startsWith(folder: string, id: string): boolean {
  const words = splitWords(id);
  return words.every((word, i) => splitWords(folder)[i] === word);
}

/** A name as an id of the platform; undefined when none can be made of it. */
function usableId(name: string, { contract }: Platform): string | undefined {
  if (splitWords(name).length === 0) return undefined;
  const verdict = judgeName(name, contract.id);
  if (verdict === undefined) return name;
  const { spelling } = contract.id;
  const spelt = spell(splitWords(name), spelling === 'free' ? 'kebab' : spelling);
  return judgeName(spelt, contract.id) === undefined ? spelt : verdict.suggestion;
}

/** The name of a folder without the ending that a download or a copy adds. */
function namesOfFolder(folder: string): string[] {
  const words = folder.split(/[^\p{L}\p{N}]+/u).filter((word) => word !== '');
  return words.slice(0, -1).map((_, i) => words.slice(0, i + 1).join('-'));
}

/** Ids that documents state, or that names of documents and of catalogues of translations carry. */
function statedNames(theme: Theme): string[] {
  const { documents, strings } = theme.platform.contract;
  const stated = theme.facts.flatMap(({ name, value }) => (name === 'id' && typeof value === 'string' ? [value] : []));
  const shapes = [...documents.map(({ path }) => path), strings?.file ?? ''].filter((shape) => /\{id\b/.test(shape));
  const carried = shapes.flatMap((shape) => {
    const pattern = wholePattern(shape);
    return theme.tree.entries.flatMap(({ path, kind }) => {
      const id = kind === 'file' ? pattern.exec(path)?.groups?.['id'] : undefined;
      return id === undefined ? [] : [id];
    });
  });
  return [...stated, ...carried];
}

/** The prefixes of the names that the theme's code declares in the space that themes share. */
function declaredName(theme: Theme): string | undefined {
  const names = [...findDeclarations(theme)].filter(({ shapes }) => /^\{id\b/.test(shapes[0] ?? '')).map(({ name }) => splitWords(name));
  const [first = []] = names;
  const shared = first.findIndex((word, i) => names.some((words) => words[i] !== word || words.length === i + 1));
  return names.length < DECISIVE || shared < 1 ? undefined : first.slice(0, shared).join('-');
}

function mentionsIn(theme: Theme, ids: readonly string[]): Mentions[] {
  const searched = ids.map((id) => ({ finder: new NameFinder(id), mentions: { files: 0, code: new Set<string>() } }));
  for (const { path, kind } of theme.tree.entries) {
    for (const { finder, mentions } of searched)
      if (finder.find(baseOf(path)).some(({ start, edges }) => start === 0 && edges !== 'inside-word')) mentions.files += 1;
    if (kind !== 'file' || !CODE.has(kindOfPath(path)) || isThirdParty(path)) continue;
    const text = theme.source(path)?.text ?? '';
    for (const { finder, mentions } of searched) {
      for (const at of finder.isIn(text) ? finder.find(text) : []) {
        const { text: name, start } = stretchAround(text, at, /[\p{L}\p{N}\p{M}_-]/u, 80);
        if (at.edges !== 'inside-word' && name.length > 0 && /^[-_]*$/.test(name.slice(0, at.start - start))) mentions.code.add(name);
      }
    }
  }
  return searched.map(({ mentions }) => mentions);
}

const CODE: ReadonlySet<FileKind> = new Set<FileKind>(['markup', 'stylesheet', 'script', 'code']);

/** Whether files of a theme are called after a name, or its code has names that begin with it. */
export function isNamedIn(theme: Theme, id: string): boolean {
  const [found] = mentionsIn(theme, [id]);
  return found !== undefined && found.files + found.code.size > 0;
}

function wordsOf(name: string): string {
  return splitWords(name).join('');
}
