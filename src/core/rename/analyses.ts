import type { FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { SourceDocument } from '../text/source-document.ts';
import { analyseText, type FileAnalysis } from './analyse-file.ts';
import { decisionsOn, type Decisions } from './decisions.ts';
import { NameSieve, type FileGlance } from './glance.ts';
import { prepareMatching, type MatchingSetup } from './matching.ts';
import type { FullName } from '../names/full-name.ts';

/** The input of a first look at files. */
export interface GlanceSetup {
  readonly from: FullName;
  readonly to: FullName;
  /** Whether a user began the rename by hand. */
  readonly isBegun?: boolean | undefined;
}

/** The input of a close reading of files. */
export interface AnalysisSetup {
  readonly matching: MatchingSetup;
  readonly decisions: Decisions;
}

interface Files {
  readonly tree: FileTree;
  readonly paths: readonly string[];
}

/** Looks for the names in the bytes of files; those with nothing to say are left out. */
export function glanceAt({ tree, paths, from, to, isBegun }: GlanceSetup & Files): FileGlance[] {
  const sieve = new NameSieve(from, to, isBegun);
  const held = heldFor(tree);
  return paths
    .map((path) => sieve.glance(tree, path, (bytes) => held.keep(path, bytes)))
    .filter((each) => each.holds !== 'nothing' || each.hasChecksums || each.isSuspect);
}

/** Decides on every place of text files that declare no names. */
export function analyseTexts({ tree, paths, matching, decisions }: AnalysisSetup & Files): FileAnalysis[] {
  const prepared = prepareMatching(matching);
  return paths.flatMap((path) => {
    const bytes = heldFor(tree).take(path);
    const source = bytes === undefined ? readText(tree, path) : SourceDocument.decode(path, bytes);
    return source === undefined ? [] : [analyseText(source, prepared, [], decisionsOn(path, decisions))];
  });
}

/** Files of so many bytes together are kept from the first look to the close reading: opening a file again is dear. */
const MAX_HELD = 12 << 20;

/** Bytes of files that are soon read again. */
class HeldBytes {
  readonly #bytes = new Map<string, Buffer>();
  #size = 0;

  keep(path: string, bytes: Buffer): void {
    if (this.#size + bytes.length > MAX_HELD) return;
    this.#size += bytes.length;
    this.#bytes.set(path, bytes);
  }

  /** Each can be had once. */
  take(path: string): Buffer | undefined {
    const bytes = this.#bytes.get(path);
    this.#size -= bytes?.length ?? 0;
    this.#bytes.delete(path);
    return bytes;
  }
}

/** By tree, so that they go with it. */
const held = new WeakMap<FileTree, HeldBytes>();

function heldFor(tree: FileTree): HeldBytes {
  const own = held.get(tree) ?? new HeldBytes();
  held.set(tree, own);
  return own;
}
