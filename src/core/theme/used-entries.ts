import { childrenOf, findEntry, type ValueNode } from '../documents/syntax.ts';
import type { ThemeDocument } from './documents.ts';

/**
 * What other files call the entries of a document, with the entries: `theme_albar_width` → `albar_width`, and of entries
 * within entries `theme.menu.albar` → `albar`.
 */
export function usedNames({ contract, root }: ThemeDocument): (readonly [used: string, entry: string])[] {
  return contract['used-as'].flatMap(({ entries, as }) => {
    const keys = typeof entries === 'string' ? [entries] : entries;
    const part = keys.length === 0 ? root : findEntry(root, keys)?.value;
    const isDeep = as.includes('{path}');
    return [...pathsIn(part, isDeep ? DEEPEST : 1)].map(
      (path) => [as.replace(/\{\w+\}/, () => path.join('.')), path.at(-1) ?? ''] as const,
    );
  });
}

/** A document of others may be nested without end. */
const DEEPEST = 20;

function* pathsIn(part: ValueNode | undefined, depth: number, above: readonly string[] = []): Generator<readonly string[]> {
  if (depth === 0) return;
  for (const { key, value } of childrenOf(part)) {
    yield [...above, key];
    yield* pathsIn(value, depth - 1, [...above, key]);
  }
}
