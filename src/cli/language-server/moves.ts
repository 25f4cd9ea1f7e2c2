import { basename, dirname } from 'node:path';
import { CancellationToken, type FileRename, type RenameFile, type TextDocumentEdit, type WorkspaceEdit } from 'vscode-languageserver/node';
import { isWithin, pathFrom } from '../../core/files/paths.ts';
import { runAndTell } from './commands.ts';
import { pathOf } from './places.ts';
import { movedFile } from './rename.ts';
import { requireSaved } from './saved.ts';
import type { Session } from './session.ts';

/** The edits after which all that names some files names them where the editor puts them; copies of them in children go along. */
export async function movedEdits(session: Session, files: readonly FileRename[]): Promise<WorkspaceEdit | null> {
  const changes = files.flatMap(({ oldUri, newUri }): (TextDocumentEdit | RenameFile)[] => {
    const [from, to] = [pathOf(oldUri), pathOf(newUri)];
    const file = from === undefined ? undefined : session.workspace.fileAt(from);
    const root = file?.theme.place;
    // What leaves the theme is nothing that it can name.
    if (
      file === undefined ||
      to === undefined ||
      root === undefined ||
      !isWithin(to, root) ||
      file.theme.tree.get(file.path)?.kind !== 'file'
    )
      return [];
    // The editor moves this one itself.
    return movedFile(session, file, file.path, pathFrom(root, to)).filter((change) => !('oldUri' in change) || change.oldUri !== oldUri);
  });
  return changes.length === 0 ? null : { documentChanges: changes };
}

/** A theme whose folder has another name now is called otherwise: what holds the old name can be changed, too. */
export async function offerRename(session: Session, files: readonly FileRename[]): Promise<void> {
  const { connection, workspace, judge } = session;
  for (const { oldUri, newUri } of files) {
    const [from, to] = [pathOf(oldUri), pathOf(newUri)];
    if (from === undefined || to === undefined || dirname(from) !== dirname(to)) continue;
    judge.onDisk([from, to]);
    const opened = workspace.opened(to);
    if (opened === undefined || opened.folder !== to) continue;
    const [old, id] = [basename(from), opened.theme.names.id];
    const question = `The folder of ${old} is called ${basename(to)} now: is the theme to be renamed to ${id} in all its files?`;
    const answer = await connection.window.showInformationMessage(question, { title: 'Rename' }, { title: 'Leave' });
    if (answer?.title !== 'Rename') continue;
    // Those that build on it are changed, too.
    requireSaved(session, dirname(to));
    await runAndTell(session, ['rename', '--was', old, '--yes', '--', to, id], CancellationToken.None);
    judge.onDisk([from, to]);
  }
}
