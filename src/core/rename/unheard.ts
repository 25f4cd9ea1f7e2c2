import { KeptByWish } from './kept.ts';
import { isKeptGroup } from './matching.ts';
import type { RenamedTree } from './rename-tree.ts';

/** The texts and files among wishes that no place of a rename has anything to do with: they were misspelled, or meant another theme. */
export function unheardWishes(
  { edits, kept, unsure }: Pick<RenamedTree, 'edits' | 'kept' | 'unsure'>,
  wishes: readonly string[],
): string[] {
  const places = [...edits.map(({ was, before }) => ({ was, text: before })), ...kept, ...unsure];
  return wishes.filter((wish) => {
    if (wish === 'unsure' || isKeptGroup(wish)) return false;
    const wanted = new KeptByWish([wish]);
    return !places.some(({ was, text }) => wanted.find(was.file, text).length > 0);
  });
}
