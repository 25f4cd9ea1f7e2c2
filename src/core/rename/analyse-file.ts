import { linkIn } from '../text/addresses.ts';
import { applyEdits, compareRanges, editsWithin, type TextEdit, type TextRange } from '../text/edits.ts';
import type { Position, SourceDocument } from '../text/source-document.ts';
import { identifierAround, lineAround, ownCopy, wordAround } from '../text/stretch.ts';
import { lengthEdits } from './content/serialised.ts';
import { tableEdits } from './content/tables.ts';
import { underlineEdits } from './content/underlines.ts';
import { placeKey, type Decisions } from './decisions.ts';
import type { KeptStretch } from './kept.ts';
import { isChange, takeIn, type Match } from './match.ts';
import { matchText, textForNames } from './match-text.ts';
import { FileView } from './mention.ts';
import { addressAround } from './moved-paths.ts';
import { structureProblems } from './structure.ts';
import { hasHyphens } from '../text/languages.ts';
import { zoneOf } from '../text/zones.ts';
import type { Breakage } from './breakage.ts';
import type { Matching } from './matching.ts';

/** A match with the line that it stands on; line and column count from 1, in the old text. */
export interface FileMatch extends Match, Position {
  readonly found: string;
  /** The identifier around it. */
  readonly identifier: string;
  /** In code and strings: the identifier as the language sees it, before and after; `isCode`: it stands in no string. */
  readonly inCode?: { readonly before: string; readonly after: string; readonly isCode: boolean } | undefined;
  /** The path or address that it is a part of, before and after. */
  readonly address?: { readonly before: string; readonly after: string } | undefined;
  /** The line around it, cut to what one can read. */
  readonly around: Excerpt;
}

interface Excerpt {
  readonly text: string;
  /** The offset in the file at which it begins. */
  readonly start: number;
  readonly isCut: readonly [before: boolean, after: boolean];
}

/** A file's text after the rename. Plain data: it can be sent to another thread. */
export interface FileAnalysis {
  readonly path: string;
  readonly matches: readonly FileMatch[];
  /** All edits, sorted; those of lengths included. */
  readonly edits: readonly TextEdit[];
  /** Bytes of the file after the edits. */
  readonly size: number;
  /** Places at which the text would no longer be what it was: tokens, entries. */
  readonly broken?: readonly Breakage[] | undefined;
}

/** Decides on every place of a text file. @param fixed stretches that the platform's contract fixes */
export function analyseText(
  source: SourceDocument,
  matching: Matching,
  declared: readonly TextEdit[],
  decisions: Decisions,
  fixed: readonly KeptStretch[] = [],
): FileAnalysis {
  const file = new FileView(source, textForNames(source, matching), matching, fixed);
  const found = matchText(file, declared).map((match) => decideByUser(locate(match, source), decisions));
  const names = found.filter(isChange).map(({ start, end, replacement }): TextEdit => ({ start, end, text: replacement }));
  const lengths = [...lengthEdits(source, names), ...underlineEdits(source, names), ...tableEdits(source, names)];
  const edits = [...names, ...lengths].sort(compareRanges);
  const derived = lengths.map((edit) => locate({ start: edit.start, end: edit.end, kind: 'derived', replacement: edit.text }, source));
  const matches = [...found.map((match) => withSurroundings(match, file, names)), ...derived].sort(compareRanges);
  const broken = structureProblems(file, edits);
  return { path: source.file, matches, edits, size: sizeAfter(source, edits), ...(broken.length > 0 ? { broken } : {}) };
}

/** A match with the identifier and the address around it, before and after. */
function withSurroundings(match: FileMatch, file: FileView, names: readonly TextEdit[]): FileMatch {
  const { text } = file.source;
  if (match.kind === 'kept' && match.reason?.group !== 'link' && match.reason?.group !== 'credit') return match;
  const { kind, language } = zoneOf(file.zones, match.start) ?? {};
  const around = identifierAround(text, match);
  // `$albar->x` has no hyphen in its name, be it in a string.
  const isArrow = around.name.endsWith('-') && text.charAt(around.start + around.name.length) === '>';
  const own = isArrow || (kind === 'code' && language !== undefined && !hasHyphens(language)) ? wordAround(text, match) : around;
  // An address that a command of a shell has names no identifier.
  const { usedNames, entries, entryDocuments } = file.matching;
  const isEntry = entryDocuments.has(file.path) && entries.has(own.name);
  const isCode = (kind === 'code' || kind === 'string' || isEntry) && own.name.length > match.found.length && !isInLink(text, match);
  const address = addressAround(text, match);
  const isAddress = /\/|\.\w{2,5}$/.test(address.text);
  if (!isCode && !isAddress) return match;
  const after = (start: number, before: string): string =>
    ownCopy(
      applyEdits(
        before,
        editsWithin(names, start, start + before.length).map((edit) => shifted(edit, -start)),
      ),
    );
  // `theme_albar_ink` asks for the entry albar_ink: of both, the same has to become.
  const entry = usedNames.get(own.name) ?? own.name;
  const head = own.name.indexOf(entry);
  const isIn = (start: number): boolean => start >= own.start + head && start < own.start + head + entry.length;
  const inCode = isIn(match.start) ? { name: entry, start: own.start + head } : own;
  return {
    ...match,
    ...(isCode ? { inCode: { before: ownCopy(inCode.name), after: after(inCode.start, inCode.name), isCode: kind === 'code' } } : {}),
    ...(isAddress ? { address: { before: ownCopy(address.text), after: after(address.start, address.text) } } : {}),
  };
}

/** So far around a name its address is looked for. */
const LONGEST_LINK = 400;

/** Whether a name is part of an address of another host. */
function isInLink(text: string, { start, end }: TextRange): boolean {
  const head = text.slice(Math.max(0, start - LONGEST_LINK), start);
  const before = head.slice(head.lastIndexOf('\n') + 1);
  const from = start - before.length;
  const line = before + (/^[^\n]*/.exec(text.slice(start, end + LONGEST_LINK))?.[0] ?? '');
  return linkIn(line, { start: start - from, end: end - from }) !== undefined;
}

function shifted({ start, end, text }: TextEdit, by: number): TextEdit {
  return { start: start + by, end: end + by, text };
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
