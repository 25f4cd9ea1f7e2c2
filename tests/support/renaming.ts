import { plannedTree } from '../../src/core/changes/plan.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import type { FullName } from '../../src/core/names/full-name.ts';
import { judge } from '../../src/core/rename/judges.ts';
import type { Match } from '../../src/core/rename/match.ts';
import { findMentions } from '../../src/core/rename/match-text.ts';
import { prepareMatching, type Matching, type MatchingSetup } from '../../src/core/rename/matching.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import type { RenameRequest } from '../../src/core/rename/rename-request.ts';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { scanForLeftovers } from '../../src/core/rename/second-scan.ts';
import { spell, splitWords } from '../../src/core/names/spelling.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed } from './trees.ts';

/** A name with the title that follows from it. */
export const named = (id: string, title = spell(splitWords(id), 'title')): FullName => ({ id, title });

type Wishes = Partial<Pick<RenameRequest, 'keep' | 'include' | 'decisions'>> & { platform?: string; others?: readonly string[] };

/** Renames a theme of these files in memory, and scans the result; what would be broken is among the leftovers. */
export function rename(files: Record<string, string | Buffer> | MemoryTree, from: FullName, to: FullName, wishes: Wishes = {}) {
  const { platform = 'vereda', others = [], keep = [], include, decisions } = wishes;
  const tree = files instanceof MemoryTree ? files : MemoryTree.of(files);
  const theme = new Theme(platformNamed(platform), tree, from, from.id);
  const renamed = renameTree({ theme, from, to, otherThemes: others, keep, include, decisions });
  const after = plannedTree(renamed.operations);
  const leftovers = scanForLeftovers(after, from, to, [...renamed.kept, ...renamed.unsure]);
  return { ...renamed, tree: after, leftovers: [...leftovers, ...renamed.broken] };
}

/** The theme `albar` as matching knows it, with what a test changes. */
export function matchingFor(wishes: Partial<MatchingSetup> = {}): Matching {
  return prepareMatching({
    ...{ from: named('albar'), to: named('lumbre'), others: [], otherThemes: [], author: undefined, version: undefined, folder: undefined },
    ...{
      keep: [],
      include: [],
      splits: [],
      shapes: [],
      hostNames: [],
      templates: [],
      usedNames: [],
      entryDocuments: [],
      dependencies: [],
      bundled: [],
      packages: [],
      moved: [],
    },
    ...{ staying: [], isParent: false, isBegun: false, parentFiles: [], files: [], home: undefined, binaryPaths: [] },
    ...wishes,
  });
}

/** What is judged of the last mention in a text. */
export function judgedLast(file: string, text: string, matching: Matching = matchingFor()): Match {
  const source = SourceDocument.decode(file, Buffer.from(text));
  const mention = source === undefined ? undefined : findMentions(source, matching).at(-1);
  if (mention === undefined) throw new Error(`no mention in ${text}`);
  return judge(mention);
}
