import { rangesOverlap, type TextEdit, type TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { findZones, zoneAt, type ZoneKind } from '../text/zones.ts';
import { fileKept, lineKept, type OtherNames } from './kept.ts';
import { isDistinctive, type FullName } from './names.ts';
import type { MovedPaths } from './moved-paths.ts';
import { NameFinder, type Occurrence } from './occurrences.ts';
import { escapeTitle, respell } from './respell.ts';

/** Why a place is changed. */
export type MatchClass = 'declared' | 'path' | 'identifier' | 'text';

/** What becomes of one place that holds the old name. Offsets are those of the old text. */
export type Match = TextRange &
  (
    | { readonly verdict: 'change'; readonly kind: MatchClass; readonly replacement: string }
    | { readonly verdict: 'kept' | 'unsure'; readonly reason: string }
  );

/** All that matching needs to know of a rename, prepared once. */
export interface Matching {
  readonly from: FullName;
  readonly to: FullName;
  readonly ids: NameFinder;
  /** The title, when it is more than the id spelled as words. */
  readonly title: NameFinder | undefined;
  readonly others: OtherNames;
  readonly moved: MovedPaths;
  /** Texts in which the user wants the old name to stay. */
  readonly keep: readonly string[];
}

/**
 * Finds every place in a text that holds the old name and decides what becomes of it.
 * @param declared edits that write the names into the document's own fields; they come before everything else
 */
export function matchText(source: SourceDocument, matching: Matching, declared: readonly TextEdit[]): Match[] {
  const { text, file } = source;
  const matches: Match[] = declared.map(({ start, end, text: replacement }) => ({
    start,
    end,
    verdict: 'change',
    kind: 'declared',
    replacement,
  }));
  const occurrences = findAll(text, matching).filter((found) => !declared.some((edit) => rangesOverlap(edit, found.occurrence)));
  if (occurrences.length === 0) return matches;
  const zones = findZones(file, text);
  const wholeFile = fileKept(file, source);
  const others = matching.others.find(text);
  for (const { occurrence, isTitle } of occurrences) {
    const { start, end } = occurrence;
    const decide = (): Match => {
      const other = others.find((each) => each.start <= start && end <= each.end);
      if (other !== undefined) return { start, end, verdict: 'kept', reason: other.reason };
      if (occurrence.edges === 'inside-word')
        return { start, end, verdict: 'kept', reason: `part of the longer word “${wordAround(text, occurrence)}”` };
      const lineReason = lineKept(text, occurrence);
      const isMoved = lineReason?.startsWith('part of a link') !== true && matching.moved.isReference(text, occurrence);
      const reason = isMoved ? undefined : (keptByUser(text, occurrence, matching.keep) ?? wholeFile ?? lineReason);
      if (reason !== undefined) return { start, end, verdict: 'kept', reason };
      return change(occurrence, isTitle, isMoved ? 'path' : zoneAt(zones, start), source, matching);
    };
    matches.push(decide());
  }
  return matches.sort((a, b) => a.start - b.start);
}

interface Found {
  readonly occurrence: Occurrence;
  readonly isTitle: boolean;
}

/** Titles first: the id inside a title is a part of it. */
function findAll(text: string, matching: Matching): Found[] {
  const titles = matching.title?.find(text).filter((each) => each.edges !== 'inside-word') ?? [];
  const ids = matching.ids.find(text).filter((each) => !titles.some((title) => rangesOverlap(title, each)));
  return [
    ...titles.map((occurrence) => ({ occurrence, isTitle: true })),
    ...ids.map((occurrence) => ({ occurrence, isTitle: false })),
  ].sort((a, b) => a.occurrence.start - b.occurrence.start);
}

function change(occurrence: Occurrence, isTitle: boolean, zone: ZoneKind | 'path', source: SourceDocument, matching: Matching): Match {
  const { start, end } = occurrence;
  const { text, file } = source;
  const where = { text, zone, file };
  const replacement = isTitle ? respellTitle(occurrence, matching, where) : respell(occurrence, matching.from, matching.to, where);
  if (replacement === undefined) return { start, end, verdict: 'unsure', reason: 'written in no spelling that can be told' };
  if (source.encode(replacement) === undefined)
    return { start, end, verdict: 'unsure', reason: 'the new name does not fit the file’s encoding' };
  if (zone === 'path') return { start, end, verdict: 'change', kind: 'path', replacement };
  if (occurrence.edges === 'joined' || zone === 'code' || isName(text, occurrence)) {
    return { start, end, verdict: 'change', kind: 'identifier', replacement };
  }
  if (isTitle || isDistinctive(matching.from.id)) return { start, end, verdict: 'change', kind: 'text', replacement };
  return { start, end, verdict: 'unsure', reason: 'the name is a common word, and the place does not prove that it means the theme' };
}

function respellTitle(occurrence: Occurrence, matching: Matching, where: Parameters<typeof escapeTitle>[1]): string | undefined {
  const { from, to } = matching;
  if (occurrence.text === from.title) return escapeTitle(to.title, where);
  if (occurrence.text === from.title.toUpperCase()) return escapeTitle(to.title.toUpperCase(), where);
  return occurrence.text === from.title.toLowerCase() ? escapeTitle(to.title.toLowerCase(), where) : undefined;
}

/** Whether signs around an occurrence show that it is a name and no word of a sentence: quotes, slashes, selectors. */
function isName(text: string, { start, end }: Occurrence): boolean {
  const before = text.charAt(start - 1);
  const after = text.charAt(end);
  const isQuoted = /["'`]/.test(before) && before === after;
  return (
    isQuoted ||
    /[/\\#$@=]/.test(before) ||
    /[/\\=]/.test(after) ||
    (before === '.' && !/[\s.]/.test(text.charAt(start - 2) || 'x')) ||
    (after === ':' && /\S/.test(text.charAt(end + 1)))
  );
}

function keptByUser(text: string, { start, end }: TextRange, patterns: readonly string[]): string | undefined {
  for (const pattern of patterns) {
    for (let at = text.indexOf(pattern, Math.max(0, start - pattern.length)); at >= 0 && at <= start; at = text.indexOf(pattern, at + 1)) {
      if (end <= at + pattern.length) return `kept as wished: “${pattern}”`;
    }
  }
  return undefined;
}

/** The whole word that an occurrence is a part of, for people. */
function wordAround(text: string, { start, end }: TextRange): string {
  const head = /[\p{L}\p{N}\p{M}_-]*$/u.exec(text.slice(Math.max(0, start - 40), start))?.[0] ?? '';
  const tail = /^[\p{L}\p{N}\p{M}_-]*/u.exec(text.slice(end, end + 40))?.[0] ?? '';
  return head + text.slice(start, end) + tail;
}
