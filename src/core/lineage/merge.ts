import { diffArrays } from 'diff';

/** More differences than this between two texts, and they are taken for two texts that have nothing in common. */
const MOST_DIFFERENCES = 2_000;

/** A stretch of lines that was changed in two ways. */
export interface Conflict {
  readonly ours: readonly string[];
  readonly original: readonly string[];
  readonly theirs: readonly string[];
}

/** Parts of a merged text, in their order: lines, or a conflict. */
export type MergedPart = readonly string[] | Conflict;

export function isConflict(part: MergedPart): part is Conflict {
  return 'ours' in part;
}

/** Where a text changes its original: lines `start` to `end` of it become others. */
interface Change {
  readonly start: number;
  readonly end: number;
  readonly lines: readonly string[];
}

/**
 * Merges two texts that come from one, line by line: what only one side changed is taken from it, what both changed alike once;
 * the rest is a conflict. Line ends count for nothing: all three are read as lines without them.
 */
export function mergeLines(ours: readonly string[], original: readonly string[], theirs: readonly string[]): MergedPart[] {
  const [left, right] = [changesOf(original, ours), changesOf(original, theirs)];
  if (left === undefined || right === undefined) return [{ ours, original, theirs }];
  const parts: MergedPart[] = [];
  let at = 0;
  let [i, j] = [0, 0];
  while (i < left.length || j < right.length) {
    const [a, b] = [left[i], right[j]];
    const start = Math.min(a?.start ?? Infinity, b?.start ?? Infinity);
    let end = start;
    const [own, other]: [Change[], Change[]] = [[], []];
    // All that touches what was gathered so far belongs to it, on either side: what lies next to each other was seldom meant apart.
    for (let isGrowing = true; isGrowing;) {
      isGrowing = false;
      for (const [changes, gathered, next] of [
        [left, own, () => i++],
        [right, other, () => j++],
      ] as const) {
        const change = changes[changes === left ? i : j];
        if (change === undefined || change.start > end) continue;
        gathered.push(change);
        end = Math.max(end, change.end);
        next();
        isGrowing = true;
      }
    }
    parts.push(original.slice(at, start));
    const [mine, yours] = [applied(original, start, end, own), applied(original, start, end, other)];
    if (other.length === 0 || isSame(mine, yours)) parts.push(mine);
    else if (own.length === 0) parts.push(yours);
    else parts.push(...narrowed({ ours: mine, original: original.slice(start, end), theirs: yours }));
    at = end;
  }
  parts.push(original.slice(at));
  return parts.filter((part) => isConflict(part) || part.length > 0);
}

/**
 * Merges two texts of which nobody has the original: what only theirs has is taken; where ours has lines that theirs has not, it may be
 * that they are new here or that they were removed there, and that is a conflict.
 */
export function mergeUnknown(ours: readonly string[], theirs: readonly string[]): MergedPart[] {
  const changes = changesOf(ours, theirs);
  if (changes === undefined) return [{ ours, original: [], theirs }];
  const parts: MergedPart[] = [];
  let at = 0;
  for (const { start, end, lines } of changes) {
    parts.push(ours.slice(at, start), end === start ? lines : { ours: ours.slice(start, end), original: [], theirs: lines });
    at = end;
  }
  parts.push(ours.slice(at));
  return parts.filter((part) => isConflict(part) || part.length > 0);
}

/** Lines that both sides have at the head and the end of a conflict do not belong to it. */
function narrowed({ ours, original, theirs }: Conflict): MergedPart[] {
  let head = 0;
  while (head < ours.length && head < theirs.length && ours[head] === theirs[head]) head++;
  let tail = 0;
  while (tail < ours.length - head && tail < theirs.length - head && ours.at(-1 - tail) === theirs.at(-1 - tail)) tail++;
  const middle = { ours: ours.slice(head, ours.length - tail), original, theirs: theirs.slice(head, theirs.length - tail) };
  return [ours.slice(0, head), middle, ours.slice(ours.length - tail)];
}

function isSame(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((line, i) => line === b[i]);
}

function changesOf(original: readonly string[], text: readonly string[]): Change[] | undefined {
  const parts = diffArrays([...original], [...text], { maxEditLength: MOST_DIFFERENCES });
  if (parts === undefined) return undefined;
  const changes: Change[] = [];
  let at = 0;
  let open: { start: number; end: number; lines: string[] } | undefined;
  const close = (): void => {
    if (open !== undefined) changes.push(open);
    open = undefined;
  };
  for (const { added, removed, value } of parts) {
    if (!added && !removed) {
      close();
      at += value.length;
      continue;
    }
    open ??= { start: at, end: at, lines: [] };
    if (added) open.lines.push(...value);
    else {
      at += value.length;
      open.end = at;
    }
  }
  close();
  return changes;
}

function applied(original: readonly string[], start: number, end: number, changes: readonly Change[]): string[] {
  const lines: string[] = [];
  let at = start;
  for (const change of changes) {
    lines.push(...original.slice(at, change.start), ...change.lines);
    at = change.end;
  }
  return [...lines, ...original.slice(at, end)];
}

/** A text in lines, and what ends them. The last line has no end when the text has none. */
export function linesOf(text: string): { readonly lines: string[]; readonly end: '\r\n' | '\n' } {
  const end = text.includes('\r\n') ? '\r\n' : '\n';
  return { lines: text.split(/\r\n|\n/), end };
}

/** How a conflict is left in a text. */
export interface SideNames {
  readonly ours: string;
  readonly theirs: string;
}

/** Merged parts as a text, conflicts marked as version control programs do. */
export function writtenMerge(parts: readonly MergedPart[], end: string, names: SideNames): string {
  return parts
    .flatMap((part) =>
      isConflict(part) ? [`<<<<<<< ${names.ours}`, ...part.ours, '=======', ...part.theirs, `>>>>>>> ${names.theirs}`] : part,
    )
    .join(end);
}
