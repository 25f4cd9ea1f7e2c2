import { isLineEnd, shapePattern, shortestShape } from '../names/shape.ts';
import { readEmbedded, type EmbeddedCode } from './embedded-code.ts';
import { compareRanges, type TextRange } from '../text/edits.ts';
import {
  endAt,
  liesIn,
  textsBetween,
  type NamedTag,
  type Section,
  type Template,
  type TemplateLanguage,
  type TemplateProblem,
  withGuards,
} from './template.ts';
import type { TemplateContract } from '../platform/schema.ts';

/** A template language by the shapes of its tags, as a platform file describes it. Tags without a shape are not seen. */
type DescribedLanguage = Exclude<TemplateContract['language'], string>;

/** So much of a tag is shown. */
const MAX_SHOWN = 60;

/** Stands in a shape for any text, up to the first place at which what follows it stands. */
export const ANY_TEXT = '{text}';

/** Makes a language of its description. */
export function describedLanguage(shapes: DescribedLanguage): TemplateLanguage {
  return {
    read: (text, hidden = []) => read(text, shapes, hidden),
    knowsSections: kindsOf(shapes).length > 0 || shapes.code.length > 0,
    isRendered: false,
  };
}

/** What opens and closes one kind of section. */
interface SectionKind {
  readonly opens: readonly string[];
  readonly closes: readonly string[];
}

function kindsOf({ sections, opens, closes }: DescribedLanguage): SectionKind[] {
  const kinds = sections.map((each) => ({ opens: [each.opens], closes: [each.closes] }));
  return opens.length > 0 && closes.length > 0 ? [...kinds, { opens, closes }] : kinds;
}

function read(text: string, shapes: DescribedLanguage, hidden: readonly TextRange[]): Template {
  const comments = [...tagsIn(text, shapes.comment, hidden), ...hidden].sort(compareRanges);
  const find = (kind: 'include' | 'extend' | 'print' | 'raw'): NamedTag[] => tagsIn(text, shapes[kind], comments);
  const [included, extended] = [find('include'), find('extend')];
  const marks = kindsOf(shapes).flatMap((kind) => [
    ...tagsIn(text, kind.opens, comments).map((tag) => ({ tag, kind, isOpening: true })),
    ...tagsIn(text, kind.closes, comments).map((tag) => ({ tag, kind, isOpening: false })),
  ]);
  const { sections, problems } = pair(text, marks);
  problems.push(...unclosedTags(text, shapes, comments));
  const taken = [...included, ...extended, ...marks.map(({ tag }) => tag)].sort(compareRanges);
  const print = (isRaw: boolean) =>
    find(isRaw ? 'raw' : 'print')
      .filter(({ start }) => !liesIn(taken, start))
      .map((tag) => ({ ...tag, isRaw }));
  const raw = print(true);
  const prints = [...raw, ...print(false).filter(({ start }) => !liesIn(raw, start))].sort(compareRanges);
  const code = codeIn(text, shapes, prints, comments);
  if (code?.problem !== undefined && problems.length === 0) {
    const { message, at } = code.problem;
    problems.push({ code: 'brokenCode', name: message, start: at, end: Math.min(at + 1, text.length) });
  }
  return {
    includes: withGuards(included, code === undefined ? sections : [...sections, ...branchesOf(code)].sort(compareRanges)),
    extends: extended,
    sections,
    prints,
    comments,
    texts: textsBetween(text, [...comments, ...taken, ...prints].sort(compareRanges)),
    problems,
    code,
  };
}

/** The parts of a program that run under a condition, or for each of a list, as sections. */
function branchesOf({ branches }: EmbeddedCode): Section[] {
  return branches.map(({ start, end }) => ({ start, end: start, name: '', nameStart: start, until: end }));
}

/** The program in a language whose tags hold one. */
function codeIn(
  text: string,
  { code }: DescribedLanguage,
  prints: readonly NamedTag[],
  comments: readonly TextRange[],
): EmbeddedCode | undefined {
  if (code.length === 0) return undefined;
  const values = new Set(prints.map(({ start }) => start));
  // The longest mark that fits says where the code begins: `<%_` before `<%`.
  const opening = code.map((shape) => shape.split(ANY_TEXT)[0]?.trim() ?? '').sort((a, b) => b.length - a.length);
  const statements = tagsIn(text, code, comments).filter(({ start }) => !values.has(start));
  const parts = [...prints.map((tag) => ({ tag, isValue: true })), ...statements.map((tag) => ({ tag, isValue: false }))]
    .sort((a, b) => compareRanges(a.tag, b.tag))
    .map(({ tag, isValue }) => {
      const mark = isValue ? '' : (opening.find((each) => text.startsWith(each, tag.start)) ?? '');
      const start = isValue ? tag.nameStart : tag.start + mark.length;
      // A hyphen or an underscore at the end belongs to the mark: `-%>`.
      const body = text.slice(start, tag.nameStart + tag.name.length);
      const isTrimming = /[-_]$/.test(body) && !/\s/.test(text.charAt(start + body.length));
      const code = isTrimming ? body.slice(0, -1) : body;
      // A semicolon after a value is passed over.
      return { start, end: start + (isValue ? code.replace(/[;\s]+$/, '') : code).length, isValue };
    });
  return readEmbedded(text, parts);
}

/** Where tags of some shapes stand, sorted; none within another, none in a comment. */
export function tagsIn(text: string, shapes: readonly string[], comments: readonly TextRange[]): NamedTag[] {
  const all = shapes.flatMap((shape) => (shape.includes(ANY_TEXT) ? [...stretches(text, shape)] : [...matches(text, shape)]));
  const tags: NamedTag[] = [];
  for (const tag of all.sort(compareRanges)) {
    if (tag.start >= (tags.at(-1)?.end ?? 0) && !liesIn(comments, tag.start)) tags.push(tag);
  }
  return tags;
}

