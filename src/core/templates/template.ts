import type { TextRange } from '../text/edits.ts';
import type { EmbeddedCode } from './embedded-code.ts';

/** A tag with a name in it, and where the name stands. All offsets are 0-based, ends exclusive. */
export interface NamedTag extends TextRange {
  readonly name: string;
  readonly nameStart: number;
}

/** A tag that takes another template in. */
export interface Include extends NamedTag {
  /** Whether it stands in a section: a list that comes to its end, or a condition, can stop it. */
  readonly isGuarded: boolean;
}

/** A stretch that is shown under a condition or for each entry of a list: its opening tag. */
export interface Section extends NamedTag {
  /** Where the stretch ends, with its closing tag; the end of the text when nothing closes it. */
  readonly until: number;
}

/** A value that is printed. */
export interface Print extends NamedTag {
  /** Whether markup in the value is printed as it is. */
  readonly isRaw: boolean;
}

/** A syntax error in a template's language. */
export interface TemplateProblem extends TextRange {
  readonly code: 'unclosedSection' | 'unopenedSection' | 'otherSection' | 'unclosedTag' | 'brokenCode';
  /** The section's name, the tag, or what is wrong with the code. */
  readonly name: string;
  /** Of a section that another one's tag closes: the name in that tag. */
  readonly other?: string | undefined;
}

/** A template, read once by its language; each list in the order of the text. */
export interface Template {
  readonly includes: readonly Include[];
  /** The layout around it. */
  readonly extends: readonly NamedTag[];
  readonly sections: readonly Section[];
  readonly prints: readonly Print[];
  readonly comments: readonly TextRange[];
  /** The text between the tags. */
  readonly texts: readonly TextRange[];
  readonly problems: readonly TemplateProblem[];
  /** The program in it, in a language whose tags hold one. */
  readonly code?: EmbeddedCode | undefined;
}

/** A language that templates are written in. */
export interface TemplateLanguage {
  /** @param hidden comments of the code that the template is, sorted: no tags are in them */
  read(text: string, hidden?: readonly TextRange[]): Template;
  /** Whether it tells conditions and lists from what is always shown: else nobody can say that a circle has no end. */
  readonly knowsSections: boolean;
  /** Whether the stand-in host can show pages in it. */
  readonly isRendered: boolean;
}

/** The names that a template includes or is laid into, each once, however often it says them. */
export function namesIn({ includes, extends: into }: Template): Set<string> {
  const names = new Set<string>();
  for (const { name } of includes) names.add(name);
  for (const { name } of into) names.add(name);
  return names;
}

/** Tags with whether a section holds each; found in one pass, however many there are. @param tags sorted, as the sections are */
export function withGuards(tags: readonly NamedTag[], sections: readonly Section[]): Include[] {
  let next = 0;
  let reach = 0;
  return tags.map((tag) => {
    for (let section = sections[next]; section !== undefined && section.start < tag.start; section = sections[++next])
      reach = Math.max(reach, section.until);
    const { name, nameStart, start, end } = tag;
    return { name, nameStart, start, end, isGuarded: end <= reach };
  });
}

/** Whether an offset lies in one of some ranges, which are sorted. */
export function liesIn(ranges: readonly TextRange[], offset: number): boolean {
  return endAt(ranges, offset) !== undefined;
}

/** The end of the range that an offset lies in, of some ranges that are sorted; undefined when it lies in none. */
export function endAt(ranges: readonly TextRange[], offset: number): number | undefined {
  let low = 0;
  let high = ranges.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((ranges[middle]?.end ?? 0) <= offset) low = middle + 1;
    else high = middle;
  }
  const range = ranges[low];
  return range !== undefined && range.start <= offset ? range.end : undefined;
}

/** The stretches of a text that no tag covers. @param tags sorted, maybe one in another */
export function textsBetween(text: string, tags: readonly TextRange[]): TextRange[] {
  const texts: TextRange[] = [];
  let at = 0;
  for (const { start, end } of tags) {
    if (start > at) texts.push({ start: at, end: start });
    at = Math.max(at, end);
  }
  if (at < text.length) texts.push({ start: at, end: text.length });
  return texts;
}
