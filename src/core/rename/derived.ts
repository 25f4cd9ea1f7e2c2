import { readContent } from '../files/memory-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { compareRanges } from '../text/edits.ts';
import { readBytes, readText } from '../files/read-text.ts';
import { locate, sizeAfter, type FileAnalysis } from './analyse-file.ts';
import { changedDigests, checksumEdits, findChecksums, type ChangedDigests } from './content/checksums.ts';
import { COMPANIONS } from './content/companions.ts';
import type { Reason } from './reason.ts';

/** A file that is made from another one and was made again. */
export interface Rebuilt {
  readonly path: string;
  readonly bytes: Buffer;
  readonly how: string;
}

export interface Derived {
  readonly analyses: ReadonlyMap<string, FileAnalysis>;
  readonly rebuilt: readonly Rebuilt[];
  /** Files that are made from a file that changes and could not be made again. */
  readonly stale: readonly { readonly path: string; readonly reason: Reason }[];
}

/**
 * Lets what depends on the bytes of changed files follow: checksums, and files that are made from others.
 * @param holders files that may state checksums
 */
export function addDerived(tree: FileTree, analysed: readonly FileAnalysis[], holders: readonly string[]): Derived {
  const analyses = new Map(analysed.map((each) => [each.path, each]));
  // A corrected checksum changes its own file, whose checksum another may state: until nothing follows any more.
  for (let round = 0; round < holders.length; round++) {
    const changed = digestsOfChanged(tree, analyses, holders);
    const corrected = holders.filter((path) => correct(tree, path, analyses, changed));
    if (corrected.length === 0) break;
  }
  return { analyses, ...followCompanions(tree, analyses) };
}

/** Digests of all files that change, one file in memory at a time. */
function digestsOfChanged(tree: FileTree, analyses: ReadonlyMap<string, FileAnalysis>, holders: readonly string[]): ChangedDigests {
  const algorithms = new Set(holders.flatMap((path) => findChecksums(readText(tree, path)?.text ?? '').map((each) => each.algorithm)));
  const digests = new Map<string, string>();
  for (const { path, edits } of algorithms.size === 0 ? [] : analyses.values()) {
    const before = edits.length === 0 ? undefined : readBytes(tree, path);
    if (before === undefined) continue;
    for (const [old, now] of changedDigests(algorithms, before, readContent({ tree, path, edits }))) digests.set(old, now);
  }
  return digests;
}

/** Writes the checksums of a file again; false when there was nothing to write. */
function correct(tree: FileTree, path: string, analyses: Map<string, FileAnalysis>, changed: ChangedDigests): boolean {
  const source = readText(tree, path);
  if (source === undefined) return false;
  const own = analyses.get(path) ?? { path, matches: [], edits: [], size: 0 };
  const wanted = checksumEdits(findChecksums(source.text), changed);
  const isKnown = wanted.every((edit) => own.edits.some((each) => each.start === edit.start && each.text === edit.text));
  if (isKnown) return false;
  const isOther = (at: { readonly start: number }): boolean => !wanted.some((edit) => edit.start === at.start);
  const edits = [...own.edits.filter(isOther), ...wanted].sort(compareRanges);
  const derived = wanted.map((edit) => locate({ ...edit, kind: 'derived', replacement: edit.text }, source));
  const matches = [...own.matches.filter(isOther), ...derived].sort(compareRanges);
  analyses.set(path, { path, matches, edits, size: sizeAfter(source, edits) });
  return true;
}

function followCompanions(tree: FileTree, analyses: ReadonlyMap<string, FileAnalysis>): Omit<Derived, 'analyses'> {
  const rebuilt: Rebuilt[] = [];
  const stale: { path: string; reason: Reason }[] = [];
  for (const { path, kind } of tree.entries) {
    const companion = kind === 'file' ? COMPANIONS.find((each) => path.endsWith(each.ending)) : undefined;
    if (companion === undefined) continue;
    const origin = path.slice(0, -companion.ending.length) + companion.origin;
    const edits = analyses.get(origin)?.edits ?? [];
    const before = edits.length === 0 ? undefined : readBytes(tree, origin);
    const bytes = before === undefined ? undefined : readBytes(tree, path);
    if (before === undefined || bytes === undefined) continue;
    const after = readContent({ tree, path: origin, edits });
    const remade = attempt(() => companion.remake(bytes, before, after));
    if (remade === undefined) stale.push({ path, reason: { code: companion.isStale } });
    else rebuilt.push({ path, bytes: remade, how: companion.isMade });
  }
  return { rebuilt, stale };
}

/** A file that cannot be unpacked or parsed was not made from its origin. */
function attempt(remake: () => Buffer | undefined): Buffer | undefined {
  try {
    return remake();
  } catch {
    return undefined;
  }
}
