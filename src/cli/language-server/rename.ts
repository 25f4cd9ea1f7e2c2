import { basename, posix } from 'node:path';
import type { Range, RenameFile, TextDocumentEdit, WorkspaceEdit } from 'vscode-languageserver/node';
import { RefusedError } from '../../core/errors.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import { moveEdits } from '../../core/editor/move-references.ts';
import type { Spot } from '../../core/editor/spots.ts';
import type { Use } from '../../core/editor/uses.ts';
import { folderOf, resolveInTree } from '../../core/files/file-tree.ts';
import { planRename } from '../../core/rename/rename-theme.ts';
import { isSound, RenameProver } from '../../core/rename/proof.ts';
import { fillShape } from '../../core/names/shape.ts';
import { pathsOfPartial } from '../../core/templates/template-index.ts';
import { count } from '../../core/text/sentence.ts';
import type { TextEdit } from '../../core/text/edits.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { spotAt } from './answers.ts';
import { fileEdit } from './edits.ts';
import { familyOf, usesAround } from './family.ts';
import { placeOf, rangeOf, uriOf } from './places.ts';
import { requireSaved } from './saved.ts';
import type { Session } from './session.ts';

/** The word at an offset that can have another name, and what it is called now; undefined where nothing can. */
export function renameRangeAt(file: EditedFile, offset: number): { readonly range: Range; readonly placeholder: string } | undefined {
  const source = file.theme.source(file.path);
  const spot = spotAt(file, offset) ?? ownIdAt(file, offset);
  if (spot === undefined || source === undefined || spot.target.kind === 'brought') return undefined;
  const isOwn = spot.target.kind !== 'file' || spot.target.theme.names.id === file.theme.names.id;
  return isOwn ? { range: rangeOf(source, spot), placeholder: source.text.slice(spot.start, spot.end) } : undefined;
}

/** The id of the theme, where a text holds it as a word. */
function ownIdAt({ theme, path }: EditedFile, offset: number): Spot | undefined {
  const text = theme.source(path)?.text ?? '';
  const { id } = theme.names;
  for (let at = text.lastIndexOf(id, offset); at >= 0 && at + id.length >= offset; at = text.lastIndexOf(id, at - 1)) {
    const isWord = !/[A-Za-z0-9]/.test(text.charAt(at - 1)) && !/[A-Za-z0-9]/.test(text.charAt(at + id.length));
    if (isWord) return { start: at, end: at + id.length, target: { kind: 'theme', theme } };
    if (at === 0) break;
  }
  return undefined;
}

/**
 * Gives what is named at an offset another name: a file with all that names it, a region, or the theme itself.
 * @throws RefusedError when it is not the theme's own, or texts are not saved
 */
export async function renameAt(session: Session, file: EditedFile, offset: number, name: string): Promise<WorkspaceEdit | null> {
  const spot = spotAt(file, offset) ?? ownIdAt(file, offset);
  if (spot === undefined) return null;
  const { target } = spot;
  if (target.kind === 'brought') throw new RefusedError({ what: `${target.path} comes with the host` });
  if (target.kind === 'region')
    return editsOf(usesAround(session, file, target).map((use) => ({ use, edit: { start: use.start, end: use.end, text: name } })));
  if (target.kind === 'theme') return renameTheme(session, target.theme, name);
  if (target.theme.names.id !== file.theme.names.id)
    throw new RefusedError({ what: `this name belongs to the theme ${target.theme.names.id}`, hint: 'rename it there' });
  const contract = file.theme.platform.contract.templates;
  const old = target.path;
  const { bundles } = file.theme.platform.contract;
  const to =
    target.how === 'bundle' && bundles !== undefined
      ? fillShape(bundles.file, file.theme.names).replace('{name}', name)
      : target.how === 'partial' && contract !== undefined
        ? (pathsOfPartial(contract, name, file.path).at(-1) ?? old)
        : name.includes('/')
          ? posix.join(old.slice(0, old.length - textOf(file, spot).length), withEnding(name, old))
          : posix.join(folderOf(old), withEnding(basename(name), old));
  if (resolveInTree('', to) !== to) throw new RefusedError({ what: `${to} does not lie in the theme`, hint: 'choose a name within it' });
  if (file.theme.tree.get(to) !== undefined) throw new RefusedError({ what: `${to} is there already`, hint: 'choose another name' });
  return { documentChanges: movedFile(session, file, old, to) };
}

