import { SourceDocument } from '../text/source-document.ts';
import { isConflict, linesOf, mergeLines, mergeUnknown, writtenMerge, type Conflict, type MergedPart, type SideNames } from './merge.ts';

export type Side = 'ours' | 'theirs' | 'both';

/** Which side of a conflict is taken; undefined to leave it marked. `number` counts from 1. */
export type Decide = (conflict: Conflict, at: { readonly file: string; readonly number: number }) => Side | undefined;

/** What became of three versions of a file. */
export interface MergedFile {
  readonly bytes: Buffer;
  /** How many conflicts were left in it, marked. */
  readonly conflicts: number;
  /** How many lines of the other side came in, and how many of our lines they replaced. */
  readonly added: number;
  readonly removed: number;
}

/**
 * Merges three versions of a text by their lines, or two without an original. Encoding and line ends are those of the first.
 * @returns undefined when one of them is not a text: then one side has to be chosen
 */
export function mergeFiles(
  file: string,
  versions: { readonly ours: Buffer; readonly original: Buffer | undefined; readonly theirs: Buffer },
  names: SideNames,
  decide: Decide = () => undefined,
): MergedFile | undefined {
  const read = (bytes: Buffer): SourceDocument | undefined => SourceDocument.decode(file, bytes);
  const [ours, theirs] = [read(versions.ours), read(versions.theirs)];
  const original = versions.original === undefined ? undefined : read(versions.original);
  if (ours === undefined || theirs === undefined || (original === undefined) !== (versions.original === undefined)) return undefined;
  const { lines, end } = linesOf(ours.text);
  const others = linesOf(theirs.text).lines;
  const found = original === undefined ? mergeUnknown(lines, others) : mergeLines(lines, linesOf(original.text).lines, others);
  let number = 0;
  const parts = found.map((part): MergedPart => {
    if (!isConflict(part)) return part;
    number += 1;
    const side = decide(part, { file, number });
    return side === undefined ? part : side === 'both' ? [...part.ours, ...part.theirs] : part[side];
  });
  const text = writtenMerge(parts, end, names);
  const bytes = ours.encode(text);
  if (bytes === undefined) return undefined;
  // An undecided conflict has changed nothing yet.
  const merged = parts.flatMap((part) => (isConflict(part) ? part.ours : part));
  return {
    bytes,
    conflicts: parts.filter(isConflict).length,
    added: count(merged, lines),
    removed: count(lines, merged),
  };
}

/** How many lines of one text the other does not have, each as often as it stands there. */
function count(lines: readonly string[], others: readonly string[]): number {
  const left = new Map<string, number>();
  for (const line of others) left.set(line, (left.get(line) ?? 0) + 1);
  return lines.filter((line) => {
    const times = left.get(line) ?? 0;
    left.set(line, times - 1);
    return times <= 0;
  }).length;
}
