import type { TextEdit } from '../text/edits.ts';
import { lineEndOf, lineEntryEdits, removeLine } from './lines.ts';
import { childrenOf, type MapEntry, type MapNode, type ValueNode } from './syntax.ts';

/** One assignment in source code: where it puts a value, as a path whose first part is a variable. */
export interface Assignment {
  readonly path: readonly string[];
  /** The range of the last part of the path, without brackets. */
  readonly keyStart: number;
  readonly keyEnd: number;
  readonly value: ValueNode;
}

type Growing = { kind: 'map'; entries: MapEntry[]; start: number; end: number };

/**
 * A document of what is assigned, statement by statement: `$conf['title'] = 'Albar';` is the field `[$conf, title]`, and so is
 * `$conf = ['title' => 'Albar'];`. A variable that is assigned twice has the last value, as where the code runs.
 */
export function rootOfAssignments(assignments: readonly Assignment[], end: number): MapNode {
  const root: Growing = { kind: 'map', entries: [], start: end, end };
  for (const { path, keyStart, keyEnd, value } of assignments) {
    let map = root;
    for (const [depth, key] of path.entries()) {
      const at = map.entries.findIndex((entry) => entry.key === key);
      const before = map.entries[at]?.value;
      if (depth === path.length - 1) {
        const entry = { key, keyStart, keyEnd, value };
        if (at >= 0) map.entries[at] = entry;
        else map.entries.push(entry);
      } else {
        // A literal that more is put into later: both are what the variable holds.
        const own: Growing = {
          kind: 'map',
          entries: [...childrenOf(before)],
          start: before?.start ?? keyStart,
          end: before?.end ?? keyStart,
        };
        const entry: MapEntry = { ...(map.entries[at] ?? { key, keyStart, keyEnd: keyStart }), value: own };
        if (at >= 0) map.entries[at] = entry;
        else map.entries.push(entry);
        map = own;
      }
    }
  }
  return root;
}

/** Whether a map stands in brackets; what statements of their own put together does not. */
function isBracketed(text: string, { start }: MapNode): boolean {
  return /[[({]/.test(text.charAt(start));
}

/** An edit that adds a statement; undefined where the map is a literal that takes an entry. */
export function addAssignment(text: string, map: MapNode, anchor: MapEntry | undefined, statement: string): TextEdit[] | undefined {
  if (isBracketed(text, map)) return undefined;
  const after = anchor ?? map.entries.at(-1);
  if (after !== undefined) return lineEntryEdits(text, after, statement);
  const end = lineEndOf(text);
  const at = /\s*(?:\?>\s*)?$/.exec(text)?.index ?? text.length;
  return [{ start: at, end: at, text: `${at === 0 ? '' : end}${statement}${/^\r?\n/.test(text.slice(at)) ? '' : end}` }];
}

/** An edit that takes a statement out, with its line; undefined where the map is a literal. */
export function removeAssignment(text: string, map: MapNode, entry: MapEntry): TextEdit[] | undefined {
  return isBracketed(text, map) && entry.keyStart > map.start && entry.value.end < map.end ? undefined : [removeLine(text, entry)];
}
