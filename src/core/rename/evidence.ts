import type { TextRange } from '../text/edits.ts';
import type { ZoneKind } from '../text/zones.ts';
import { stretchAround } from '../text/stretch.ts';
import type { Occurrence } from '../names/name-finder.ts';
import type { Weight } from '../names/weight.ts';

/** A place that holds a name, as far as it can prove that it means the theme. */
export interface EvidencePlace {
  readonly text: string;
  readonly file: string;
  readonly zone: ZoneKind;
  readonly occurrence: Occurrence;
  /** The title, when the name found is spelled as it is. */
  readonly title: string | undefined;
  /** All paths of the theme. */
  readonly files: ReadonlySet<string>;
  /** Where the host keeps the theme: `themes/albar`; undefined when that says no more than the name. */
  readonly home: string | undefined;
  /** Whole names that the platform's identifier shapes give, as patterns. */
  readonly shapes: readonly RegExp[];
}

/** What a place proves: undefined when nothing; else whether it is an identifier or a word of prose. */
export type Evidence = 'identifier' | 'text' | undefined;

/** Decides whether a place means the theme, given how much the name says by itself. */
export function findEvidence(place: EvidencePlace, weight: Weight): Evidence {
  const { occurrence, zone, text } = place;
  const isIdentifier = occurrence.edges === 'joined' || zone === 'code' || isName(text, occurrence);
  if (weight === 'distinctive') return isIdentifier ? 'identifier' : 'text';
  if (isShape(place) || isOwnAddress(place)) return 'identifier';
  if (weight === 'common')
    return isDeclaredHere(place) || isCalledTheme(text, occurrence) ? 'identifier' : isTitleInProse(place) ? 'text' : undefined;
  if (isIdentifier && (occurrence.edges !== 'joined' || weight === 'part' || leadsItsIdentifier(text, occurrence))) return 'identifier';
  if (isMarked(text, occurrence) || isInAttribute(place)) return 'identifier';
  return isTitle(place) ? 'text' : undefined;
}

/** The identifier around an occurrence, as code or a stylesheet sees it. */
export function identifierAround(text: string, { start, end }: TextRange): { name: string; start: number } {
  const stretch = stretchAround(text, { start, end }, /[\p{L}\p{N}\p{M}_-]/u, 80);
  return { name: stretch.text, start: stretch.start };
}

/** `themes/oak`, and `oak/css/hut.css` where the theme has such a file: an address of the theme, or of what is in it. */
function isOwnAddress({ text, occurrence, files, home }: EvidencePlace): boolean {
  const { start, end } = occurrence;
  const [before, after] = [text.charAt(start - 1), text.charAt(end)];
  if (/[\w-]/.test(before) || /[\w-]/.test(after)) return false;
  const lead = home?.slice(0, -occurrence.text.length) ?? '';
  if (home?.endsWith(occurrence.text) === true && lead !== '' && text.slice(Math.max(0, start - lead.length), start) === lead) return true;
  if (after !== '/') return false;
  const rest = /^[\w./@-]+/.exec(text.slice(end + 1, end + 300))?.[0] ?? '';
  return files.has(rest) || files.has(rest.replace(/[/.]$/, ''));
}

function isShape({ text, occurrence, shapes }: EvidencePlace): boolean {
  if (shapes.length === 0) return false;
  const from = Math.max(0, occurrence.start - 80);
  const window = text.slice(from, occurrence.end + 80);
  return shapes.some((shape) =>
    [...window.matchAll(shape)].some((match) => {
      const start = from + match.index;
      const isWhole = !/[\p{L}\p{N}_]/u.test(text.charAt(start - 1));
      return isWhole && start <= occurrence.start && occurrence.end <= start + match[0].length;
    }),
  );
}

