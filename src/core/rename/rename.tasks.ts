import { DiskTree } from '../files/disk-tree.ts';
import { analyseTexts, glanceAt, type AnalysisSetup, type GlanceSetup } from './analyses.ts';
import type { FileAnalysis } from './analyse-file.ts';
import type { FileGlance } from './glance.ts';

interface FilesOnDisk {
  readonly root: string;
  readonly paths: readonly string[];
}

/** A worker lives as long as one rename: what it knows of the tree is right until then. */
let tree: DiskTree | undefined;

function treeAt(root: string): DiskTree {
  if (tree?.root !== root) tree = new DiskTree(root);
  return tree;
}

/** A worker’s part in a rename: see {@link glanceAt}. */
export function glance(input: GlanceSetup & FilesOnDisk): FileGlance[] {
  return glanceAt({ ...input, tree: treeAt(input.root) });
}

/** A worker’s part in a rename: see {@link analyzeTexts}. */
export function analyse(input: AnalysisSetup & FilesOnDisk): FileAnalysis[] {
  return analyseTexts({ ...input, tree: treeAt(input.root) });
}
