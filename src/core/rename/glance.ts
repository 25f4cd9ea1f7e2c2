import { UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { isTooLargeForText, readBytes, windowsOf, type FileWindow } from '../files/read-text.ts';
import type { FullName } from '../names/full-name.ts';
import { spokenId } from '../names/full-name.ts';
import { NameFinder } from '../names/name-finder.ts';
import { splitWords } from '../names/spelling.ts';
import { SplitFinder } from '../names/splits.ts';
import { EncodedSieve } from '../text/escapes.ts';
import { isBinary } from '../text/source-document.ts';
import { ownCopy } from '../text/stretch.ts';
import { LeftoverSieve } from './second-scan.ts';

/** The result of a first, fast look at a file's bytes. */
export interface FileGlance {
  readonly path: string;
  /** `hit`: text that holds a name; `binary`: no text, or too large, and holds it; `unknown`: it cannot be read. */
  readonly holds: 'hit' | 'binary' | 'nothing' | 'unknown';
  /** For a binary: stretches that look like paths and hold the name, and the offsets of all places. */
  readonly paths: readonly string[];
  readonly places: readonly { readonly offset: number; readonly text: string }[];
  /** How else identifiers in it take the id apart. */
  readonly splits: readonly string[];
  /** Whether the second scan would have to look at it. */
  readonly isSuspect: boolean;
  /** Whether it may hold checksums of other files (W3C Subresource Integrity). */
  readonly hasChecksums: boolean;
}

const CHECKSUM = /sha(?:256|384|512)-/;

/** A sieve over raw bytes: coarse, but fast. Whatever the matcher can find passes it. */
export class NameSieve {
  readonly #pattern: RegExp;
  /** The same for names that are not written letter by letter. */
  readonly #encoded: EncodedSieve;
  readonly #finder: NameFinder;
  readonly #splits: SplitFinder;
  readonly #leftovers: LeftoverSieve;

  /** @param isBegun whether the new name is there too, and may be misspelled */
  constructor(from: FullName, to: FullName, isBegun = false) {
    const names = [spokenId(from), from.title, ...(from.vendor !== to.vendor ? [from.vendor ?? ''] : [])];
    const roots = [...names, ...(isBegun ? [to.id] : [])].map((name) => splitWords(name)[0] ?? '').filter((word) => word !== '');
    this.#pattern = new RegExp([...new Set(roots.map(plainStretch))].join('|'), 'i');
    this.#encoded = new EncodedSieve(names.flatMap(splitWords));
    this.#finder = new NameFinder(spokenId(from));
    this.#splits = new SplitFinder(from.id);
    this.#leftovers = new LeftoverSieve(from, to);
  }

  /** @param keep is given the bytes of a text that holds a name */
  glance(tree: FileTree, path: string, keep?: (bytes: Buffer) => void): FileGlance {
    const unknown: FileGlance = { path, holds: 'unknown', paths: [], places: [], splits: [], isSuspect: true, hasChecksums: false };
    if (isTooLargeForText(tree, path)) return this.#glanceInWindows(tree, path);
    const bytes = readBytes(tree, path);
    if (bytes === undefined) return unknown;
    const raw = bytes.toString('latin1');
    // It knows the same words: what this one does not find, the second scan's need not look for.
    const isEncoded = this.#encoded.test(raw);
    const none: FileGlance = { ...unknown, holds: 'nothing', isSuspect: this.#leftovers.mayHold(raw, isEncoded) };
    const hasChecksums = CHECKSUM.test(raw);
    // In UTF-16 every other byte is a NUL: the pattern would not see the name.
    const isWide = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);
    if (!isWide && !this.#pattern.test(raw) && !isEncoded && !this.#splits.mayBeIn(raw)) return { ...none, hasChecksums };
    if (isWide || !isBinary(bytes)) keep?.(bytes);
    if (isWide || !isBinary(bytes)) return { ...none, holds: 'hit', splits: [...this.#splits.find(raw)], hasChecksums };
    return binaryGlance(path, this.#placesIn({ text: raw, start: 0, from: 0, until: raw.length }), hasChecksums);
  }

  /** A file that is too large for a text is never edited, and never in memory as a whole. */
  #glanceInWindows(tree: FileTree, path: string): FileGlance {
    const places: BinaryPlace[] = [];
    let hasChecksums = false;
    try {
      for (const window of windowsOf(tree, path)) {
        hasChecksums ||= CHECKSUM.test(window.text);
        if (this.#pattern.test(window.text)) places.push(...this.#placesIn(window));
      }
    } catch (error) {
      if (!(error instanceof UnreadableFileError)) throw error;
      return { path, holds: 'unknown', paths: [], places: [], splits: [], isSuspect: true, hasChecksums: false };
    }
    return binaryGlance(path, places, hasChecksums);
  }

  #placesIn({ text: raw, start: base, from, until }: FileWindow): BinaryPlace[] {
    const places = this.#finder.find(raw).filter(({ start, edges }) => edges !== 'inside-word' && from <= start && start < until);
    return places.map(({ start, end, text }) => {
      const head = /[\w./-]*$/.exec(raw.slice(Math.max(0, start - 200), start))?.[0] ?? '';
      const around = head + raw.slice(start, end) + (/^[\w./-]*/.exec(raw.slice(end, end + 200))?.[0] ?? '');
      return { offset: base + start, text: ownCopy(text), around: ownCopy(around) };
    });
  }
}

/** A place in a file that is never edited, with what around it could be a path. */
interface BinaryPlace {
  readonly offset: number;
  readonly text: string;
  readonly around: string;
}

function binaryGlance(path: string, places: readonly BinaryPlace[], hasChecksums: boolean): FileGlance {
  return {
    path,
    holds: places.length > 0 ? 'binary' : 'nothing',
    paths: [...new Set(places.map(({ around }) => around).filter((each) => each.includes('/')))],
    places: places.map(({ offset, text }) => ({ offset, text })),
    splits: [],
    isSuspect: true,
    hasChecksums,
  };
}

/** The longest stretch of a word that is the same in every encoding: letters of ASCII. Empty when there is none. */
function plainStretch(word: string): string {
  return word.split(/[^a-z0-9]+/).reduce((longest, part) => (part.length > longest.length ? part : longest), '');
}