/** Whether signs around an occurrence show that it is a name and no word of a sentence: quotes, slashes, selectors. */
function isName(text: string, { start, end }: Occurrence): boolean {
  const before = text.charAt(start - 1);
  const after = text.charAt(end);
  return (
    isQuoted(before, after) ||
    /[/\\#$@=]/.test(before) ||
    /[/\\=]/.test(after) ||
    (before === '.' && !/[\s.]/.test(text.charAt(start - 2) || 'x')) ||
    (after === ':' && /\S/.test(text.charAt(end + 1)))
  );
}

function isQuoted(before: string, after: string): boolean {
  return (/["'`]/.test(before) && before === after) || (before === '[' && after === ']') || (before === '“' && after === '”');
}

/** A value of a tag's attribute, such as one of several classes. */
function isInAttribute({ text, occurrence, zone }: EvidencePlace): boolean {
  return zone === 'markup' && /<[^<>]*=\s*(?:"[^"<>]*|'[^'<>]*)$/.test(text.slice(Math.max(0, occurrence.start - 300), occurrence.start));
}

/** A name in quotes or brackets, the head of a dotted key, or one that is said to be a theme's. */
function isMarked(text: string, occurrence: Occurrence): boolean {
  const before = text.slice(Math.max(0, occurrence.start - 24), occurrence.start);
  const after = text.slice(occurrence.end, occurrence.end + 16);
  return (
    isQuoted(before.slice(-1), after.charAt(0)) ||
    (/["'`[]$/.test(before) && /^(?:[.:/][\p{L}{_]|[-_]+["'`])/u.test(after)) ||
    (/[:=]\s*$/.test(before) && /^["'`]/.test(after)) ||
    isCalledTheme(text, occurrence)
  );
}

/** “The theme oak”, “the oak theme”, a package tag. */
function isCalledTheme(text: string, { start, end, edges }: Occurrence): boolean {
  if (edges === 'joined') return false;
  const before = text.slice(Math.max(0, start - 24), start);
  return (
    /@(?:package|subpackage|module|namespace)\s+$/.test(before) ||
    /\bthemes?[ \t:/]+["'“`]?$/i.test(before) ||
    /^["'”`]?[ \t]+theme\b/i.test(text.slice(end, end + 16))
  );
}

/** oak_setup and .oak-nav begin with the name; para-sol does not. */
function leadsItsIdentifier(text: string, occurrence: Occurrence): boolean {
  const { name, start } = identifierAround(text, occurrence);
  const lead = name.slice(0, occurrence.start - start);
  return /^[-_]*$/.test(lead) || /(?:^|[-_])theme[-_]$/i.test(lead) || /^[A-Z]/.test(occurrence.text) || lead.endsWith('data-');
}

/** `function core_setup(`, `class CoreSetup`, `define('CORE_VERSION'`: what the theme's own code declares is its own. */
function isDeclaredHere({ text, occurrence, zone }: EvidencePlace): boolean {
  if (zone !== 'code' && zone !== 'string') return false;
  const { start } = identifierAround(text, occurrence);
  return /(?:\b(?:function|class|interface|trait|enum|const|let|var|namespace)\s+|\bdefine\(\s*["'])$/.test(
    text.slice(Math.max(0, start - 24), start),
  );
}

function isTitle({ occurrence, title }: EvidencePlace): boolean {
  return occurrence.text === title;
}

/** A common word in the title's spelling is the title within a sentence, or where it stands alone at the head of a line. */
function isTitleInProse(place: EvidencePlace): boolean {
  if (!isTitle(place) || place.occurrence.edges !== 'free') return false;
  const { text, occurrence } = place;
  const before = text.slice(Math.max(0, occurrence.start - 40), occurrence.start);
  if (/[\p{Ll},;][ \t]$/u.test(before)) return true;
  const isHead = /^[\s*/#;!>-]*$/.test(before.slice(before.lastIndexOf('\n') + 1));
  return isHead && /^(?:\s?[:—–|]|\s*(?:\n|$))/.test(text.slice(occurrence.end, occurrence.end + 2));
}
