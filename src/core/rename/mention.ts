import { folderOf } from '../files/file-tree.ts';
import { encodeLike } from '../names/encoded-finder.ts';
import type { Occurrence } from '../names/name-finder.ts';
import { leadingComment } from '../text/banner.ts';
import type { TextRange } from '../text/edits.ts';
import { kindOfPath, type FileKind } from '../text/file-kinds.ts';
import { hasHyphens, type LanguageName } from '../text/languages.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { identifierAround, isElementText, lineAround, stretchAround } from '../text/stretch.ts';
import { findZones, isInterpolated, zoneOf } from '../text/zones.ts';
import type { Zone, ZoneKind } from '../text/zone.ts';
import { entryKeys } from './entry-keys.ts';
import type { KeptStretch } from './kept.ts';
import type { Matching, NamePair } from './matching.ts';
import { addressAround, type MovedPart } from './moved-paths.ts';
import { respell } from './respell.ts';
import { respellTitle } from './respell-title.ts';
import type { TokenContext } from './token-context.ts';

/** How much of a long line around a mention is looked at; minified files have a single line. */
const REACH = 300;

/** A text file whose mentions are judged, and what judges have to know of it as a whole. */
export class FileView {
  readonly source: SourceDocument;
  readonly text: string;
  readonly matching: Matching;
  readonly fixed: readonly KeptStretch[];
  readonly path: string;
  readonly folder: string;
  readonly kind: FileKind;
  readonly #known = new Map<string, unknown>();

  /**
   * @param text the text of the source, letter for letter as long, as names are looked for in it
   * @param fixed stretches that stay whatever they hold: the platform's contract says them
   */
  constructor(source: SourceDocument, text: string, matching: Matching, fixed: readonly KeptStretch[] = []) {
    this.source = source;
    this.text = text;
    this.matching = matching;
    this.fixed = fixed;
    this.path = source.file;
    this.folder = folderOf(source.file);
    this.kind = kindOfPath(source.file);
  }

  get isTemplate(): boolean {
    return this.matching.templates.has(this.path);
  }

  get zones(): readonly Zone[] {
    return this.once('zones', () => findZones(this.path, this.text, this.isTemplate));
  }

  /** The zones of the text as it is written. */
  get zonesAsWritten(): readonly Zone[] {
    const { text } = this.source;
    return text === this.text ? this.zones : this.once('zones-as-written', () => findZones(this.path, text, this.isTemplate));
  }

  /** The comment that the file begins with. */
  get banner(): string {
    return this.once('banner', () => leadingComment(this.text, this.zones));
  }

  /** Names of others in the text. */
  get others(): readonly KeptStretch[] {
    return this.once('others', () => this.matching.others.find(this.text));
  }

  /** Stretches that the user wants to stay. */
  get wishes(): readonly KeptStretch[] {
    return this.once('wishes', () => this.matching.keep.find(this.path, this.text));
  }

  /** Something about the file that is found out when a judge first asks for it. */
  once<T>(key: string, find: () => T): T {
    if (!this.#known.has(key)) this.#known.set(key, find());
    return this.#known.get(key) as T;
  }
}

/** A place that holds the old name, with what is around it. */
export class Mention implements TextRange {
  readonly occurrence: Occurrence;
  readonly pair: NamePair;
  readonly file: FileView;
  readonly start: number;
  readonly end: number;
  /** The old name as it stands there. */
  readonly found: string;
  readonly edges: Occurrence['edges'];
  #zone: Zone | undefined | null = null;
  #identifier: { readonly name: string; readonly start: number } | undefined;
  #line: { readonly line: string; readonly start: number } | undefined;
  #address: { readonly text: string; readonly start: number } | undefined;
  #moved: MovedPart | undefined | null = null;
  #keys: readonly string[] | undefined;
  #replacement: string | undefined | null = null;

  constructor(occurrence: Occurrence, pair: NamePair, file: FileView) {
    this.occurrence = occurrence;
    this.pair = pair;
    this.file = file;
    ({ start: this.start, end: this.end, text: this.found, edges: this.edges } = occurrence);
  }

  get text(): string {
    return this.file.text;
  }

  get matching(): Matching {
    return this.file.matching;
  }

