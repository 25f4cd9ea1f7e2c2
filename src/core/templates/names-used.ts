import type { NamesContract, TemplateContract } from '../platform/schema.ts';
import { Wildcard } from '../text/wildcard.ts';
import { shapePattern } from '../names/shape.ts';
import type { TextRange } from '../text/edits.ts';
import { tagsIn } from './described.ts';
import { liesIn, type Template } from './template.ts';

/** A name of the language or of the host that a template uses. */
export interface NameUse extends TextRange {
  readonly name: string;
}

/** The kinds of names that a template language has. */
export function namesOf(language: TemplateContract['language']): readonly NamesContract[] {
  return typeof language === 'object' ? language.names : [];
}

/** How functions are called; in a language whose tags hold a program, its calls are meant. */
export const CALL = '{name}(';

/** Tells whether the host has a name of a kind. */
export function hostNames({ known, 'any-case': isAnyCase }: NamesContract): (name: string) => boolean {
  const inCase = (text: string): string => (isAnyCase ? text.toLowerCase() : text);
  const exact = new Set(known.map(inCase));
  const patterns = known.filter((each) => each.includes('*')).map((each) => new Wildcard(inCase(each), /\W/));
  return (name) => exact.has(inCase(name)) || patterns.some((each) => each.matches(inCase(name)));
}

/** The names of one kind that a template uses, in the order of the text; those in comments and in texts of code left out. */
export function namesUsed(
  text: string,
  { comments, code }: Pick<Template, 'comments' | 'code'>,
  { shape, within }: NamesContract,
): readonly NameUse[] {
  if (code !== undefined && shape === CALL) return code.calls;
  const places = within.length === 0 ? [{ start: 0, end: text.length }] : tagsIn(text, within, comments);
  const hasQuotes = /["']/.test(shape);
  return places.flatMap(({ start, end }) => {
    const part = text.slice(start, end);
    // Text between quotes is data, unless the shape asks for it.
    return namesIn(hasQuotes || within.length === 0 ? part : withoutTexts(part), shape)
      .map((use) => ({ ...use, start: start + use.start, end: start + use.end }))
      .filter((use) => !liesIn(comments, use.start));
  });
}

/** The names of one kind that a template makes itself. */
export function namesDeclared(
  text: string,
  { comments, code }: Pick<Template, 'comments' | 'code'>,
  { shape: use, declared }: NamesContract,
): string[] {
  if (code !== undefined && use === CALL) return [...code.declares];
  return declared.flatMap((shape) =>
    namesIn(text, shape)
      .filter(({ start }) => !liesIn(comments, start))
      .map(({ name }) => name),
  );
}

function namesIn(text: string, shape: string): NameUse[] {
  const found: NameUse[] = [];
  for (const match of text.matchAll(shapePattern(shape))) {
    const name = match.groups?.['name'] ?? '';
    // A method, or a filter with arguments, belongs to what stands before it.
    if (shape.startsWith('{name}') && /(?:[\w.$]|\|\s*)$/.test(text.slice(Math.max(0, match.index - 5), match.index))) continue;
    const start = match.index + match[0].lastIndexOf(name);
    found.push({ name, start, end: start + name.length });
  }
  return found;
}

/** Code with blanks in place of its texts. */
function withoutTexts(code: string): string {
  return code.replace(/"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/gs, (text) => ' '.repeat(text.length));
}
