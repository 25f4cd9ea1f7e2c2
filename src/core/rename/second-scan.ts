import { baseOf, UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { splitWords } from '../names/spelling.ts';
import { SourceDocument } from '../text/source-document.ts';
import { isTooLargeForText, readBytes, windowsOf } from '../files/read-text.ts';
import type { FullName } from '../names/full-name.ts';
import type { RemainingPlace } from './places.ts';

/** A place that still holds the old name and that nobody accounted for; line and column count from 1. */
export interface Leftover {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly text: string;
}

/**
 * Looks for the old names in a renamed tree: in every file, file name and link target. It shares no code with the
 * matcher that made the plan (that one uses patterns; this one walks over the letters), so a mistake of the one does
 * not hide in the other.
 * @returns what is in neither of the lists of places that stay
 */
export function scanForLeftovers(tree: FileTree, from: FullName, to: FullName, staying: readonly RemainingPlace[]): Leftover[] {
  const expected = new ExpectedPlaces(staying);
  const keptNames = new Set(staying.filter((place) => place.isName).map((place) => place.file));
  const leftovers: Leftover[] = [];
  for (const name of oldNames(from, to)) {
    for (const entry of tree.entries) {
      const own = baseOf(entry.path);
      if (walk(own, name).length > 0 && !keptNames.has(entry.path))
        leftovers.push({ file: entry.path, line: 1, column: 1, text: `in its name: ${own}` });
      const target = entry.target ?? '';
      if (!keptNames.has(entry.path) && walk(target, name).some((start) => !isWordInside(target, start, name.words))) {
        leftovers.push({ file: entry.path, line: 1, column: 1, text: `in the target of a link: ${target}` });
      }
      if (entry.kind === 'file') leftovers.push(...scanFile(tree, entry.path, name, expected));
    }
  }
  return leftovers;
}

/** A name that must be gone, and the one in its place. */
interface OldName {
  readonly words: readonly string[];
  readonly newWords: readonly string[];
  /** Letters that stand in every spelling of it, in lower case, when they are the same bytes in every encoding. */
  readonly root: string | undefined;
}

function oldNames(from: FullName, to: FullName): OldName[] {
  const names: OldName[] = [];
  const add = (old: string | undefined, now: string | undefined): void => {
    const words = splitWords(old ?? '');
    const isIn = names.some((name) => words.join('').includes(name.words.join('')));
    const [root] = words;
    if (root === undefined || old === now || isIn) return;
    names.push({ words, newWords: splitWords(now ?? ''), root: /^[a-z0-9]+$/.test(root) ? root : undefined });
  };
  add(from.id, to.id);
  // With the id, a title of the same words stays as well.
  if (from.id !== to.id || splitWords(from.title).join('') !== splitWords(from.id).join('')) add(from.title, to.title);
  add(from.vendor, to.vendor);
  return names;
}

/** The stretches in which the old name may stay. */
class ExpectedPlaces {
  readonly #byLine = new Map<string, { readonly from: number; readonly to: number }[]>();

  constructor(staying: readonly RemainingPlace[]) {
    for (const { file, line, column, found, isName } of staying) {
      if (isName === true) continue;
      const key = `${file}:${line}`;
      const own = this.#byLine.get(key) ?? [];
      own.push({ from: column, to: column + found.length });
      this.#byLine.set(key, own);
    }
  }

  has(file: string, line: number, column: number): boolean {
    return this.#byLine.get(`${file}:${line}`)?.some(({ from, to }) => from <= column && column < to) ?? false;
  }
}

function scanFile(tree: FileTree, path: string, name: OldName, expected: ExpectedPlaces): Leftover[] {
  if (isTooLargeForText(tree, path)) return scanWindows(tree, path, name, expected);
  const bytes = readBytes(tree, path);
  if (bytes === undefined) return [];
  const raw = bytes.toString('latin1');
  const isWide = /^(?:\xff\xfe|\xfe\xff)/.test(raw);
  // Most files do not hold even the first letters: then nothing needs to be decoded.
  if (!isWide && name.root !== undefined && !raw.toLowerCase().includes(name.root)) return [];
  const source = SourceDocument.decode(path, bytes);
  const text = source?.text ?? raw;
  const leftovers: Leftover[] = [];
  for (const start of walk(text, name)) {
    const { line, column } = source?.positionAt(start) ?? { line: 1, column: start + 1 };
    if (expected.has(path, line, column)) continue;
    if (source === undefined && isWordInside(text, start, name.words)) continue;
    leftovers.push({ file: path, line, column, text: excerpt(text, start) });
  }
  return leftovers;
}

/** A file that is too large for a text, stretch by stretch; its place is told by bytes. */
function scanWindows(tree: FileTree, path: string, name: OldName, expected: ExpectedPlaces): Leftover[] {
  const leftovers: Leftover[] = [];
  try {
    for (const { text, start: base, from, until } of windowsOf(tree, path)) {
      for (const start of walk(text, name)) {
        const column = base + start + 1;
        if (start < from || start >= until || expected.has(path, 1, column) || isWordInside(text, start, name.words)) continue;
        leftovers.push({ file: path, line: 1, column, text: excerpt(text, start) });
      }
    }
  } catch (error) {
    if (!(error instanceof UnreadableFileError)) throw error;
  }
  return leftovers;
}

function excerpt(text: string, start: number): string {
  return text.slice(Math.max(0, start - 30), start + 50).replace(/\s+/g, ' ');
}

/** Offsets at which the words stand one after another, in any case, with at most one separator between them. */
function walk(text: string, { words, newWords }: OldName): number[] {
  const lower = foldCase(text);
  const first = words[0] ?? '';
  const found: number[] = [];
  const isOwnPart = newWords.join('').includes(words.join(''));
  for (let start = lower.indexOf(first); start >= 0; start = lower.indexOf(first, start + 1)) {
    if (!follows(lower, start, words)) continue;
    // A new name that contains the old one (paso → paso2) holds it wherever it stands.
    if (isOwnPart && holdsNewName(lower, start, words, newWords)) continue;
    found.push(start);
  }
  return found;
}

/** Lower case, letter for letter: a text whose length would change (İ) keeps that letter as it is. */
function foldCase(text: string): string {
  const lower = text.toLowerCase();
  return lower.length === text.length
    ? lower
    : Array.from(text, (letter) => (letter.toLowerCase().length === letter.length ? letter.toLowerCase() : letter)).join('');
}

function follows(lower: string, start: number, words: readonly string[]): boolean {
  let at = start;
  for (const [i, word] of words.entries()) {
    if (i > 0 && '-_. '.includes(lower.charAt(at)) && lower.charAt(at) !== '') at++;
    if (!lower.startsWith(word, at)) return false;
    at += word.length;
  }
  return true;
}

function holdsNewName(lower: string, start: number, words: readonly string[], newWords: readonly string[]): boolean {
  const reach = newWords.join('').length + newWords.length;
  for (let at = Math.max(0, start - reach); at <= start; at++) {
    if (follows(lower, at, newWords) && at + reach + words.length > start) return true;
  }
  return false;
}

function isWordInside(text: string, start: number, words: readonly string[]): boolean {
  const end = start + words.join('').length;
  return /\p{L}/u.test(text.charAt(start - 1)) || /\p{Ll}/u.test(text.charAt(end));
}
