import type { RenameProof } from '../../core/rename/proof.ts';
import type { ThemeRename } from '../../core/rename/rename-theme.ts';
import { groupPlaces, nameOfGroup, type PlaceGroup } from '../../core/rename/place-groups.ts';
import type { RemainingPlace } from '../../core/rename/places.ts';
import { findingsText } from './findings-text.ts';
import { findingJson } from './json.ts';
import { type Paint } from './paint.ts';
import { headOf, reasonsText, reasonText } from './reason-text.ts';
import { count, plural } from '../../core/text/sentence.ts';

/** The effect of a rename, for people: what changes, what stays and why, what to look at. */
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
  if (rename.anchored.length > 0) {
    lines.push('', paint.strong('Links out of the theme, so that they still lead to the same'));
    for (const link of isVerbose ? rename.anchored : rename.anchored.slice(0, 4))
      lines.push(`  ${link.path}  ${link.from} ${paint.faint('→')} ${link.to}`);
    if (!isVerbose && rename.anchored.length > 4)
      lines.push(paint.faint(`  … and ${rename.anchored.length - 4} more (--verbose shows all)`));
  }
  const { children = [] } = rename;
  if (children.length > 0) {
    lines.push('', paint.strong('Themes that build on it, and follow'));
    for (const { id, files } of children) lines.push(`  ${paint.name(id)}  ${files.join(', ')}`);
  }
  lines.push(...remaining('Kept as it is', kept, paint, isVerbose));
  lines.push(...remaining('Unsure: please look', unsure, paint, isVerbose));
  return lines.join('\n');
}

/** How much changes, for the question. */
export function sizeText({ edits }: ThemeRename): string {
  return `${count(edits.length, 'place')} in ${count(new Set(edits.map((edit) => edit.file)).size, 'file')}`;
}

function changesText(rename: ThemeRename): string {
  const moved = movesOfNames(rename).length;
  const names = moved === 0 ? '' : `, ${count(moved, 'file or folder', 'files or folders')} renamed`;
  return `${count(rename.edits.length, 'place')} changed in ${count(new Set(rename.edits.map((edit) => edit.file)).size, 'file')}${names}`;
}

/** Moves in which the last part of the path changes, not only a folder above it. */
function movesOfNames({ moves }: ThemeRename): ThemeRename['moves'] {
  return moves.filter((move) => lastPart(move.from) !== lastPart(move.to));
}

/** Whether the proof was made of what would be written, or of what was. */
type ProofTime = 'planned' | 'written';

/** The result of the proof: mentions of the old name that are left, and new findings of `check`. */
function proofText(
  { from, to, kept, unsure }: ThemeRename,
  { leftovers, broken, newFindings }: RenameProof,
  time: ProofTime,
  paint: Paint,
): string {
  const old = from.id === to.id ? from.title : from.id;
  const isPlanned = time === 'planned';
  const lines: string[] = [];
  // Only the folder gets another name: nothing has to be gone.
  const isNamed = from.id !== to.id || from.title !== to.title || from.vendor !== to.vendor;
  if (leftovers.length > 0) {
    const places = count(leftovers.length, 'place');
    lines.push(
      `${paint.bad('✗')} ${isPlanned ? `“${old}” would be left in ${places}` : `A second scan found “${old}” in ${places}`} that nobody accounted for:`,
    );
    for (const { file, line, column, text } of leftovers) lines.push(`  ${file}:${line}:${column}  ${text}`);
  } else if (isNamed) {
    const staying = kept.length + unsure.length;
    const mentions = count(staying, 'mention');
    const why =
      unsure.length === 0 ? 'kept on purpose' : kept.length === 0 ? 'unsure' : `${kept.length} kept on purpose, ${unsure.length} unsure`;
    if (staying === 0)
      lines.push(
        `${paint.good('✓')} ${isPlanned ? `No mention of “${old}” would remain.` : `A second scan found no mention of “${old}”.`}`,
      );
    else if (isPlanned) lines.push(`${paint.good('✓')} ${mentions} of “${old}” would remain: ${why} (listed above).`);
    else lines.push(`${paint.good('✓')} A second scan found ${mentions} of “${old}”: ${why} (listed above).`);
  }
  if (broken.length > 0) {
    lines.push(`${paint.bad('✗')} ${count(broken.length, 'place')} would no longer be right:`);
    for (const { file, line, column, text } of broken) lines.push(`  ${file}:${line}:${column}  ${text}`);
  }
  if (newFindings.length === 0) {
    // The rules about names that are left were not asked: what stays is listed, with its reasons.
    const apart = [...kept, ...unsure].some(({ isName }) => isName === true) ? ', apart from names of files that stay (listed above)' : '';
    lines.push(`${paint.good('✓')} “check” ${isPlanned ? 'would find' : 'finds'} no new problems${apart}.`);
  } else {
    const findings = count(newFindings.length, 'problem');
    lines.push(
      `${paint.bad('✗')} “check” ${isPlanned ? 'would find' : 'finds'} ${findings} that ${plural(newFindings.length, 'was', 'were')} not there before:`,
      '',
    );
    lines.push(findingsText(newFindings, paint, 100));
  }
  return lines.join('\n');
}

/** The lines before a question, however long the list above them: the numbers, the unsure places, the result of the proof. */
export function decisionText(rename: ThemeRename, proof: RenameProof, paint: Paint): string {
  return [
    '',
    paint.strong('In short'),
    `  ${changesText(rename)}`,
    ...stayingLines(rename, paint),
    proofText(rename, proof, 'planned', paint),
  ].join('\n');
}