/** A name that someone wrote without an ending, with that of the file. */
function withEnding(name: string, old: string): string {
  return posix.extname(name) === '' ? `${name}${posix.extname(old)}` : name;
}

function textOf({ theme, path }: EditedFile, { start, end }: Spot): string {
  return theme.source(path)?.text.slice(start, end) ?? '';
}

/**
 * What moves a file of a theme, and changes all that names it. Children that have a file of their own in its place are changed alike: else
 * theirs would take the place of nothing.
 */
export function movedFile(session: Session, file: EditedFile, from: string, to: string): (TextDocumentEdit | RenameFile)[] {
  const family = familyOf(session, file).filter(({ chain }) => chain.themes.some(({ names }) => names.id === file.theme.names.id));
  const themes = family.map(({ theme }) => theme).filter(({ tree }) => tree.get(from)?.kind === 'file');
  const uses = themes.flatMap((theme) => usesAround(session, file, { kind: 'file', theme, path: from, how: 'path' }));
  const moves = themes.flatMap((theme): RenameFile[] => {
    const [old, next] = [placeOf(theme, from), placeOf(theme, to)];
    return old === undefined || next === undefined ? [] : [{ kind: 'rename', oldUri: uriOf(old), newUri: uriOf(next) }];
  });
  return [...editsOf(moveEdits(uses, to)).documentChanges, ...moves];
}

function editsOf(edits: readonly { readonly use: Use; readonly edit: TextEdit }[]): {
  readonly documentChanges: TextDocumentEdit[];
} {
  const byPlace = new Map<string, { theme: Theme; path: string; edits: TextEdit[] }>();
  for (const { use, edit } of edits) {
    const key = `${use.theme.names.id}\0${use.path}`;
    const known = byPlace.get(key) ?? { theme: use.theme, path: use.path, edits: [] };
    known.edits.push(edit);
    byPlace.set(key, known);
  }
  return { documentChanges: [...byPlace.values()].flatMap((each) => fileEdit(each.theme, each.path, each.edits)) };
}

/** Renames the theme as `pionero rename` does: planned, proved, on record, and taken back by `pionero undo`. */
export async function renameTheme(session: Session, theme: Theme, id: string): Promise<null> {
  const { context, connection, judge, workspace } = session;
  const opened = workspace.opened(placeOf(theme, '') ?? '');
  if (opened === undefined) return null;
  requireSaved(session, opened.folder);
  const { rename: wishes } = opened.configuration;
  const rename = await planRename(opened, { id, keep: [...wishes.keep], include: [...wishes.include] });
  if (rename === undefined) return null;
  // Children name it, too.
  const plans = [rename.plan, ...(rename.children ?? []).map(({ plan }) => plan)];
  for (const { root } of plans) requireSaved(session, root);
  const prover = new RenameProver(rename);
  if (!isSound(prover.provePlan()))
    throw new RefusedError({
      what: `the rename to ${id} would not be clean`,
      hint: `“pionero rename ${rename.from.id} ${id} --dry-run” shows why`,
    });
  const changes = [count(rename.edits.length, 'place'), count(rename.moves.length, 'file or folder', 'files and folders')].join(', ');
  const unsure = rename.unsure.length === 0 ? '' : `; ${count(rename.unsure.length, 'unsure one stays', 'unsure ones stay')}`;
  const question = `Rename ${rename.from.id} to ${rename.to.id}: ${changes}${unsure}`;
  const answer = await connection.window.showInformationMessage(question, { title: 'Rename' }, { title: 'Cancel' });
  if (answer?.title !== 'Rename') return null;
  await context.applyAll(plans);
  judge.onDisk([opened.folder, ...plans.map(({ root }) => root)]);
  connection.window.showInformationMessage(
    `${rename.from.id} is now ${rename.to.id}, in ${context.shown(rename.plan.root)}; “pionero undo” reverts it.`,
  );
  return null;
}
