import { baseOf, UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { splitWords } from '../names/spelling.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { EncodedSieve } from '../text/escapes.ts';
import { decodeText } from './decoded-text.ts';
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
 * @param isClean whether a file is known to hold nothing: its bytes were sieved by {@link LeftoverSieve}, and not changed since
 * @returns what is in neither of the lists of places that stay
 */
export function scanForLeftovers(
  tree: FileTree,
  from: FullName,
  to: FullName,
  staying: readonly RemainingPlace[],
  isClean: (path: string) => boolean = () => false,
): Leftover[] {
  const expected = new ExpectedPlaces(staying);
  const keptNames = new Set(staying.filter((place) => place.isName).map((place) => place.file));
  const leftovers: Leftover[] = [];
  for (const name of oldNames(from, to)) {
    for (const entry of tree.entries) {
      const own = baseOf(entry.path);
      if (walk(own, name).some(({ start, end }) => name.isId || !isWordInside(own, start, end)) && !keptNames.has(entry.path))
        leftovers.push({ file: entry.path, line: 1, column: 1, text: `in its name: ${own}` });
      const target = entry.target ?? '';
      if (!keptNames.has(entry.path) && walk(target, name).some(({ start, end }) => !isWordInside(target, start, end))) {
        leftovers.push({ file: entry.path, line: 1, column: 1, text: `in the target of a link: ${target}` });
      }
      if (entry.kind === 'file' && !isClean(entry.path)) leftovers.push(...scanFile(tree, entry.path, name, expected));
    }
  }
  return leftovers;
}

/** The scan's first look at a file's bytes, for who has them in memory anyway. */
export class LeftoverSieve {
  readonly #names: readonly OldName[];

  constructor(from: FullName, to: FullName) {
    this.#names = oldNames(from, to);
  }

  /**
   * Whether the scan would have to look closer.
   * @param raw the bytes as ISO 8859-1
   * @param isEncoded whether a name that is not written letter by letter may be among them
   */
  mayHold(raw: string, isEncoded: boolean): boolean {
    return (
      isWideText(raw) ||
      this.#names.some(({ sieve, encoded }) => sieve === undefined || sieve.test(raw) || (isEncoded && encoded.test(raw)))
    );
  }
}

/** A name that must be gone, and the one in its place. */
interface OldName {
  /** Its letters and digits, in lower case. */
  readonly letters: string;
  /** Between which of them a word surely ends: the splits of the id, of the title, and where digits begin or end. */
  readonly ends: ReadonlySet<number>;
  readonly newWords: readonly string[];
  /** A coarse sieve for bytes; undefined when its letters are not the same bytes in every encoding. */
  readonly sieve: RegExp | undefined;
  /** The same for one that is not written letter by letter. */
  readonly encoded: EncodedSieve;
  /** Of the id every place is accounted for; of the others not those within longer words. */
  readonly isId: boolean;
}

function oldNames(from: FullName, to: FullName): OldName[] {
  const names: OldName[] = [];
  const add = (old: string | undefined, now: string | undefined): void => {
    const letters = splitWords(old ?? '').join('');
    const isIn = names.some((name) => letters.includes(name.letters));
    if (letters === '' || old === now || isIn) return;
    const isPlain = /^[a-z0-9]+$/.test(letters);
    names.push({
      letters,
      ends: wordEnds(letters, [old ?? '', from.title, from.id]),
      newWords: splitWords(now ?? ''),
      sieve: isPlain ? new RegExp(letters.split('').join('[-_. ]?'), 'i') : undefined,
      encoded: new EncodedSieve(splitWords(old ?? '')),
      isId: old === from.id,
    });
  };
  add(from.id, to.id);
  // With the id, a title of the same words stays as well.
  if (from.id !== to.id || splitWords(from.title).join('') !== splitWords(from.id).join('')) add(from.title, to.title);
  add(from.vendor, to.vendor);
  return names;
}

/** Where the words of a name end, by all texts that say the same letters. */
function wordEnds(letters: string, texts: readonly string[]): ReadonlySet<number> {
  const ends = new Set<number>();
  for (const text of texts) {
    const words = splitWords(text);
    let at = 0;
    if (words.join('') === letters) for (const word of words) ends.add((at += word.length));
  }
  for (let at = 1; at < letters.length; at++) if (isDigit(letters.charAt(at - 1)) !== isDigit(letters.charAt(at))) ends.add(at);
  return ends;
}

function isDigit(sign: string): boolean {
  return /\p{N}/u.test(sign);
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
  const isWide = isWideText(raw);
  // Most files do not hold even the first letters: then nothing needs to be decoded.
  if (!isWide && name.sieve?.test(raw) === false && !name.encoded.test(raw)) return [];
  const source = SourceDocument.decode(path, bytes);
  const text = source?.text ?? raw;
  const leftovers: Leftover[] = [];
  const found = new Set<number>();
  for (const { start, end } of walk(text, name)) {
    const { line, column } = source?.positionAt(start) ?? { line: 1, column: start + 1 };
    found.add(start);
    if (expected.has(path, line, column)) continue;
    if ((source === undefined || !name.isId) && isWordInside(text, start, end)) continue;
    leftovers.push({ file: path, line, column, text: excerpt(text, start) });
  }
  if (source === undefined || !name.encoded.test(raw)) return leftovers;
  const isFlowing = ['prose', 'markup'].includes(kindOfPath(path));
  const decoded = decodeText(text, isFlowing);
  for (const { start, end } of walk(decoded.text, name)) {
    const from = decoded.offsets[start] ?? 0;
    const { line, column } = source.positionAt(from);
    if (found.has(from) || expected.has(path, line, column) || isWordInside(decoded.text, start, end)) continue;
    leftovers.push({ file: path, line, column, text: excerpt(text, from) });
  }
  return leftovers;
}

/** UTF-16: every other byte is a NUL, and the sieve would not see the name. */
function isWideText(raw: string): boolean {
  return /^(?:\xff\xfe|\xfe\xff)/.test(raw);
}

/** A file that is too large for a text, stretch by stretch; its place is told by bytes. */
function scanWindows(tree: FileTree, path: string, name: OldName, expected: ExpectedPlaces): Leftover[] {
  const leftovers: Leftover[] = [];
  try {
    for (const { text, start: base, from, until } of windowsOf(tree, path)) {
      for (const { start, end } of walk(text, name)) {
        const column = base + start + 1;
        if (start < from || start >= until || expected.has(path, 1, column) || isWordInside(text, start, end)) continue;
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

/**
 * The stretches that hold the letters of a name one after another, in any case, with at most one separator between two of
 * them. Where no word is known to end, they must be told apart as code does it, within a longer identifier.
 */
function walk(text: string, { letters, ends, newWords }: OldName): { start: number; end: number }[] {
  const lower = foldCase(text);
  const found: { start: number; end: number }[] = [];
  const isOwnPart = newWords.join('').includes(letters);
  const first = letters.charAt(0);
  for (let start = lower.indexOf(first); start >= 0; start = lower.indexOf(first, start + 1)) {
    const end = endOfLetters(text, lower, start, letters, ends);
    if (end === undefined) continue;
    // A new name that contains the old one (paso → paso2) holds it wherever it stands.
    if (isOwnPart && holdsNewName(lower, start, [letters], newWords)) continue;
    found.push({ start, end });
  }
  return found;
}

/** Where the letters that begin at an offset end; undefined when others stand there, or they are a chance of a sentence. */
function endOfLetters(text: string, lower: string, start: number, letters: string, ends: ReadonlySet<number>): number | undefined {
  let at = start;
  let isGuess = false;
  let piece = 0;
  for (let i = 0; i < letters.length; i++) {
    if (i > 0 && lower.charAt(at) !== letters.charAt(i)) {
      const sign = lower.charAt(at);
      if (sign === '' || !'-_. '.includes(sign)) return undefined;
      if (!ends.has(i)) {
        if (piece < 2 || letters.length - i < 2 || !'-_'.includes(sign)) return undefined;
        isGuess = true;
      }
      piece = 0;
      at++;
    }
    if (lower.charAt(at) !== letters.charAt(i)) return undefined;
    at++;
    piece++;
  }
  return isGuess && !/[-_]/.test(text.charAt(start - 1)) && !/^(?:[-_]\w|[A-Z])/.test(text.slice(at, at + 2)) ? undefined : at;
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

/** Whether letters of the same script go on before or behind a stretch, with no capital that begins a word. */
function isWordInside(text: string, start: number, end: number): boolean {
  const [before, first, last, after] = [start - 1, start, end - 1, end].map((at) => text.charAt(at)) as [string, string, string, string];
  const isLatin = (sign: string): boolean => /[\p{Script=Latin}\p{N}\p{M}]/u.test(sign);
  const isCapital = (sign: string): boolean => sign !== sign.toLowerCase();
  const isBefore = isLatin(before) && !(isCapital(first) && !isCapital(before));
  const isAfter = isLatin(after) && !(isCapital(after) && !isCapital(last));
  return isBefore || isAfter;
}
