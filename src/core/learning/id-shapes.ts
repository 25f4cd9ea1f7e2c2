import { spell, splitWords, type Spelling } from '../names/spelling.ts';

/** The spellings that names of files, keys and identifiers have; of those that are alike for most ids the commonest comes first. */
const OF_NAMES: readonly Spelling[] = ['snake', 'kebab', 'flat', 'camel', 'pascal', 'constant', 'capitalSnake', 'train', 'capitalFlat'];

/** An id in one of its spellings, and the placeholder that stands for it in shapes. */
export interface SpelledId {
  readonly placeholder: string;
  readonly text: string;
}

const known = new Map<string, readonly SpelledId[]>();

/** The ways in which names spell an id: first as it is. */
export function spelledIds(id: string): readonly SpelledId[] {
  const made = known.get(id) ?? [
    { placeholder: '{id}', text: id },
    ...OF_NAMES.map((spelling) => ({ placeholder: `{id:${spelling}}`, text: spell(splitWords(id), spelling) })),
  ];
  known.set(id, made);
  return made;
}

/** The id, in any spelling, in a shape. */
const PLACEHOLDER = /\{id(?::\w+)?\}/g;

/** A glob of all files of a shape. */
export function globOfShape(shape: string): string {
  return shape.replace(PLACEHOLDER, '*');
}

/** Whether a shape holds the id in any spelling. */
export function holdsId(shape: string): boolean {
  return shape.search(PLACEHOLDER) >= 0;
}
