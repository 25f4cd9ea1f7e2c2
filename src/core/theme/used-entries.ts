import { childrenOf, findEntry } from '../documents/syntax.ts';
import type { ThemeDocument } from './documents.ts';

/** What other files call the entries of a document, with the entries: `theme_albar_width` → `albar_width`. */
export function usedNames({ contract, root }: ThemeDocument): (readonly [used: string, entry: string])[] {
  return contract['used-as'].flatMap(({ entries, as }) => {
    const part = findEntry(root, typeof entries === 'string' ? [entries] : entries)?.value;
    return childrenOf(part).map(({ key }) => [as.replace('{name}', () => key), key] as const);
  });
}
