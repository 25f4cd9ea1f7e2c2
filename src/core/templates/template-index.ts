import { shapePattern } from '../names/shape.ts';
import type { TemplateContract } from '../platform/schema.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { folderOf, resolveInTree } from '../files/file-tree.ts';
import { languageOf } from './languages.ts';
import { liesIn, type Template, type NamedTag, withGuards } from './template.ts';
import { compareRanges, type TextRange } from '../text/edits.ts';
import { endingOf } from '../text/file-kinds.ts';
import { findZones } from '../text/zones.ts';

const known = new WeakMap<SourceDocument, Template>();

/** Reads a template in its platform's language, once. */
export function readTemplate(source: SourceDocument, contract: TemplateContract): Template {
  const read = known.get(source) ?? readAnew(source, contract);
  known.set(source, read);
  return read;
}

function readAnew({ file, text }: SourceDocument, contract: TemplateContract): Template {
  const template = languageOf(contract, file).read(text, commentsOfCode(file, text));
  const shapes = contract.partials?.include ?? [];
  if (shapes.length === 0) return template;
  // How a host includes its partials is the platform's to say, whatever else its language could include.
  const tags: NamedTag[] = [];
  for (const shape of shapes) {
    for (const match of searchTemplate(template, text, shapePattern(shape.replace('{name}', '{path}')))) {
      const name = match.groups?.['path'] ?? '';
      const start = match.index;
      tags.push({ name, nameStart: start + match[0].lastIndexOf(name), start, end: start + match[0].length });
    }
  }
  return { ...template, includes: withGuards(tags.sort(compareRanges), template.sections) };
}

/** Where a template is a program, comments of its language. Those of markup hide nothing: hosts fill tags in them, too. */
function commentsOfCode(file: string, text: string): TextRange[] {
  if (!['code', 'script'].includes(endingOf(file).kind)) return [];
  return findZones(file, text, true).filter(({ kind, start }) => kind === 'comment' && !text.startsWith('<!--', start));
}

/** Matches of a pattern in a template, those in comments left out. */
export function* searchTemplate(template: Template, text: string, pattern: RegExp): Generator<RegExpExecArray> {
  for (const match of text.matchAll(pattern)) if (!liesIn(template.comments, match.index)) yield match;
}

/** A template's text without its comments. */
export function textWithoutComments(template: Template, text: string): string {
  let at = 0;
  const parts = template.comments.map(({ start, end }) => {
    const part = text.slice(at, start);
    at = end;
    return part;
  });
  return [...parts, text.slice(at)].join('');
}

/** A template's path, and those that it could have with other endings. */
export function withEndings({ endings }: Pick<TemplateContract, 'endings'>, path: string): string[] {
  const whole = withoutEnding(endings, path);
  return whole === path ? [path] : [...new Set([path, ...endings.map((ending) => `${whole}.${ending}`)])];
}

function withoutEnding(endings: readonly string[], path: string): string {
  const ending = endings.find((each) => path.endsWith(`.${each}`));
  return ending === undefined ? path : path.slice(0, -ending.length - 1);
}

/**
 * The paths at which a partial can lie, from the name that an include gives it: the first of them that is there is meant.
 * @param from the file that the include stands in
 */
export function pathsOfPartial(contract: TemplateContract, name: string, from: string): string[] {
  const { partials, endings } = contract;
  if (partials === undefined) return [];
  const { rooted, relative, file } = partials;
  // A name may say its ending; then no other is meant.
  const isWhole = withoutEnding(endings, name) !== name;
  const shape = isWhole ? withoutEnding(endings, file) : file;
  const inAnyEnding = (path: string): string[] => (isWhole ? [path] : withEndings(contract, path));
  if (rooted && name.startsWith('/')) return inAnyEnding(name.slice(1));
  const fromTheme = inAnyEnding(shape.replace(/\{(?:path|name)\}/, () => name));
  const isDotted = /^\.\.?\//.test(name);
  if (relative === 'never' || (relative === 'dotted' && !isDotted)) return fromTheme;
  // An ending that a name lacks, such as an extension, it lacks in any folder.
  const beside = resolveInTree(folderOf(from), `${name}${shape.split(/\{(?:path|name)\}/)[1] ?? ''}`);
  const near = beside === undefined ? [] : inAnyEnding(beside);
  // The likeliest place comes last: of what is nowhere, that one is missed.
  return relative === 'first' && !isDotted ? [...near, ...fromTheme.toReversed()] : near.toReversed();
}

/** The name of the partial that lies at a path; undefined when none can lie there. */
export function partialAtPath({ partials, endings }: TemplateContract, path: string): string | undefined {
  if (partials === undefined) return undefined;
  const [before = '', after = ''] = withoutEnding(endings, partials.file).split(/\{(?:path|name)\}/);
  const whole = withoutEnding(endings, path);
  const name = whole.slice(before.length, whole.length - after.length);
  const isFitting = name !== '' && whole.length > before.length + after.length && whole.startsWith(before) && whole.endsWith(after);
  return isFitting && (partials.file.includes('{path}') || !name.includes('/')) ? name : undefined;
}
