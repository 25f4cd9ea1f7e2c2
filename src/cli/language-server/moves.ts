import type { FileRename, TextDocumentEdit, WorkspaceEdit } from 'vscode-languageserver/node';
import { moveEdits } from '../../core/editor/move-references.ts';
import { pathFrom } from '../../core/files/paths.ts';
import { usesAround } from './family.ts';
import { pathOf } from './places.ts';
import { editsOf } from './rename.ts';
import type { Session } from './session.ts';

/** The edits after which all that names some files names them where the editor puts them. */
export async function movedEdits(session: Session, files: readonly FileRename[]): Promise<WorkspaceEdit | null> {
  const changes: TextDocumentEdit[] = files.flatMap(({ oldUri, newUri }) => {
    const [from, to] = [pathOf(oldUri), pathOf(newUri)];
    const file = from === undefined ? undefined : session.workspace.fileAt(from);
    const root = file?.theme.tree.disk?.root;
    if (file === undefined || to === undefined || root === undefined || file.theme.tree.get(file.path)?.kind !== 'file') return [];
    const uses = (['partial', 'path'] as const).flatMap((how) =>
      usesAround(session, file, { kind: 'file', theme: file.theme, path: file.path, how }),
    );
    const once = uses.filter(
      (use, i) => uses.findIndex((other) => other.path === use.path && other.start === use.start && other.theme === use.theme) === i,
    );
    return editsOf(moveEdits(once, pathFrom(root, to))).documentChanges;
  });
  return changes.length === 0 ? null : { documentChanges: changes };
}
