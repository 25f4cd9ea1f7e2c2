import type { FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { analyseText, decisionsOn, NameSieve, type Decisions, type FileAnalysis, type FileGlance } from './analyse-file.ts';
import { prepareMatching, type MatchingSetup } from './matching.ts';
import type { FullName } from '../names/full-name.ts';

/** What a first look at files needs to know. */
export interface GlanceSetup {
  readonly from: FullName;
  readonly to: FullName;
}

/** What a close reading of files needs to know. */
export interface AnalysisSetup {
  readonly matching: MatchingSetup;
  readonly decisions: Decisions;
}

interface Files {
  readonly tree: FileTree;
  readonly paths: readonly string[];
}

/** Looks for the names in the bytes of files; those with nothing to say are left out. */
export function glanceAt({ tree, paths, from, to }: GlanceSetup & Files): FileGlance[] {
  const sieve = new NameSieve(from, to);
  return paths.map((path) => sieve.glance(tree, path)).filter((each) => each.holds !== 'nothing' || each.hasChecksums);
}

/** Decides on every place of text files that declare no names. */
export function analyseTexts({ tree, paths, matching, decisions }: AnalysisSetup & Files): FileAnalysis[] {
  const prepared = prepareMatching(matching);
  return paths.flatMap((path) => {
    const source = readText(tree, path);
    return source === undefined ? [] : [analyseText(source, prepared, [], decisionsOn(path, decisions))];
  });
}
