/** A replacement of `text.slice(start, end)`. Offsets are 0-based UTF-16 code units, end exclusive. */
export interface TextEdit {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** A stretch of text: 0-based offsets, end exclusive. */
export interface TextRange {
  readonly start: number;
  readonly end: number;
}

/** Orders by start, then end, so that an insertion stands before a replacement that begins at the same place. */
export function compareRanges(a: TextRange, b: TextRange): number {
  return a.start - b.start || a.end - b.end;
}

/** Whether two ranges share at least one code unit, or an empty one lies inside the other. */
export function rangesOverlap(a: TextRange, b: TextRange): boolean {
  return a.start < b.end && b.start < a.end;
}

/**
 * Applies edits to a text in one pass.
 * @throws RangeError when two edits overlap or one lies outside the text: a defect of whoever proposed them.
 */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
  if (edits.length === 0) return text;
  const parts: string[] = [];
  let at = 0;
  for (const edit of edits.toSorted(compareRanges)) {
    if (edit.start < at || edit.end < edit.start || edit.end > text.length) {
      throw new RangeError(`edit ${edit.start}-${edit.end} overlaps another or leaves the text`);
    }
    parts.push(text.slice(at, edit.start), edit.text);
    at = edit.end;
  }
  parts.push(text.slice(at));
  return parts.join('');
}

/** Returns the offset that `offset` of the old text has after `edits` (which must not contain it). */
export function mapOffset(offset: number, sortedEdits: readonly TextEdit[]): number {
  let shift = 0;
  for (const edit of sortedEdits) {
    if (edit.end > offset) break;
    shift += edit.text.length - (edit.end - edit.start);
  }
  return offset + shift;
}

/** Those of sorted edits that lie in a stretch. */
export function editsWithin(edits: readonly TextEdit[], start: number, end: number): TextEdit[] {
  let low = 0;
  let high = edits.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((edits[middle]?.start ?? 0) < start) low = middle + 1;
    else high = middle;
  }
  const found: TextEdit[] = [];
  for (let i = low; (edits[i]?.end ?? Infinity) <= end; i++) found.push(edits[i] ?? { start, end: start, text: '' });
  return found;
}
