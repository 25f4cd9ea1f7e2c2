import { RefusedError } from '../errors.ts';
import type { Operation } from '../changes/plan.ts';
import { baseOf, folderOf, resolveInTree, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { plainValue, type ValueNode } from '../documents/syntax.ts';
import { fillShape } from '../platform/shape.ts';
import { mapOffset, type TextEdit } from '../text/edits.ts';
import type { Position, SourceDocument } from '../text/source-document.ts';
import { spell, splitWords } from '../text/spelling.ts';
import { keyPath, MAX_TEXT_BYTES, readText, type Fact } from '../theme/documents.ts';
import { type Theme } from '../theme/theme.ts';
import { setField } from '../theme/write-field.ts';
import { OtherNames } from './kept.ts';
import { matchText, type Match, type MatchClass, type Matching } from './match-text.ts';
import { MovedPaths, renamePart } from './moved-paths.ts';
import type { FullName } from './names.ts';
import { NameFinder } from './occurrences.ts';

export interface RenameRequest {
  readonly theme: Theme;
  readonly from: FullName;
  readonly to: FullName;
  /** Other themes' ids and titles that may contain the old name. */
  readonly otherThemes: readonly string[];
  /** Texts in which the old name stays. */
  readonly keep: readonly string[];
}

/** A place with the line around it. Line and column count from 1, in the file as it is after the rename. */
export interface Place extends Position {
  /** The path after the rename. */
  readonly file: string;
}

export interface RenameEdit extends Place {
  readonly before: string;
  readonly after: string;
  readonly kind: MatchClass;
}

/** A place where the old name stays, and why. */
export interface RemainingPlace extends Place {
  readonly text: string;
  readonly reason: string;
  /** True when it is the name of the file itself, not a place in it. */
  readonly isName?: boolean | undefined;
}

export interface RenamedTree {
  /** The operations that make the renamed copy. */
  readonly operations: readonly Operation[];
  readonly moves: readonly { readonly from: string; readonly to: string }[];
  readonly edits: readonly RenameEdit[];
  readonly kept: readonly RemainingPlace[];
  readonly unsure: readonly RemainingPlace[];
}

/**
 * Plans a renamed copy of a theme. Looks only at the tree; writes nothing.
 * @throws RefusedError when two files would get the same path
 */
export function renameTree(request: RenameRequest): RenamedTree {
  const { theme, from, to } = request;
  const ids = new NameFinder(from.id);
  const others = new OtherNames(from.id, otherNames(request));
  const result: Collected = { operations: [], edits: [], kept: [], unsure: [] };
  const moves = planMoves(theme.tree, ids, request, others, result.kept);
  const matching: Matching = { from, to, ids, title: titleFinder(from), others, moved: new MovedPaths(moves), keep: request.keep };
  for (const entry of theme.tree.entries) {
    const path = moves.get(entry.path) ?? entry.path;
    if (entry.kind === 'folder') result.operations.push({ op: 'folder', path, mode: entry.mode });
    else if (entry.kind === 'link') renameLink(entry, path, moves, ids, result);
    else renameFile(entry, path, theme, matching, result);
  }
  return { ...result, moves: [...moves].map(([before, after]) => ({ from: before, to: after })) };
}

function otherNames({ theme, otherThemes }: RenameRequest): { name: string; reason: string }[] {
  const author = theme.text('author');
  const people =
    author === undefined
      ? []
      : [author.replace(/\s*[<(].*$/, '')].map((name) => ({ name, reason: 'the name of a person or an organisation,' }));
  return [...otherThemes.map((name) => ({ name, reason: 'another theme’s name,' })), ...people];
}

/** A title that is no more than the id's words is found with the id. */
function titleFinder(from: FullName): NameFinder | undefined {
  const words = splitWords(from.title);
  return words.length === 0 || spell(words, 'flat') === spell(splitWords(from.id), 'flat') ? undefined : new NameFinder(from.title);
}

function planMoves(
  tree: FileTree,
  ids: NameFinder,
  { from, to }: RenameRequest,
  others: OtherNames,
  kept: RemainingPlace[],
): Map<string, string> {
  const moves = new Map<string, string>();
  const taken = new Map<string, string>();
  for (const { path } of tree.entries) {
    const part = renamePart(baseOf(path), ids, from, to, others);
    // Entries are sorted, so a folder comes before what lies in it.
    const folder = moves.get(folderOf(path)) ?? folderOf(path);
    const renamed = folder === '' ? part.name : `${folder}/${part.name}`;
    if (part.kept !== undefined) kept.push({ file: renamed, line: 1, column: 1, text: baseOf(path), reason: part.kept, isName: true });
    if (renamed !== path) moves.set(path, renamed);
    const rival = taken.get(renamed);
    if (rival !== undefined) {
      throw new RefusedError({
        what: `${rival} and ${path} would both become ${renamed}`,
        hint: 'choose another name, or move one of them first',
      });
    }
    taken.set(renamed, path);
  }
  return moves;
}

function renameLink(link: FileEntry, path: string, moves: ReadonlyMap<string, string>, ids: NameFinder, result: Collected): void {
  const target = renameTarget(link, moves);
  result.operations.push({ op: 'link', path, target });
  const stays = target === link.target && ids.isIn(target);
  if (stays)
    result.kept.push({ file: path, line: 1, column: 1, text: `→ ${target}`, reason: 'a link to a place that does not move', isName: true });
}

/** A link's target inside the theme follows what moved; one that leaves the theme stays. */
function renameTarget(link: FileEntry, moves: ReadonlyMap<string, string>): string {
  const target = link.target ?? '';
  const path = target.startsWith('/') ? undefined : resolveInTree(folderOf(link.path), target);
  const moved = path === undefined ? undefined : moves.get(path);
  if (path === undefined || moved === undefined) return target;
  // The tail of the target is the tail of the path it resolves to; `../` before it stays as written.
  const climb = /^(?:\.{1,2}\/)*/.exec(target)?.[0] ?? '';
  const depth = target.slice(climb.length).split('/').length;
  return climb + moved.split('/').slice(-depth).join('/');
}

interface Collected {
  readonly operations: Operation[];
  readonly edits: RenameEdit[];
  readonly kept: RemainingPlace[];
  readonly unsure: RemainingPlace[];
}

function renameFile(entry: FileEntry, path: string, theme: Theme, matching: Matching, result: Collected): void {
  const copy: Operation = { op: 'create', path, content: { tree: theme.tree, path: entry.path }, size: entry.size, mode: entry.mode };
  const source = readText(theme.tree, entry.path);
  if (source === undefined) {
    result.operations.push(copy);
    noteUnedited(entry, path, theme.tree, matching.ids, result);
    return;
  }
  const declared = declaredEdits(theme, entry.path, matching);
  const matches = matchText(source, matching, declared);
  const edits = matches.flatMap((match) =>
    match.verdict === 'change' ? [{ start: match.start, end: match.end, text: match.replacement }] : [],
  );
  const changed = edits.length === 0 ? source : source.withEdits(edits);
  const bytes = edits.length === 0 ? undefined : source.encode(changed.text);
  result.operations.push(bytes === undefined ? copy : { ...copy, content: { bytes }, size: bytes.length });
  for (const match of matches) record(match, source, changed, path, edits, result);
}

function record(
  match: Match,
  source: SourceDocument,
  changed: SourceDocument,
  file: string,
  edits: readonly TextEdit[],
  result: Collected,
): void {
  const start = mapOffset(match.start, edits);
  const place = { file, ...changed.positionAt(start) };
  if (match.verdict === 'change') {
    const reach = { start: match.start, end: match.end };
    const before = excerpt(source.text, reach.start, reach.end);
    const after = excerpt(changed.text, start, start + match.replacement.length);
    if (before !== after) result.edits.push({ ...place, before, after, kind: match.kind });
    return;
  }
  result[match.verdict].push({ ...place, text: excerpt(source.text, match.start, match.end), reason: match.reason });
}

/** The line around a range, cut to what one can read. */
function excerpt(text: string, start: number, end: number): string {
  const lineStart = text.lastIndexOf('\n', start - 1) + 1;
  const lineEnd = text.indexOf('\n', end);
  const from = Math.max(lineStart, start - 60);
  const to = Math.min(lineEnd < 0 ? text.length : lineEnd, end + 60);
  return `${from > lineStart ? '…' : ''}${text.slice(from, to).trim()}${to < (lineEnd < 0 ? text.length : lineEnd) ? '…' : ''}`;
}

/** Edits that write the new names into the fields that declare them, as the document's syntax wants it. */
function declaredEdits(theme: Theme, path: string, { from, to }: Matching): TextEdit[] {
  const done = new Set<ValueNode>();
  return theme.facts.flatMap((fact) => {
    // A value with a shape carries several facts, and is written once.
    if (fact.document.path !== path || done.has(fact.node)) return [];
    const wanted = declaredValue(fact, from, to);
    if (wanted === undefined || wanted === plainValue(fact.node)) return [];
    done.add(fact.node);
    return setField(fact.document, keyPath(fact.field), wanted);
  });
}

/** What a field must say after the rename; undefined when it says nothing of the theme's names. */
function declaredValue({ name, value, field }: Fact, from: FullName, to: FullName): string | undefined {
  const isName = name === 'id' || name === 'title' || name === 'vendor';
  if (!isName || value !== from[name]) return undefined;
  return field.shape === undefined ? to[name] : fillShape(field.shape, to);
}

/** Binaries and very large files are copied as they are; the old name inside them is told of. */
function noteUnedited(entry: FileEntry, file: string, tree: FileTree, ids: NameFinder, result: Collected): void {
  const bytes = tree.read(entry.path);
  const found = ids.find(bytes.toString('latin1')).filter((occurrence) => occurrence.edges !== 'inside-word');
  const reason = entry.size > MAX_TEXT_BYTES ? 'the file is too large to be edited' : 'inside a binary file, which is never edited';
  for (const { start, text } of found) result.kept.push({ file, line: 1, column: start + 1, text, reason });
}
