import { shapePattern } from '../names/shape.ts';
import { compareRanges, type TextRange } from '../text/edits.ts';
import {
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

/** A template language by the shapes of its tags, as a platform file describes it. What has no shape is not told. */
type DescribedLanguage = Exclude<TemplateContract['language'], string>;

/** Stands in a shape for any text, up to the first place at which what follows it stands. */
export const ANY_TEXT = '{text}';

/** Makes a language of its description. */
export function describedLanguage(shapes: DescribedLanguage): TemplateLanguage {
  return { read: (text) => read(text, shapes), knowsSections: shapes.opens.length > 0 && shapes.closes.length > 0, isRendered: false };
}

function read(text: string, shapes: DescribedLanguage): Template {
  const comments = tagsIn(text, shapes.comment, []);
  const find = (kind: Exclude<keyof DescribedLanguage, 'comment' | 'called'>): NamedTag[] => tagsIn(text, shapes[kind], comments);
  const [included, extended, opens, closes] = [find('include'), find('extend'), find('opens'), find('closes')];
  const { sections, problems } = pair(text, opens, closes);
  const taken = [...included, ...extended, ...opens, ...closes].sort(compareRanges);
  const print = (isRaw: boolean) =>
    find(isRaw ? 'raw' : 'print')
      .filter(({ start }) => !liesIn(taken, start))
      .map((tag) => ({ ...tag, isRaw }));
  const raw = print(true);
  const prints = [...raw, ...print(false).filter(({ start }) => !liesIn(raw, start))].sort(compareRanges);
  return {
    includes: withGuards(included, sections),
    extends: extended,
    sections,
    prints,
    comments,
    texts: textsBetween(text, [...comments, ...taken, ...prints].sort(compareRanges)),
    problems: shapes.opens.length > 0 && shapes.closes.length > 0 ? problems : [],
  };
}

/** Where tags of some shapes stand, sorted; none within another, none in a comment. */
function tagsIn(text: string, shapes: readonly string[], comments: readonly TextRange[]): NamedTag[] {
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
  const opening = shapePattern(before.trimEnd());
  const closing = shapePattern(after.trimStart());
  for (let match = opening.exec(text); match !== null; match = opening.exec(text)) {
    const inside = match.index + match[0].length;
    closing.lastIndex = inside;
    const closed = after.trim() === '' ? undefined : closing.exec(text);
    // What nothing closes any more closes none of those that follow.
    if (closed === null) return;
    const end = closed === undefined ? inside : closed.index + closed[0].length;
    const body = text.slice(inside, closed?.index ?? inside);
    const name = body.trim();
    yield { start: match.index, end, name, nameStart: inside + body.indexOf(name) };
    opening.lastIndex = end;
  }
}

/** A tag as it stands in the text, on one line. */
function shownTag(text: string, { start, end }: TextRange): string {
  return text.slice(start, end).replace(/\s+/g, ' ').slice(0, 60);
}

/** What opens reaches to what closes it; any closing tag closes the innermost. */
function pair(text: string, opens: readonly NamedTag[], closes: readonly NamedTag[]): { sections: Section[]; problems: TemplateProblem[] } {
  const sections: (Section & { until: number })[] = [];
  const open: (Section & { until: number })[] = [];
  const problems: TemplateProblem[] = [];
  const marks = [...opens.map((tag) => ({ tag, isOpening: true })), ...closes.map((tag) => ({ tag, isOpening: false }))];
  for (const { tag, isOpening } of marks.sort((a, b) => compareRanges(a.tag, b.tag))) {
    if (isOpening) {
      const section = { ...tag, until: text.length };
      sections.push(section);
      open.push(section);
    } else {
      const opened = open.pop();
      if (opened === undefined) problems.push({ code: 'unopenedSection', name: shownTag(text, tag), start: tag.start, end: tag.end });
      else opened.until = tag.end;
    }
  }
  for (const tag of open) problems.push({ code: 'unclosedSection', name: shownTag(text, tag), start: tag.start, end: tag.end });
  return { sections, problems };
}
