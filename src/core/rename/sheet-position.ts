import type { TextRange } from '../text/edits.ts';
import { zoneIndex } from '../text/zones.ts';
import type { Zone } from '../text/zone.ts';

const words = (text: string): ReadonlySet<string> => new Set(text.split(/\s+/));

/** Rules whose heads hold names that the sheet’s author gives; those of preprocessors too. */
const NAMING_RULES = words(
  `apply container counter-style each else extend font-feature-values for forward function if import include keyframes layer mixin namespace page
  font-palette-values position-try property return scope use while`,
);
/** Rules whose heads hold words of the language alone. */
const OTHER_RULES = words(
  `at-root charset content debug error font-face media plugin starting-style supports tailwind view-transition warn`,
);
/** Properties whose values can be names that the sheet’s author gives. */
const NAMING_PROPERTIES = words(
  `anchor-name animation animation-name animation-timeline composes container container-name counter-increment counter-reset counter-set
  font font-family font-palette grid grid-area grid-column grid-column-end grid-column-start grid-row grid-row-end grid-row-start
  grid-template grid-template-areas grid-template-columns grid-template-rows list-style list-style-type page position-anchor
  position-try position-try-fallbacks scroll-timeline scroll-timeline-name timeline-scope view-timeline view-timeline-name
  view-transition-class view-transition-name`,
);
/** Functions around such names: in selectors, and in values. */
const NAMING_FUNCTIONS = words(
  'anchor anchor-size counter counters highlight layer local map-get part slotted state symbols theme url view-transition-group',
);

/** How far around a place its statement is looked for: no person writes a longer statement. */
const REACH = 4000;

/**
 * Whether a word in a stylesheet can only be the language’s: a property, a keyword among its values, an element, a rule, a
 * feature of a medium. All others are names that someone gave, or may be (CSS Syntax 3; CSS Values 4, custom identifiers).
 * @param word the whole identifier around the place
 * @param isCommon whether it is a word that any language may have
 */