  /** The zone that it lies in. */
  get zone(): Zone | undefined {
    if (this.#zone === null) this.#zone = zoneOf(this.file.zones, this.start);
    return this.#zone;
  }

  get language(): LanguageName | undefined {
    return this.zone?.language;
  }

  /** The purpose of the zone; code that stands in a string is code. */
  get zoneKind(): ZoneKind {
    const { zone } = this;
    return zone === undefined ? 'text' : isInterpolated(this.text, zone, this.start) ? 'code' : zone.kind;
  }

  /** The identifier around it. */
  get identifier(): string {
    return this.#ownIdentifier.name;
  }

  /** The identifier, or the entry of a document that it asks for. */
  get ownIdentifier(): string {
    return this.matching.usedNames.get(this.identifier) ?? this.identifier;
  }

  /**
   * Whether it is a whole entry of a document that other files ask for by its name, in the document or where they ask: everywhere
   * it must become the same identifier.
   */
  get isEntry(): boolean {
    const { matching, found, file, language } = this;
    if (found !== this.pair.from || this.ownIdentifier !== found || !matching.entries.has(found)) return false;
    if (this.identifier !== found || this.isAskedFor) return true;
    if (this.zoneKind === 'code') return language !== undefined && !hasHyphens(language);
    if (matching.entryDocuments.has(file.path)) return /[\s{,]["']?$|^$/.test(this.before(2)) && /^["']?[ \t]*[:=]/.test(this.after(40));
    return this.zoneKind === 'string' && this.#isInDottedName;
  }

  /** Whether an entry is asked for there by names with points between them: `host.theme.albar.ink`, where theme.albar is one. */
  get isAskedFor(): boolean {
    const { usedNames } = this.matching;
    if (usedNames.size === 0) return false;
    const stretch = this.stretch(/[\w.$-]/);
    const names = stretch.text.slice(0, this.identifierStart - stretch.start + this.identifier.length).split('.');
    return names.some((_, i) => i < names.length - 1 && usedNames.has(names.slice(i).join('.')));
  }

  /** `"menu.albar.ink"`, `["albar"]`: a string that names a member, and no file. */
  get #isInDottedName(): boolean {
    const rest = /^\.([a-z_]\w*)/i.exec(this.after(40))?.[1];
    if (rest !== undefined) return kindOfPath(`x.${rest}`) === 'other';
    return /\w\.$/.test(this.before(2)) || (/\[["'`]$/.test(this.before(2)) && /^["'`]\]/.test(this.after(2)));
  }

  /** What of the identifier stands before it. */
  get identifierHead(): string {
    const { name, start } = this.#ownIdentifier;
    const own = this.ownIdentifier;
    return name.endsWith(own) ? name.slice(name.length - own.length, this.start - start) : name.slice(0, this.start - start);
  }

  /** Where the identifier begins. */
  get identifierStart(): number {
    return this.#ownIdentifier.start;
  }

  get #ownIdentifier(): { readonly name: string; readonly start: number } {
    return (this.#identifier ??= identifierAround(this.text, this));
  }

  /** The line around it, cut where it is long. */
  get line(): string {
    return this.#ownLine.line;
  }

  get lineStart(): number {
    return this.#ownLine.start;
  }

  get #ownLine(): { readonly line: string; readonly start: number } {
    return (this.#line ??= lineAround(this.text, this, REACH));
  }

  /** What of its line stands before it. */
  get lineHead(): string {
    return this.line.slice(0, this.start - this.lineStart);
  }

  /** What of its line follows it. */
  get lineTail(): string {
    return this.line.slice(this.end - this.lineStart);
  }

  /** Whether the name means the theme wherever it stands. */
  get isDistinctive(): boolean {
    return this.pair.weight === 'distinctive';
  }

  /** Whether the name is a common word. */
  get isCommon(): boolean {
    return this.pair.weight === 'common';
  }

  /** Whether it is written just as the title is; a common word is the title within a sentence, or at the head of a line. */
  get isTitle(): boolean {
    const { pair, found } = this;
    if (found !== (pair.sort === 'id' ? pair.fromTitle : pair.from)) return false;
    return !this.isCommon || (this.edges === 'free' && isTitleInProse(this.before(40), this.after(2)));
  }

  /** Whether it stands between equal quotes, or between brackets. */
  get isQuoted(): boolean {
    const [before, after] = [this.before(1), this.after(1)];
    return (/["'`]/.test(before) && before === after) || (before === '[' && after === ']') || (before === '“' && after === '”');
  }

  /** The keys that lead to it in data, from the inside out. */
  get keys(): readonly string[] {
    return (this.#keys ??= entryKeys(this.text, this.start));
  }

  /** So many characters before it, on whatever line. */
  before(count: number): string {
    return this.text.slice(Math.max(0, this.start - count), this.start);
  }

  /** So many characters behind it. */
  after(count: number): string {
    return this.text.slice(this.end, this.end + count);
  }

  /** The longest stretch around it that is made of some signs. */
  stretch(allowed: RegExp): { readonly text: string; readonly start: number } {
    return stretchAround(this.text, this, allowed, 200);
  }

  /** The longest stretch around it that can be a path or an address. */
  get address(): string {
    return (this.#address ??= addressAround(this.text, this)).text;
  }

  /** Whether it lies in a stretch. */
  isIn(stretch: TextRange): boolean {
    return stretch.start <= this.start && this.end <= stretch.end;
  }

  /** The part of an address that it lies in, when that names something that moves; a title never is. */
  get moved(): MovedPart | undefined {
    if (this.#moved === null) this.#moved = this.pair.sort === 'title' ? undefined : this.matching.moved.partAt(this.text, this);
    return this.#moved;
  }

  /** Whether it stands in a path that exists only inside a binary file. */
  get isOnlyInBinary(): boolean {
    return this.address.includes('/') && this.matching.isOnlyInBinary(this.address);
  }

  /** Whether no line ends in it. */
  get isOnOneLine(): boolean {
    return this.occurrence.encoded?.separators.some((each) => /[\r\n]/.test(each)) !== true;
  }

  /** Whether a line's end is no more than a blank where it stands: in prose, comments, pages and strings of several lines. */
  get isInFlowingText(): boolean {
    const { zoneKind, zone } = this;
    if (zoneKind === 'string') return zone !== undefined && this.end <= zone.end;
    return zoneKind === 'comment' || zoneKind === 'markup' || (zoneKind === 'text' && this.file.kind === 'prose');
  }

  /** Whether a sign for a comment stands before it on its line. */
  get isInLineComment(): boolean {
    return LINE_COMMENT.test(this.before(200));
  }

  /** Whether it stands among words: in a line with several of them and no sign of code, in the text of an element that code writes. */
  get isSentence(): boolean {
    if (this.language === 'script') return isElementText(this.text, this);
    // The words of a value: Description=Albar pages.
    if (this.language === 'settings')
      return /=\s*(?:[\p{L}\p{N}’',.-]+ )*$/u.test(this.lineHead) && /^(?:[.,]? [\p{L}\p{N}’',.-]+)+\s*$/u.test(this.lineTail);
    const isPlain = !/[{}<>=;$\\|[\]]|\w\(|::|->/.test(this.line);
    const words = this.line.match(/(?<![^\s"'“«(])\p{L}[\p{L}’']*(?=[\s.,;:!?"'”»)]|$)/gu)?.length ?? 0;
    return isPlain && words >= 4;
  }

  /** The new name as the place spells it; undefined when no spelling is known. */
  get replacement(): string | undefined {
    if (this.#replacement === null) this.#replacement = this.#respell();
    return this.#replacement;
  }

  #respell(): string | undefined {
    const { occurrence, pair, text, language } = this;
    // Where the language alone does not tell.
    const isOpen = this.file.kind === 'other' || language === 'settings' || /\.[jt]sx$/.test(this.file.path);
    const [isInLineComment, isSentence] = [this.isInLineComment, isOpen && this.isSentence];
    const { zoneKind: zone, isEntry } = this;
    const where: TokenContext = { text, zone, language, file: this.file.path, isInLineComment, isSentence, isEntry };
    const written = pair.sort === 'title' ? respellTitle(occurrence, pair, where) : respell(occurrence, pair, where);
    return written === undefined || occurrence.encoded === undefined ? written : encodeLike(written, occurrence.encoded.separators);
  }
}

/** How lines of comments begin, in languages that nobody here knows too. */
const LINE_COMMENT = /(?:^|[\r\n])\s*(?:[#;%]|\/\/|--|\*|\/\*|<!--|dnl\b|rem\b)[^\r\n]*$/i;

function isTitleInProse(before: string, after: string): boolean {
  if (/[\p{Ll},;][ \t]$/u.test(before)) return true;
  const isHead = /^[\s*/#;!>-]*$/.test(before.slice(before.lastIndexOf('\n') + 1));
  return isHead && /^(?:\s?[:—–|]|\s*(?:\n|$))/.test(after);
}
