import type { RenameProof } from '../../core/rename/proof.ts';
import type { ThemeRename } from '../../core/rename/rename-theme.ts';
import type { RemainingPlace } from '../../core/rename/places.ts';
import { findingsText } from './findings-text.ts';
import { findingJson } from './json.ts';
import { count, type Paint } from './paint.ts';
import { reasonText } from './reason-text.ts';

/** What a rename will do, for people: what changes, what stays and why, what to look at. */
export function renameText(rename: ThemeRename, paint: Paint, { isVerbose, columns }: { isVerbose: boolean; columns: number }): string {
  const { from, to, kept, unsure, rebuilt } = rename;
  const ownMoves = movesOfNames(rename);
  const arrow = from.id === to.id ? from.id : `${from.id} → ${to.id}`;
  const title = from.title === to.title ? '' : ` ${paint.faint(`(“${from.title}” → “${to.title}”)`)}`;
  const lines = [`${paint.strong(arrow)}${title}: ${changesText(rename)}`];
  if (ownMoves.length > 0) {
    lines.push('', paint.strong('Files and folders renamed'));
    const shown = isVerbose ? ownMoves : ownMoves.slice(0, 12);
    for (const move of shown) lines.push(`  ${move.from} ${paint.faint('→')} ${move.to}`);
    if (shown.length < ownMoves.length) lines.push(paint.faint(`  … and ${ownMoves.length - shown.length} more (--verbose shows all)`));
  }
  if (rename.edits.length > 0) lines.push('', paint.strong('Places changed'), ...editLines(rename, paint, isVerbose, columns));
  if (rebuilt.length > 0)
    lines.push('', paint.strong('Files made anew'), ...rebuilt.map(({ path, how }) => `  ${path}  ${paint.faint(how)}`));
  lines.push(...remaining('Kept as it is', kept, paint, isVerbose));
  lines.push(...remaining('Unsure: please look', unsure, paint, isVerbose));
  return lines.join('\n');
}

function changesText(rename: ThemeRename): string {
  const files = new Set(rename.edits.map((edit) => edit.file)).size;
  const names = count(movesOfNames(rename).length, 'name');
  return `${count(rename.edits.length, 'place')} in ${count(files, 'file')} and ${names} of files or folders`;
}

/** Moves in which the last part of the path changes, not only a folder above it. */
function movesOfNames({ moves }: ThemeRename): ThemeRename['moves'] {
  return moves.filter((move) => lastPart(move.from) !== lastPart(move.to));
}

/** What the proof says: what is left of the old name, and what `check` has to say now. */
export function proofText({ from, to, kept, unsure }: ThemeRename, { leftovers, newFindings }: RenameProof, paint: Paint): string {
  const old = from.id === to.id ? from.title : from.id;
  const lines: string[] = [];
  if (leftovers.length > 0) {
    lines.push(`${paint.bad('✗')} A second scan found “${old}” in ${count(leftovers.length, 'place')} that nobody accounted for:`);
    for (const { file, line, column, text } of leftovers) lines.push(`  ${file}:${line}:${column}  ${text}`);
  } else {
    const staying = [kept.length > 0 ? `${kept.length} kept` : '', unsure.length > 0 ? `${unsure.length} unsure` : ''].filter(
      (part) => part !== '',
    );
    const but = staying.length === 0 ? '' : ` but ${staying.join(' and ')}, listed above`;
    lines.push(`${paint.good('✓')} A second scan found nothing of “${old}” left${but}.`);
  }
  if (newFindings.length === 0) lines.push(`${paint.good('✓')} check finds nothing that it did not find before.`);
  else {
    lines.push(`${paint.bad('✗')} check has ${count(newFindings.length, 'finding')} that it did not have before:`, '');
    lines.push(findingsText(newFindings, paint, 100));
  }
  return lines.join('\n');
}

/** The last lines, when all is done: what changed, what stayed and why, what to look at. */
export function outcomeText(rename: ThemeRename, proof: RenameProof, done: string, paint: Paint): string {
  const { kept, unsure } = rename;
  const lines = ['', `${paint.good('✓')} ${done}: ${changesText(rename)}; “pionero undo” takes it back.`];
  if (kept.length > 0) lines.push(`  kept: ${reasonsText(kept)}`);
  if (unsure.length > 0) lines.push(`  ${paint.warn('look at')}: ${reasonsText(unsure)}`);
  return [...lines, proofText(rename, proof, paint)].join('\n');
}

function reasonsText(places: readonly RemainingPlace[]): string {
  const groups = [...groupByReason(places)].map(([reason, own]) => ({ reason, size: own.length })).sort((a, b) => b.size - a.size);
  const shown = groups.slice(0, 3).map(({ reason, size }) => `${size} ${reason}`);
  const rest = groups.slice(3).reduce((sum, { size }) => sum + size, 0);
  return [...shown, ...(rest > 0 ? [`${rest} for other reasons`] : [])].join('; ');
}

const CLASSES = {
  declared: 'fields that declare the name',
  path: 'references to renamed files',
  identifier: 'identifiers',
  text: 'in prose and comments',
  derived: 'lengths and checksums of what changed',
} as const;

function editLines({ edits }: ThemeRename, paint: Paint, isVerbose: boolean, columns: number): string[] {
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
      lines.push(`       ${paint.faint(place.isName ? place.file : `${place.file}:${place.line}:${place.column}`)}  ${place.text}`);
    if (shown.length < own.length) lines.push(paint.faint(`       … and ${own.length - shown.length} more (--verbose shows all)`));
  }
  return lines;
}

function groupByReason(places: readonly RemainingPlace[]): Map<string, RemainingPlace[]> {
  const groups = new Map<string, RemainingPlace[]>();
  for (const place of places) {
    const reason = reasonText(place.reason);
    const own = groups.get(reason);
    if (own === undefined) groups.set(reason, [place]);
    else own.push(place);
  }
  return groups;
}

function lastPart(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** The machine output of clone and rename. */
export function renameJson(rename: ThemeRename, proof: RenameProof | undefined, applied: boolean): Record<string, unknown> {
  const { from, to, moves } = rename;
  const place = ({ file, line, column, text, reason }: RemainingPlace): Record<string, unknown> => ({
    file,
    line,
    column,
    text,
    reason: reasonText(reason),
    code: reason.code,
  });
  return {
    from,
    to,
    moves,
    edits: rename.edits.map(({ file, line, column, before, after, kind }) => ({ file, line, column, before, after, kind })),
    rebuilt: rename.rebuilt.map(({ path, how }) => ({ file: path, how })),
    kept: rename.kept.map(place),
    unsure: rename.unsure.map(place),
    applied,
    leftovers: proof?.leftovers ?? [],
    newFindings: proof?.newFindings.map(findingJson) ?? [],
  };
}
