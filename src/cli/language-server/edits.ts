import type { CreateFile, RenameFile, TextDocumentEdit, WorkspaceEdit } from 'vscode-languageserver/node';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Fix } from '../../core/rules/rule.ts';
import type { TextEdit as OwnEdit } from '../../core/text/edits.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { NOWHERE, placeOf, rangeOf, uriOf } from './places.ts';

/** Edits of one file as editors have them. */
export function fileEdit(theme: Theme, path: string, edits: readonly OwnEdit[]): TextDocumentEdit[] {
  const place = placeOf(theme, path);
  const source = theme.source(path);
  if (place === undefined || edits.length === 0) return [];
  const changes = edits.map(({ start, end, text }) => ({ range: rangeOf(source, { start, end }), newText: text }));
  return [{ textDocument: { uri: uriOf(place), version: null }, edits: changes }];
}

/** The edits and steps of a fix, as one change of a workspace; undefined where it copies what an editor cannot make: a picture. */
export function fixEdit({ theme }: EditedFile, { file, edits, steps = [] }: Fix): WorkspaceEdit | undefined {
  const changes: (TextDocumentEdit | RenameFile | CreateFile)[] = [];
  if (edits.length > 0 && theme.tree.get(file) === undefined) {
    const place = placeOf(theme, file);
    if (place === undefined) return undefined;
    changes.push({ kind: 'create', uri: uriOf(place), options: { ignoreIfExists: true } });
  }
  changes.push(...fileEdit(theme, file, edits));
  for (const { op, from, to } of steps) {
    const [old, next] = [placeOf(theme, from), placeOf(theme, to)];
    if (old === undefined || next === undefined) return undefined;
    if (op === 'move') changes.push({ kind: 'rename', oldUri: uriOf(old), newUri: uriOf(next), options: { overwrite: false } });
    else {
      const text = theme.source(from)?.text;
      if (text === undefined) return undefined;
      changes.push({ kind: 'create', uri: uriOf(next), options: { ignoreIfExists: true } });
      changes.push({ textDocument: { uri: uriOf(next), version: null }, edits: [{ range: NOWHERE, newText: text }] });
    }
  }
  return changes.length === 0 ? undefined : { documentChanges: changes };
}
