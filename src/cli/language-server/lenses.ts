import type { CodeLens } from 'vscode-languageserver/node';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import { spotsIn } from '../../core/editor/spots.ts';
import { findDrift, type DriftState } from '../../core/lineage/drift.ts';
import type { TextRange } from '../../core/text/edits.ts';
import { mainFile } from '../../core/theme/main-file.ts';
import { originalsFor } from '../lineage-context.ts';
import type { CommandName } from './commands.ts';
import { rangeOf } from './places.ts';
import type { Session } from './session.ts';

const SINCE: Partial<Readonly<Record<DriftState, string>>> = {
  changed: ', changed there since',
  removed: ', removed there',
  moved: ', moved there',
};
const TOP: TextRange = { start: 0, end: 0 };

/** Commands for a file and its theme, above the lines that they are about. */
export async function lensesOf({ context }: Session, file: EditedFile): Promise<CodeLens[]> {
  const { theme, chain, opened, path } = file;
  const source = theme.source(path);
  const lens = (title: string, command: CommandName, at: TextRange = TOP, ...more: readonly string[]): CodeLens => ({
    range: rangeOf(source, at),
    command: { title, command, arguments: [opened.folder, ...more] },
  });
  const isMain = mainFile(theme) === path;
  const own = isMain ? [lens('Rehearse', 'pionero.rehearse'), lens('Pack', 'pionero.pack')] : [];
  if (chain.themes.length < 2) return own;
  const { files } = await findDrift(chain, originalsFor(context, opened));
  const taken = files.filter(({ record }) => record.file === path);
  const copied = taken.flatMap(({ record, state }) => {
    const from = `Copied from ${record.theme}${record.version === undefined ? '' : ` ${record.version}`}`;
    const since = SINCE[state] ?? '';
    const merge = state === 'changed' ? [lens('Merge', 'pionero.merge')] : [];
    return [lens(`${from}${since}: show`, 'pionero.drift'), ...merge];
  });
  const inherited = spotsIn(file).flatMap(({ target, ...at }) =>
    target.kind === 'file' && target.how === 'partial' && target.theme.names.id !== theme.names.id
      ? [lens(`Inherited from ${target.theme.names.id}: take a copy`, 'pionero.override', at, target.path)]
      : [],
  );
  return [...own, ...copied, ...inherited];
}
