import { CodeActionKind, type CodeAction } from 'vscode-languageserver/node';
import { usesOfIdentifier } from '../../core/editor/identifier-uses.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { CommandName } from './commands.ts';
import { fileEdit } from './edits.ts';
import { movedFile } from './rename.ts';
import type { Session } from './session.ts';

/** The other name that a finding proposes, given everywhere: to what code declares, to a file, to the theme. */
export function proposedRename(session: Session, file: EditedFile, { hint, args, fix }: Finding): CodeAction | undefined {
  const { theme, opened } = file;
  const [to = ''] = String(hint?.args['to'] ?? '').split(' or ');
  const action = (title: string, rest: Pick<CodeAction, 'edit' | 'command'>): CodeAction => ({
    title,
    kind: CodeActionKind.QuickFix,
    ...rest,
  });
  switch (hint?.code) {
    case 'rename-with-calls': {
      const name = String(args['name']);
      const uses = usesOfIdentifier(theme, name);
      const changes = [...new Set(uses.map(({ path }) => path))].flatMap((path) =>
        fileEdit(
          theme,
          path,
          uses.filter((use) => use.path === path).map(({ start, end }) => ({ start, end, text: to })),
        ),
      );
      return action(`Rename ${name} to ${to}, with its calls`, { edit: { documentChanges: changes } });
    }
    case 'rename': {
      const from = String(hint.args['from']);
      if (fix !== undefined || theme.tree.get(from)?.kind !== 'file' || theme.tree.get(to) !== undefined) return undefined;
      return action(`Rename ${from} to ${to}, with what names it`, { edit: { documentChanges: movedFile(session, file, from, to) } });
    }
    case 'rename-folder-to':
      return action(`Rename the theme to ${to}`, themeRename('pionero.rename', opened.folder, to));
    case 'rename-as-called':
      return action(
        `Rename what is still called ${hint.args['own']}`,
        themeRename('pionero.rename-rest', opened.folder, String(hint.args['own'])),
      );
    default:
      return undefined;
  }
}

function themeRename(command: CommandName, folder: string, name: string): Pick<CodeAction, 'command'> {
  return { command: { command, title: 'Rename', arguments: [folder, name] } };
}