function* matches(text: string, shape: string): Generator<NamedTag> {
  for (const match of text.matchAll(shapePattern(shape))) {
    const name = match.groups?.['path'] ?? match.groups?.['name'] ?? '';
    yield { start: match.index, end: match.index + match[0].length, name, nameStart: match.index + match[0].lastIndexOf(name) };
  }
}

/** Between what opens and what closes there can be anything, so it is not searched for by a pattern that tries every length. */
function* stretches(text: string, shape: string): Generator<NamedTag> {
  const [before = '', after = ''] = shape.split(ANY_TEXT);
  const opening = openingPattern(before);
  const closing = isLineEnd(after) ? /$/gm : shapePattern(after.trimStart());
  for (let match = opening.exec(text); match !== null; match = opening.exec(text)) {
    const inside = match.index + match[0].length;
    closing.lastIndex = inside;
    const closed = after === '' ? undefined : closing.exec(text);
    // What nothing closes any more closes none of those that follow.
    if (closed === null) return;
    const end = closed === undefined ? inside : closed.index + closed[0].length;
    const body = text.slice(inside, closed?.index ?? inside);
    const name = body.trim();
    yield { start: match.index, end, name, nameStart: inside + body.indexOf(name) };
    opening.lastIndex = end;
  }
}

/**
 * A pattern for the text before {@link ANY_TEXT}. A word with a blank behind it is a whole one: `{% if {text}` does not begin `{% ifchanged`,
 * but `{% end{text}` begins `{% endif`.
 */
function openingPattern(before: string): RegExp {
  const { source, flags } = shapePattern(before.trimEnd());
  return new RegExp(/\w\s+$/.test(before) ? `${source}(?!\\w)` : source, flags);
}

/** A mark that may be left out at the end of a file. */
const MAY_BE_ABSENT = '?>';

/** The marks around tags, such as `{{` and `}}`; those that are a single character can stand for much else. */
function marksOf({ print, raw, sections, opens, comment }: DescribedLanguage): (readonly [before: string, after: string])[] {
  const shapes = [...print, ...raw, ...sections.map((each) => each.opens), ...opens, ...comment];
  const pairs = shapes.flatMap((shape) => {
    const [before = '', after = ''] = shortestShape(shape).split(ANY_TEXT);
    const marks = [/^[^\w\s"']*/.exec(before.trim())?.[0] ?? '', /[^\w\s"']*$/.exec(after.trim())?.[0] ?? ''] as const;
    return marks.every((mark) => mark.length > 1 && mark !== MAY_BE_ABSENT) ? [marks] : [];
  });
  return [...new Map(pairs.map((each) => [each.join('\0'), each])).values()];
}

/** Tags that nothing closes, or only the end of a later one; what is in quotes begins none. */
function* unclosedTags(text: string, shapes: DescribedLanguage, comments: readonly TextRange[]): Generator<TemplateProblem> {
  for (const [before, after] of marksOf(shapes)) {
    let next = 0;
    for (let start = text.indexOf(before); start >= 0; start = text.indexOf(before, next)) {
      const commentEnd = endAt(comments, start);
      const closed = commentEnd ?? text.indexOf(after, start + before.length);
      next = closed;
      if (commentEnd !== undefined) continue;
      const body = text.slice(start + before.length, closed < 0 ? text.length : closed).replace(/"[^"\n]*"|'[^'\n]*'/g, '');
      if (closed < 0 || body.includes(before)) {
        const until = start + (/^.*/.exec(text.slice(start, start + MAX_SHOWN))?.[0].length ?? 0);
        yield { code: 'unclosedTag', name: shownTag(text, { start, end: until }), start, end: until };
      }
      // Of many that nothing closes the first says enough.
      if (closed < 0) break;
    }
  }
}

/** A tag as it stands in the text, on one line. */
function shownTag(text: string, { start, end }: TextRange): string {
  return text.slice(start, end).replace(/\s+/g, ' ').slice(0, MAX_SHOWN);
}

/** A tag that opens or closes a section of some kind. */
interface Mark {
  readonly tag: NamedTag;
  readonly kind: SectionKind;
  readonly isOpening: boolean;
}

/** An opening tag reaches to the one that closes its kind; one that closes another kind than the innermost is a problem. */
function pair(text: string, marks: readonly Mark[]): { sections: Section[]; problems: TemplateProblem[] } {
  const sections: (Section & { until: number })[] = [];
  const open: { readonly section: Section & { until: number }; readonly kind: SectionKind }[] = [];
  const problems: TemplateProblem[] = [];
  for (const { tag, kind, isOpening } of marks.toSorted((a, b) => compareRanges(a.tag, b.tag))) {
    if (isOpening) {
      const section = { ...tag, until: text.length };
      sections.push(section);
      open.push({ section, kind });
      continue;
    }
    const { start, end } = tag;
    const innermost = open.at(-1);
    if (innermost === undefined) problems.push({ code: 'unopenedSection', name: shownTag(text, tag), start, end });
    else if (innermost.kind !== kind) {
      const names = { name: shownTag(text, innermost.section), other: shownTag(text, tag) };
      problems.push({ code: 'otherSection', ...names, start, end });
      // Where one of its kind is open further out, what is in that was forgotten; else the tag has the wrong name.
      const at = open.findLastIndex((each) => each.kind === kind);
      for (const each of open.splice(at < 0 ? -1 : at)) each.section.until = end;
    } else {
      open.pop();
      innermost.section.until = end;
    }
  }
  for (const { section } of open)
    problems.push({ code: 'unclosedSection', name: shownTag(text, section), start: section.start, end: section.end });
  return { sections, problems };
}