export function isWordOfSheet(text: string, zones: readonly Zone[], zone: Zone, word: TextRange, isCommon: boolean): boolean {
  const name = text.slice(word.start, word.end);
  const before = text.charAt(word.start - 1);
  // Names that preprocessors put in: @{name}, #{name}.
  if (/[@#$]\{\s*$/.test(text.slice(Math.max(0, word.start - 8), word.start))) return false;
  if (name.startsWith('--') || /[$%&@]/.test(before)) return before === '@' && isRule(name);
  const { head, opensBlock, around } = statementAt(text, zones, zone, word);
  const isMixed = zone.language !== 'sheet';
  if (around !== undefined && NAMING_FUNCTIONS.has(around)) return false;
  const rule = /^@(?:-\w+-)?([\w-]+)/.exec(head)?.[1];
  // The short forms of mixins: =name and +name, and name().
  if (zone.language === 'sheet-by-indent' && (/^[=+]\s*$/.test(head) || /^\s*\(/.test(text.slice(word.end, word.end + 4)))) return false;
  if (rule !== undefined && /[.#]/.test(before)) return false;
  if (rule !== undefined) return NAMING_RULES.has(rule) ? rule === 'container' && around !== undefined : isRule(rule);
  if (opensBlock) return isWordOfSelector(head, before, name);
  if (before === '.') return false;
  const [, property, value] = /^([\w$@*-]+)\s*:([^]*)$/.exec(head) ?? [];
  if (property === undefined || value === undefined) return true;
  if (isMixed && /^[(.]/.test(text.slice(word.end, word.end + 1))) return false;
  if (/^(?:--|[$@])/.test(property)) return isCommon && !/[-_]/.test(name);
  return !isNaming(property);
}

function isNaming(property: string): boolean {
  return NAMING_PROPERTIES.has(property.toLowerCase().replace(/^-\w+-/, ''));
}

/** The same for the declarations of a `style` attribute. @param head what stands in it before the word */
export function isWordOfDeclaration(head: string, name: string): boolean {
  const own = head.slice(head.lastIndexOf(';') + 1).trimStart();
  const property = /^([\w-]+)\s*:/.exec(own)?.[1];
  if (name.startsWith('--') || /url\([^)]*$/.test(own) || property?.startsWith('--') === true) return false;
  return property === undefined || !isNaming(property);
}

function isRule(name: string): boolean {
  const plain = name.replace(/^-\w+-/, '');
  return NAMING_RULES.has(plain) || OTHER_RULES.has(plain);
}

/** `.x`, `#x` and custom elements (HTML, 4.13.3) are names; `section`, `:hover` and `[hidden]` are the language’s. */
function isWordOfSelector(head: string, before: string, name: string): boolean {
  if (/[.#]/.test(before)) return false;
  if (/\[\s*$/.test(head)) return !name.startsWith('data-');
  if (before === ':') return true;
  return !name.includes('-');
}

/** The statement that a place lies in: what stands before it, whether a block follows, and the function around the place. */
function statementAt(
  text: string,
  zones: readonly Zone[],
  zone: Zone,
  word: TextRange,
): { head: string; opensBlock: boolean; around: string | undefined } {
  let around: string | undefined;
  let depth = 0;
  let start = word.start;
  const floor = Math.max(0, word.start - REACH);
  let index = zoneIndex(zones, zone.start);
  for (; start > floor; start--) {
    if (start === zones[index]?.start) {
      const previous = zones[index - 1];
      if (previous === undefined || previous.language !== zone.language) break;
      index--;
      if (previous.kind !== 'code') {
        start = previous.start + 1;
        continue;
      }
    }
    const sign = text.charAt(start - 1);
    if (sign === '\n' && zone.language === 'sheet-by-indent' && !/,\s*$/.test(text.slice(Math.max(0, start - 20), start - 1))) break;
    if (sign === ')') depth++;
    else if (sign === '(') {
      if (depth === 0) around ??= /[\w-]*$/.exec(text.slice(Math.max(floor, start - 60), start - 1))?.[0] ?? '';
      else depth--;
    } else if (sign === '{' ? text.charAt(start - 2) !== '#' : sign === ';' || (sign === '}' && !isInterpolated(text, start - 1))) break;
  }
  const code = text.slice(start, word.start).replace(/\/\*[^]*?\*\//g, '');
  return { head: code.trimStart(), opensBlock: opensBlock(text, zones, zone, word.end), around };
}

/** `#{$x}` of preprocessors. */
function isInterpolated(text: string, brace: number): boolean {
  return /#\{[^{}\n]*$/.test(text.slice(Math.max(0, brace - 120), brace));
}

/** Whether the next line is further in than the line of a place; one that ends with a comma goes on in it. */
function isIndentedBelow(text: string, from: number): boolean {
  const head = text.slice(Math.max(0, from - REACH), from);
  const own = /^[ \t]*/.exec(head.slice(head.lastIndexOf('\n') + 1))?.[0].length ?? 0;
  const [rest = '', ...below] = text.slice(from, from + REACH).split('\n');
  const next = below.find((line) => line.trim() !== '');
  const depth = next === undefined ? 0 : next.length - next.trimStart().length;
  return /,\s*$/.test(rest) || depth > own;
}

function opensBlock(text: string, zones: readonly Zone[], zone: Zone, from: number): boolean {
  if (zone.language === 'sheet-by-indent') return isIndentedBelow(text, from);
  let index = zoneIndex(zones, zone.start);
  const limit = Math.min(text.length, from + REACH);
  for (let at = from; at < limit; at++) {
    while (at >= (zones[index]?.end ?? Infinity)) index++;
    const own = zones[index];
    if (own === undefined || own.language !== zone.language) return false;
    if (own.kind !== 'code') {
      at = own.end - 1;
      continue;
    }
    const sign = text.charAt(at);
    if (sign === '{' && text.charAt(at - 1) !== '#') return true;
    if (sign === ';' || (sign === '}' && !isInterpolated(text, at))) return false;
  }
  return false;
}
