import { matchesAny } from '../files/glob.ts';
import { fillShape, shapePattern } from '../names/shape.ts';
import { isInSpan } from '../platform/platform.ts';
import type { Completion, Proposal } from './completion.ts';
import type { EditedFile } from './editor-workspace.ts';

/**
 * Names as the platform wants them, where code declares one.
 * @param file with a mark in the place of the word
 * @param word what is typed of the name
 */
export function wantedNamesAt({ theme, path }: EditedFile, mark: string, word: string): Proposal[] | undefined {
  const text = theme.source(path)?.text ?? '';
  const declaring = theme.platform.contract.identifiers.filter(
    (each) =>
      isInSpan(each, theme.platform.contract.releases) &&
      matchesAny(path, each.files) &&
      [...text.matchAll(shapePattern(each.declared))].some((match) => match[0].includes(mark)),
  );
  if (declaring.length === 0) return undefined;
  return declaring.flatMap(({ shape }) =>
    shape.map((each): Proposal => {
      const [before = '', after = ''] = fillShape(each, theme.names).split('{name}');
      // The word stays the name, unless it begins the part that every name must carry.
      const name = before.startsWith(word) ? '' : word.startsWith(before) ? word.slice(before.length) : word;
      const insert = `${before}${name}${name === '' ? '' : after}`;
      return { label: `${insert}${name === '' ? '…' : ''}`, insert, kind: 'name', about: 'names here carry the theme’s id' };
    }),
  );
}

/** Fragments that the host fills, where the beginning of one was typed in a template that lacks it. */
export function fragmentsAt({ theme, path }: EditedFile, offset: number): Completion[] {
  const { templates } = theme.platform.contract;
  if (templates === undefined || !matchesAny(path, templates.files)) return [];
  const text = theme.source(path)?.text ?? '';
  const wanted = [
    ...templates.fragments.flatMap((each) =>
      each.files === undefined || matchesAny(path, each.files) ? [{ ...each, about: `without it ${each.why}` }] : [],
    ),
    ...Object.values(templates.roles).flatMap(({ file, prints, about }) =>
      file === path ? prints.map((each) => ({ text: each, 'any-case': false, about })) : [],
    ),
  ];
  return wanted.flatMap(({ text: fragment, 'any-case': isAnyCase, about }): Completion[] => {
    if (isAnyCase ? text.toLowerCase().includes(fragment.toLowerCase()) : text.includes(fragment)) return [];
    const begun = lengthOfEnd(text.slice(0, offset), fragment);
    return begun === 0 ? [] : [{ start: offset - begun, end: offset, label: fragment, insert: fragment, kind: 'fragment', about }];
  });
}

/** How much of the beginning of a word a text ends with. */
function lengthOfEnd(text: string, word: string): number {
  for (let length = Math.min(word.length, text.length); length > 0; length--) if (text.endsWith(word.slice(0, length))) return length;
  return 0;
}
