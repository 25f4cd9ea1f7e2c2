import { plannedTree } from '../../src/core/changes/plan.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import type { FullName } from '../../src/core/names/full-name.ts';
import { renameTree, type RenameRequest } from '../../src/core/rename/rename-tree.ts';
import { scanForLeftovers } from '../../src/core/rename/second-scan.ts';
import { spell, splitWords } from '../../src/core/names/spelling.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed } from './trees.ts';

/** A name with the title that follows from it. */
export const named = (id: string, title = spell(splitWords(id), 'title')): FullName => ({ id, title });

type Wishes = Partial<Pick<RenameRequest, 'keep' | 'include' | 'decisions'>> & { platform?: string; others?: readonly string[] };

/** Renames a theme of these files in memory, and scans the result. */
export function rename(files: Record<string, string | Buffer> | MemoryTree, from: FullName, to: FullName, wishes: Wishes = {}) {
  const { platform = 'vereda', others = [], keep = [], include, decisions } = wishes;
  const tree = files instanceof MemoryTree ? files : MemoryTree.of(files);
  const theme = new Theme(platformNamed(platform), tree, from, from.id);
  const renamed = renameTree({ theme, from, to, otherThemes: others, keep, include, decisions });
  const after = plannedTree(renamed.operations);
  const leftovers = scanForLeftovers(after, from, to, [...renamed.kept, ...renamed.unsure]);
  return { ...renamed, tree: after, leftovers };
}
