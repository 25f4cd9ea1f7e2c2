import type { ThemeClone } from '../../core/rename/clone-theme.ts';
import type { RemainingPlace } from '../../core/rename/rename-tree.ts';
import { count, type Paint } from './paint.ts';

/** What a rename does, for people: what changes, what stays and why, what to look at. */
export function renameText(clone: ThemeClone, paint: Paint, { isVerbose, columns }: { isVerbose: boolean; columns: number }): string {
  const { from, to, edits, moves, kept, unsure, leftovers } = clone;
  const files = new Set(edits.map((edit) => edit.file)).size;
  const ownMoves = moves.filter((move) => lastPart(move.from) !== lastPart(move.to));
  const lines = [
    `${paint.strong(`${from.id} → ${to.id}`)} ${paint.faint(`(“${from.title}” → “${to.title}”)`)}: ${count(edits.length, 'place')} in ${count(files, 'file')} and ${count(ownMoves.length, 'name')} of files or folders`,
  ];
  if (ownMoves.length > 0) {
    lines.push('', paint.strong('Files and folders renamed'));
    for (const move of ownMoves) lines.push(`  ${move.from} ${paint.faint('→')} ${move.to}`);
  }
  lines.push('', paint.strong('Places changed'), ...editLines(clone, paint, isVerbose, columns));
  lines.push(...remaining('Kept as it is', kept, paint, isVerbose));
  lines.push(...remaining('Unsure: please look', unsure, paint, true));
  lines.push('', verdict(leftovers, from.id, kept.length, unsure.length, paint));
  for (const { file, line, column, text } of leftovers) lines.push(`  ${file}:${line}:${column}  ${text}`);
  return lines.join('\n');
}

function verdict(leftovers: readonly unknown[], id: string, kept: number, unsure: number, paint: Paint): string {
  if (leftovers.length > 0)
    return `${paint.bad('✗')} A second scan found “${id}” in ${count(leftovers.length, 'place')} that nobody accounted for:`;
  const but = kept + unsure === 0 ? '' : ` but the ${count(kept + unsure, 'place')} above`;
  return `${paint.good('✓')} A second scan found nothing of “${id}” left${but}.`;
}

const CLASSES = {
  declared: 'fields that declare the name',
  path: 'references to renamed files',
  identifier: 'identifiers',
  text: 'in prose and comments',
} as const;

function editLines({ edits }: ThemeClone, paint: Paint, isVerbose: boolean, columns: number): string[] {
  const cut = (text: string): string => (text.length > columns - 8 ? `${text.slice(0, columns - 9)}…` : text);
  return Object.entries(CLASSES).flatMap(([kind, about]) => {
    const own = edits.filter((edit) => edit.kind === kind);
    if (own.length === 0) return [];
    const shown = isVerbose ? own : own.slice(0, 2);
    return [
      `  ${String(own.length).padStart(4)} ${about}`,
      ...shown.flatMap((edit) => [
        `       ${paint.faint(`${edit.file}:${edit.line}:${edit.column}`)}`,
        `       ${paint.bad('−')} ${cut(edit.before)}`,
        `       ${paint.good('+')} ${cut(edit.after)}`,
      ]),
    ];
  });
}

/** Places that stay, by reason; a few of each unless all were asked for. */
function remaining(title: string, places: readonly RemainingPlace[], paint: Paint, isVerbose: boolean): string[] {
  if (places.length === 0) return [];
  const byReason = groupByReason(places);
  const lines = ['', paint.strong(title)];
  for (const [reason, own] of byReason) {
    lines.push(`  ${String(own.length).padStart(4)} ${reason}`);
    const shown = isVerbose ? own : own.slice(0, 2);
    for (const place of shown)
      lines.push(
        `       ${paint.faint(place.isName === true ? place.file : `${place.file}:${place.line}:${place.column}`)}  ${place.text}`,
      );
    if (shown.length < own.length) lines.push(paint.faint(`       … and ${own.length - shown.length} more (--verbose shows all)`));
  }
  return lines;
}

function groupByReason(places: readonly RemainingPlace[]): Map<string, RemainingPlace[]> {
  const groups = new Map<string, RemainingPlace[]>();
  for (const place of places) groups.set(place.reason, [...(groups.get(place.reason) ?? []), place]);
  return groups;
}

function lastPart(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** The machine output of clone and rename. */
export function renameJson(clone: ThemeClone, applied: boolean): Record<string, unknown> {
  const { from, to, moves, edits, leftovers } = clone;
  const place = ({ file, line, column, text, reason }: RemainingPlace): Record<string, unknown> => ({ file, line, column, text, reason });
  return { from, to, moves, edits, kept: clone.kept.map(place), unsure: clone.unsure.map(place), applied, leftovers };
}
