import { baseOf, followLinks, type FileTree } from '../files/file-tree.ts';
import { splitWords } from '../text/spelling.ts';
import { readText } from '../theme/documents.ts';
import type { FullName } from './names.ts';
import type { Place, RemainingPlace } from './rename-tree.ts';

/** A place that still holds the old name and that nobody accounted for. */
export interface Leftover extends Place {
  readonly text: string;
}

/**
 * Looks for the old name in a renamed tree: in every file, file name and link target. It shares no code with the
 * matcher that made the plan (that one uses a pattern; this one walks over the letters), so a mistake of the one does
 * not hide in the other.
 * @returns what is in neither of the lists of places that stay
 */
export function scanForLeftovers(tree: FileTree, from: FullName, to: FullName, staying: readonly RemainingPlace[]): Leftover[] {
  const expected = new Set(staying.filter((place) => place.isName !== true).map((place) => `${place.file}:${place.line}:${place.column}`));
  const keptNames = new Set(staying.filter((place) => place.isName).map((place) => place.file));
  const leftovers: Leftover[] = [];
  const oldWords = splitWords(from.id);
  const newWords = splitWords(to.id);
  for (const entry of tree.entries) {
    const name = baseOf(entry.path);
    if (walk(name, oldWords, newWords).length > 0 && !keptNames.has(entry.path))
      leftovers.push({ file: entry.path, line: 1, column: 1, text: `in its name: ${name}` });
    const target = entry.target ?? '';
    if (!keptNames.has(entry.path) && walk(target, oldWords, newWords).some((start) => !isWordInside(target, start, oldWords))) {
      leftovers.push({ file: entry.path, line: 1, column: 1, text: `in the target of a link: ${target}` });
    }
    if (entry.kind !== 'file') continue;
    const source = readText(tree, entry.path);
    const text = source?.text ?? (followLinks(tree, entry.path) === undefined ? '' : tree.read(entry.path).toString('latin1'));
    for (const start of walk(text, oldWords, newWords)) {
      const { line, column } = source?.positionAt(start) ?? { line: 1, column: start + 1 };
      if (expected.has(`${entry.path}:${line}:${column}`)) continue;
      if (source === undefined && isWordInside(text, start, oldWords)) continue;
      leftovers.push({ file: entry.path, line, column, text: text.slice(Math.max(0, start - 30), start + 50).replace(/\s+/g, ' ') });
    }
  }
  return leftovers;
}

/** Offsets at which the words stand one after another, in any case, with at most one separator between them. */
function walk(text: string, words: readonly string[], newWords: readonly string[]): number[] {
  const lower = foldCase(text);
  const first = words[0] ?? '';
  const found: number[] = [];
  const isOwnPart = newWords.join('').includes(words.join(''));
  for (let start = first === '' ? -1 : lower.indexOf(first); start >= 0; start = lower.indexOf(first, start + 1)) {
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
