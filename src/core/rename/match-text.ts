import type { Wildcard } from '../text/wildcard.ts';
import { rangesOverlap, type TextEdit, type TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { findZones, isInterpolated, zoneOf, type Zone, type ZoneKind } from '../text/zones.ts';
import { findEvidence, identifierAround } from './evidence.ts';
import { isOfLanguage } from './vocabulary.ts';
import { isCredit } from './credits.ts';
import { fileKept, isInLink, isTextOfLink, type KeptStretch } from './kept.ts';
import { productOf } from '../text/banner.ts';
import { isEnding } from './path-names.ts';
import { isWanted, type Matching, type NamePair } from './matching.ts';
import { addressAround, type MovedPart } from './moved-paths.ts';
import type { Occurrence } from '../names/name-finder.ts';
import { respell } from './respell.ts';
import { OwnershipJudge } from './theirs.ts';
import { respellTitle } from './respell-title.ts';
import type { Weight } from '../names/weight.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import type { Reason, ReasonCode, KeptGroup } from './reason.ts';

/** Why a place is changed. */
export type ChangeClass = 'declared' | 'path' | 'identifier' | 'text' | 'derived';

/** What becomes of one place that holds the old name. Offsets are those of the old text. */
export interface Match extends TextRange {
  readonly kind: ChangeClass | 'kept' | 'unsure';
  /** Why it stays or cannot be told; undefined for what is changed. */
  readonly reason?: Reason | undefined;
  /** What the new name is called here; undefined when no spelling can be told. */
  readonly replacement: string | undefined;
  /** For an unsure or kept place: what it would be if it were changed after all. */
  readonly kindIfChanged?: ChangeClass | undefined;
}

/** Whether a match is carried out. */
export function isChange<M extends Match>(match: M): match is M & { kind: ChangeClass; replacement: string } {
  return match.kind !== 'kept' && match.kind !== 'unsure';
}

const WHY_UNSURE: Readonly<Record<Weight, ReasonCode>> = {
  common: 'common-name',
  short: 'short-name',
  part: 'part-of-name',
  distinctive: 'not-told',
};

/**
 * Finds every place in a text that holds an old name and decides what becomes of it.
 * @param fixed stretches that stay whatever they hold: the platform's contract says them
 * @param declared edits that write the names into the document's own fields; they come before everything else
 */
export function matchText(
  source: SourceDocument,
  matching: Matching,
  declared: readonly TextEdit[],
  fixed: readonly KeptStretch[] = [],
): Match[] {
  const { file } = source;
  const text = withoutEscapes(source, matching);
  const matches = declared.map(({ start, end, text: replacement }): Match => ({ start, end, kind: 'declared', replacement }));
  const found = findAll(text, matching).filter(({ occurrence }) => !declared.some((edit) => rangesOverlap(edit, occurrence)));
  if (found.length === 0) return matches;
  const zones = findZones(file, text, matching.templates.has(file));
  const place: FileContext = {
    source,
    text,
    ownership: new OwnershipJudge(file),
    zones,
    group: groupOfFile(source, zones, matching),
    others: [...fixed, ...matching.others.find(text)],
    wishes: matching.keep.find(file, text),
    matching,
  };
  for (const each of found) matches.push(decide(each, place));
  return matches.sort((a, b) => a.start - b.start);
}

interface Found {
  readonly occurrence: Occurrence;
  readonly pair: NamePair;
}

interface FileContext {
  readonly source: SourceDocument;
  /** Its text, as {@link withoutEscapes} has it. */
  readonly text: string;
  readonly ownership: OwnershipJudge;
  readonly zones: ReturnType<typeof findZones>;
  readonly group: KeptGroup | undefined;
  readonly others: readonly KeptStretch[];
  readonly wishes: readonly KeptStretch[];
  readonly matching: Matching;
}

/** Why nothing in a file is renamed; undefined when it is the theme's own to change. */
export function groupOfFile({ file, text }: SourceDocument, zones: readonly Zone[], matching: Matching): KeptGroup | undefined {
  if (matching.isInPackage(file)) return 'third-party';
  return fileKept(file, text, zones, matching.templates.has(file), (banner) => isOwnBanner(banner, matching));
}

/** A banner that names the theme, or who made it, is no other product's. */
function isOwnBanner(banner: string, { pairs, author, version }: Matching): boolean {
  if (author !== '' && banner.includes(author)) return true;
  if (!pairs.some(({ finder }) => finder.isIn(banner))) return false;
  // A library may be called like the theme: then it has a version of its own, and an owner.
  const product = productOf(banner);
  const isCalledSo = product !== undefined && pairs.some(({ finder }) => finder.isIn(product.name));
  return !isCalledSo || product.version === version || !/©|\(c\)\s|\bcopyright\b/i.test(banner);
}

/** Of an escape (`\nAlbar`, `\\balbar-`) or a placeholder (`%sAlbar`) the letter before a name does not belong to it. */
const ESCAPE = /(?:\\[nrtbfvBwWsSdD]|%(?:\d+\$)?[-+0]?\d*(?:\.\d+)?[sdifuxegc])$/;

/** A text with a blank in place of the letter of each escape or placeholder that a name follows; offsets stay. */
function withoutEscapes({ file, text }: SourceDocument, { pairs }: Matching): string {
  if (!/\\[a-zA-Z]|%[\d$.+-]*[a-z]/.test(text) || ['prose', 'stylesheet'].includes(kindOfPath(file))) return text;
  const starts = pairs
    .flatMap(({ finder }) => finder.find(text).map(({ start }) => start))
    .filter((start) => ESCAPE.test(text.slice(Math.max(0, start - 12), start)));
  const inOrder = [...new Set(starts)].sort((a, b) => a - b);
  return inOrder.map((start, i) => `${text.slice(inOrder[i - 1] ?? 0, start - 1)} `).join('') + text.slice(inOrder.at(-1) ?? 0);
}

/** Titles first: the id inside a title is a part of it. */
function findAll(text: string, { pairs }: Matching): Found[] {
  const all: Found[] = [];
  for (const pair of pairs) {
    const own = pair.finder.find(text).filter((each) => pair.sort === 'id' || each.edges !== 'inside-word');
    const earlier = [...all];
    for (const occurrence of own) {
      if (isWanted(pair, occurrence) && !earlier.some((each) => rangesOverlap(each.occurrence, occurrence))) all.push({ occurrence, pair });
    }
  }
  return all.sort((a, b) => a.occurrence.start - b.occurrence.start);
}

function decide({ occurrence, pair }: Found, context: FileContext): Match {
  const { source, text, matching } = context;
  const { start, end } = occurrence;
  const kept = (reason: Reason, replacement?: string): Match => ({ start, end, kind: 'kept', reason, replacement });
  const within = (stretch: TextRange): boolean => stretch.start <= start && end <= stretch.end;
  const other = context.others.find(within);
  if (other !== undefined) return kept(other.reason);
  if (occurrence.edges === 'inside-word') return kept({ code: 'longer-word', about: identifierAround(text, occurrence).name });
  const zone = zoneOf(context.zones, start);
  if (zone !== undefined && isOfLanguage(text, context.zones, zone, occurrence, pair.weight)) return kept({ code: 'language' });
  const isLink = isInLink(text, occurrence) || isTextOfLink(text, occurrence, pair.finder);
  const lineGroup = isLink ? 'link' : isCredit(text, occurrence, zone, kindOfPath(source.file)) ? 'credit' : undefined;
  const isNoReference = isLink || pair.sort === 'title' || isOnlyInBinary(text, occurrence, matching);
  const moved = isNoReference ? undefined : matching.moved.partAt(text, occurrence);
  if (pair.sort === 'id' && isOfParent(text, occurrence, matching)) return kept({ code: 'other-theme', about: pair.from });
  const stays = moved === undefined && !isNoReference ? matching.staying.at(text, occurrence) : undefined;
  if (stays !== undefined) return { start, end, kind: stays.kind, reason: stays.reason, replacement: undefined };
  const wished = context.wishes.find(within);
  if (wished !== undefined) return kept(wished.reason);
  const change = moved === undefined ? propose(occurrence, pair, context) : follow(occurrence, pair, moved, context);
  const name = identifierAround(text, occurrence).name;
  // Functions and classes of PHP are the same in any case; names in stylesheets and scripts are not.
  const isCaseless = zone?.language === 'php';
  const isIn = (owned: readonly Wildcard[], it: string): boolean =>
    owned.some((each) => (isCaseless ? each.withoutCase().matches(it.toLowerCase()) : each.matches(it)));
  const isHosts =
    isIn(matching.hostNames, name) || (matching.hostPaths.length > 0 && isIn(matching.hostPaths, dottedAround(text, occurrence)));
  const group =
    moved === undefined
      ? (context.group ?? lineGroup ?? (isHosts ? 'host' : undefined) ?? ownerOf(occurrence, pair, zone, context))
      : undefined;
  if (group !== undefined && !matching.include.has(group)) return kept({ code: group }, change.replacement);
  if (change.kind === 'unsure' && change.replacement !== undefined && matching.includes(text, change)) return takeIn(change);
  return change;
}

/** `theirs` where a mention is of something else that is called so; a title never is. */
function ownerOf(at: TextRange, pair: NamePair, zone: Zone | undefined, { text, matching, ownership }: FileContext): KeptGroup | undefined {
  if (pair.sort === 'title') return undefined;
  const hasStem = (stem: string): boolean => matching.moved.isName(stem) || matching.moved.isName(`_${stem}`);
  return ownership.isTheirs({ text, at, zone }, { id: pair.from, home: matching.home, hasStem }) ? 'theirs' : undefined;
}

/** What stands around a place with points between its parts: `host.styles.AlbarStyle`. */
function dottedAround(text: string, { start, end }: TextRange): string {
  const before = /[\w.-]*$/.exec(text.slice(Math.max(0, start - 200), start))?.[0] ?? '';
  const after = /^[\w.-]*/.exec(text.slice(end, end + 200))?.[0] ?? '';
  return (before + text.slice(start, end) + after).replace(/^\.+|\.+$/g, '');
}

/** `albar/partials/nav.html`, where a parent of that name has the file and the theme has not. */
function isOfParent(text: string, { end }: TextRange, { parentFiles, files }: Matching): boolean {
  if (parentFiles.size === 0 || text.charAt(end) !== '/') return false;
  const rest = /^[\w./@-]+/.exec(text.slice(end + 1, end + 300))?.[0].replace(/[/.]$/, '') ?? '';
  return parentFiles.has(rest) && !files.has(rest);
}

/** An unsure or kept place that is changed after all. */
export function takeIn<M extends Match>(match: M): M {
  return { ...match, kind: match.kindIfChanged ?? 'text', reason: undefined };
}

/** A reference is spelled as the renamed file is. */
function follow(occurrence: Occurrence, pair: NamePair, moved: MovedPart, { source }: FileContext): Match {
  const { start, end } = occurrence;
  if (isEnding(moved.part, { start: start - moved.start, end: end - moved.start }))
    return { start, end, kind: 'kept', reason: { code: 'ending' }, replacement: undefined };
  const inPart = { ...occurrence, start: start - moved.start, end: end - moved.start };
  // What stands in the new name where the old one stood; where it stood twice, the spelling tells.
  const { part, becomes } = moved;
  const [head, tail] = [part.slice(0, inPart.start), part.slice(inPart.end)];
  const isPlain =
    becomes.startsWith(head) &&
    becomes.endsWith(tail) &&
    becomes.length >= head.length + tail.length &&
    pair.finder.find(part).length === 1;
  const replacement = isPlain
    ? becomes.slice(head.length, becomes.length - tail.length)
    : respell(inPart, pair, { text: part, zone: 'path', file: '' });
  return checked({ start, end, kind: 'path', replacement }, source);
}

function propose(occurrence: Occurrence, pair: NamePair, { source, text, zones, matching }: FileContext): Match {
  const { start, end } = occurrence;
  const { file } = source;
  const own = zoneOf(zones, start);
  const zone: ZoneKind = own === undefined ? 'text' : isInterpolated(text, own, start) ? 'code' : own.kind;
  const head = text.slice(Math.max(0, start - 200), start);
  const isInLineComment = LINE_COMMENT.test(head);
  const where = { text, zone, language: own?.language, file, isInLineComment };
  const replacement = pair.sort === 'title' ? respellTitle(occurrence, pair, where) : respell(occurrence, pair, where);
  if (replacement === undefined && pair.sort === 'title' && occurrence.text === pair.from)
    return { start, end, kind: 'unsure', reason: { code: 'title-syntax' }, replacement };
  const kindIfChanged = occurrence.edges === 'joined' || zone === 'code' ? 'identifier' : 'text';
  const unsure = (code: ReasonCode): Match => checked({ start, end, kind: 'unsure', reason: { code }, replacement, kindIfChanged }, source);
  if (isOnlyInBinary(text, occurrence, matching)) return unsure('binary-path');
  const title = pair.sort === 'id' ? pair.fromTitle : pair.from;
  const { shapes, files, home } = matching;
  const evidence = findEvidence({ text, file, zone, occurrence, title, shapes, files, home }, pair.weight);
  // look_oak is the theme's where a file look_oak.po is.
  if (evidence === undefined && occurrence.edges === 'joined' && matching.moved.isName(identifierAround(text, occurrence).name))
    return checked({ start, end, kind: 'identifier', replacement }, source);
  if (evidence === undefined && matching.isProven(identifierAround(text, occurrence).name))
    return checked({ start, end, kind: 'identifier', replacement }, source);
  if (evidence === undefined) return unsure(WHY_UNSURE[pair.weight]);
  if (evidence === 'text' && pair.isPersons) return unsure('author');
  return checked({ start, end, kind: evidence, replacement }, source);
}

/** How lines of comments begin, in languages that nobody here knows too. */
const LINE_COMMENT = /(?:^|[\r\n])\s*(?:[#;%]|\/\/|--|\*|\/\*|<!--|dnl\b|rem\b)[^\r\n]*$/i;

function isOnlyInBinary(text: string, at: TextRange, matching: Matching): boolean {
  const address = addressAround(text, at).text;
  return address.includes('/') && matching.isOnlyInBinary(address);
}

/** A match whose replacement can be written; else it is unsure. */
function checked(match: Match, source: SourceDocument): Match {
  if (match.replacement === undefined) return { ...match, kind: 'unsure', reason: { code: 'no-spelling' } };
  if (source.encode(match.replacement) === undefined)
    return { ...match, kind: 'unsure', reason: { code: 'encoding' }, replacement: undefined };
  return match;
}
