import { UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { isTooLargeForText, readBytes, windowsOf, type FileWindow } from '../files/read-text.ts';
import { compareRanges, type TextEdit } from '../text/edits.ts';
import { isBinary, type Position, type SourceDocument } from '../text/source-document.ts';
import { splitWords } from '../names/spelling.ts';
import { identifierAround } from './evidence.ts';
import { lengthEdits } from './content/serialised.ts';
import { underlineEdits } from './content/underlines.ts';
import { LeftoverSieve } from './second-scan.ts';
import { lineAround, type KeptStretch } from './kept.ts';
import { isChange, matchText, takeIn, type Match } from './match-text.ts';
import type { Matching } from './matching.ts';
import { spokenId, type FullName } from '../names/full-name.ts';
import { SplitFinder } from '../names/splits.ts';
import { NameFinder } from '../names/name-finder.ts';

/** A match with the line that it stands on; line and column count from 1, in the old text. */
export interface FileMatch extends Match, Position {
  readonly found: string;
  /** The identifier around it. */
  readonly identifier: string;
  /** The line around it, cut to what one can read. */
  readonly around: Excerpt;
}

interface Excerpt {
  readonly text: string;
  /** The offset in the file at which it begins. */
  readonly start: number;
  readonly isCut: readonly [before: boolean, after: boolean];
}

/** What a file's text becomes. Plain data: it can be sent to another thread. */
export interface FileAnalysis {
  readonly path: string;
  readonly matches: readonly FileMatch[];
  /** All edits, sorted; those of lengths included. */
  readonly edits: readonly TextEdit[];
  /** Bytes of the file after the edits. */
  readonly size: number;
}

/** What a first, fast look at a file's bytes says. */
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
  readonly #finder: NameFinder;
  readonly #splits: SplitFinder;
  readonly #leftovers: LeftoverSieve;

  constructor(from: FullName, to: FullName) {
    const names = [spokenId(from), from.title, ...(from.vendor !== to.vendor ? [from.vendor ?? ''] : [])];
    const roots = names.map((name) => splitWords(name)[0] ?? '').filter((word) => word !== '');
    this.#pattern = new RegExp([...new Set(roots.map(plainStretch))].join('|'), 'i');
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
    const none: FileGlance = { ...unknown, holds: 'nothing', isSuspect: this.#leftovers.mayHold(raw) };
    const hasChecksums = CHECKSUM.test(raw);
    // In UTF-16 every other byte is a NUL: the pattern would not see the name.
    const isWide = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);
    if (!isWide && !this.#pattern.test(raw) && !this.#splits.mayBeIn(raw)) return { ...none, hasChecksums };
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

/** What the user decided on single places, by {@link placeKey}: the text that is to stand there; null: it stays. */
export type Decisions = ReadonlyMap<string, string | null>;

/** Names a place of the old tree in decisions and plan files. */
export function placeKey(file: string, { line, column }: Position): string {
  return `${file}:${line}:${column}`;
}

/** The decisions on one file, by place in it. */
export function decisionsOn(path: string, decisions: Decisions): Decisions {
  if (decisions.size === 0) return decisions;
  const own = [...decisions].filter(([key]) => key.startsWith(`${path}:`));
  return new Map(own.map(([key, decision]) => [key.slice(path.length), decision]));
}

/** Decides on every place of a text file. @param fixed stretches that the platform's contract fixes */
export function analyseText(
  source: SourceDocument,
  matching: Matching,
  declared: readonly TextEdit[],
  decisions: Decisions,
  fixed: readonly KeptStretch[] = [],
): FileAnalysis {
  const matches = matchText(source, matching, declared, fixed).map((match) => decideByUser(locate(match, source), decisions));
  const names = matches.filter(isChange).map(({ start, end, replacement }): TextEdit => ({ start, end, text: replacement }));
  const lengths = [...lengthEdits(source, names), ...underlineEdits(source, names)];
  const edits = [...names, ...lengths].sort(compareRanges);
  const derived = lengths.map((edit) => locate({ start: edit.start, end: edit.end, kind: 'derived', replacement: edit.text }, source));
  return { path: source.file, matches: [...matches, ...derived].sort(compareRanges), edits, size: sizeAfter(source, edits) };
}

/** Writes a match of the old text down with its place. */
export function locate(match: Match, source: SourceDocument): FileMatch {
  const { line, start, isCut } = lineAround(source.text, match, 60);
  return {
    ...match,
    ...source.positionAt(match.start),
    found: ownCopy(source.text.slice(match.start, match.end)),
    identifier: ownCopy(identifierAround(source.text, match).name),
    around: { text: ownCopy(line), start, isCut },
  };
}

/** A slice of a text keeps the whole text in memory; a copy does not. */
function ownCopy(text: string): string {
  return Buffer.from(text, 'utf16le').toString('utf16le');
}

function decideByUser(match: FileMatch, decisions: Decisions): FileMatch {
  const decision = decisions.get(placeKey('', match));
  if (decision === undefined || match.kind === 'declared') return match;
  if (decision === null) return { ...match, kind: 'kept', reason: { code: 'decided' } };
  return { ...(isChange(match) ? match : takeIn(match)), replacement: decision };
}

export function sizeAfter(source: SourceDocument, edits: readonly TextEdit[]): number {
  const change = edits.reduce(
    (sum, { start, end, text }) => sum + source.byteLength(text) - source.byteLength(source.text.slice(start, end)),
    0,
  );
  return source.byteLength(source.text) + source.markLength + change;
}