function stayingLines({ kept, unsure, to, children = [] }: ThemeRename, paint: Paint): string[] {
  return [
    ...(children.length > 0 ? [`  building on ${to.id} from now on: ${children.map(({ id }) => id).join(', ')}`] : []),
    ...(kept.length > 0 ? [`  kept: ${stayingReasons(kept)}`] : []),
    ...(unsure.length > 0 ? [`  ${paint.warn('unsure')}: ${stayingReasons(unsure)}; left as they are, --review asks for each`] : []),
  ];
}

/** The last lines, when all is done: what changed, what stayed and why, what to look at. */
export function outcomeText(rename: ThemeRename, proof: RenameProof, done: string, paint: Paint): string {
  return [
    '',
    `${paint.good('✓')} ${done}: ${changesText(rename)}; “pionero undo” reverts it.`,
    ...stayingLines(rename, paint),
    proofText(rename, proof, 'written', paint),
  ].join('\n');
}

function stayingReasons(places: readonly RemainingPlace[]): string {
  const groups = groupByHead(places).map((own) => ({ reason: reasonOf(own), size: own.length }));
  const shown = groups.slice(0, 3).map(({ reason, size }) => `${size} ${reason}`);
  const rest = groups.slice(3).reduce((sum, { size }) => sum + size, 0);
  return [...shown, ...(rest > 0 ? [`${rest} for other reasons`] : [])].join('; ');
}

const CLASSES = {
  declared: 'declared in fields',
  path: 'in references to renamed files',
  identifier: 'in identifiers',
  text: 'in prose and comments',
  derived: 'in lengths and checksums of what changed',
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

/** So many identifiers are shown of those that stay for one reason, and so many words of those that only hold the name. */
const IDENTIFIERS = 4;
const WORDS = 6;

/** What stays, by reason and identifier; a few of each unless all were asked for. */
function remaining(title: string, places: readonly RemainingPlace[], paint: Paint, isVerbose: boolean): string[] {
  if (places.length === 0) return [];
  const lines = ['', paint.strong(title)];
  for (const own of groupByHead(places)) {
    lines.push(`  ${String(own.length).padStart(4)} ${reasonOf(own)}`);
    const groups = groupPlaces(own, ({ reason }) => reasonText(reason));
    // Words that only hold the name are many, and next to never wrong.
    if (own[0]?.reason.code === 'longer-word' && !isVerbose) {
      lines.push(paint.faint(`       ${wordsText(groups)}`));
      continue;
    }
    const shown = isVerbose ? groups : groups.slice(0, IDENTIFIERS);
    for (const group of shown) lines.push(...groupLines(group, paint, isVerbose));
    if (shown.length < groups.length)
      lines.push(paint.faint(`       … and ${count(groups.length - shown.length, 'more name')} (--verbose shows all)`));
  }
  return lines;
}

function groupLines(group: PlaceGroup<RemainingPlace>, paint: Paint, isVerbose: boolean): string[] {
  const { places } = group;
  const where = ({ isName, file, line, column }: RemainingPlace): string => (isName === true ? file : `${file}:${line}:${column}`);
  const [first] = places;
  if (first === undefined) return [];
  if (places.length === 1) return [`       ${paint.faint(where(first))}  ${first.text}`];
  if (!isVerbose) return [`       ${nameOfGroup(group)} ${paint.faint(`× ${places.length}, first in ${where(first)}`)}`];
  return [
    `       ${nameOfGroup(group)} ${paint.faint(`× ${places.length}`)}`,
    ...places.map((place) => `         ${paint.faint(where(place))}  ${place.text}`),
  ];
}

function wordsText(groups: readonly PlaceGroup<RemainingPlace>[]): string {
  const shown = groups
    .slice(0, WORDS)
    .map(({ identifier, places }) => (places.length === 1 ? identifier : `${identifier} × ${places.length}`));
  const rest = groups.length > WORDS ? [`and ${count(groups.length - WORDS, 'other')}`] : [];
  return [...shown, ...rest].join(', ');
}

function groupByHead(places: readonly RemainingPlace[]): RemainingPlace[][] {
  const groups = new Map<string, RemainingPlace[]>();
  for (const place of places) groups.set(headOf(place.reason), [...(groups.get(headOf(place.reason)) ?? []), place]);
  return [...groups.values()].sort((a, b) => b.length - a.length);
}

function reasonOf(places: readonly RemainingPlace[]): string {
  return reasonsText(places.map(({ reason }) => reason));
}

function lastPart(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** The machine output of clone and rename. */
export function renameJson(rename: ThemeRename, proof: RenameProof | undefined, applied: boolean): Record<string, unknown> {
  const { from, to, moves } = rename;
  const place = ({
    file,
    line,
    column,
    text,
    reason,
    judge,
    identifier,
    found,
    was,
    proposal,
  }: RemainingPlace): Record<string, unknown> => ({
    ...{ file, line, column, was, identifier, found, becomes: null, proposal: proposal ?? null },
    text,
    reason: reasonText(reason),
    code: reason.code,
    judge: judge ?? null,
    group: reason.group ?? null,
  });
  return {
    from,
    to,
    moves,
    edits: rename.edits.map(({ file, line, column, was, identifier, found, becomes, before, after, kind, judge }) => ({
      ...{ file, line, column, was, identifier, found, becomes },
      before,
      after,
      kind,
      judge,
    })),
    links: rename.anchored.map(({ path, from: was, to: becomes }) => ({ file: path, was, becomes })),
    rebuilt: rename.rebuilt.map(({ path, how }) => ({ file: path, how })),
    children: (rename.children ?? []).map(({ id, files }) => ({ id, files })),
    kept: rename.kept.map(place),
    unsure: rename.unsure.map(place),
    applied,
    leftovers: proof?.leftovers ?? [],
    broken: proof?.broken ?? [],
    newFindings: proof?.newFindings.map(findingJson) ?? [],
  };
}
