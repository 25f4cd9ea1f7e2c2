import { RefusedError } from '../../core/errors.ts';
import { readIfThere } from '../../core/files/disk.ts';
import { isWithin } from '../../core/files/paths.ts';
import type { Session } from './session.ts';

/** @throws RefusedError when the editor has a text of a theme that is not on disk */
export function requireSaved({ context, workspace }: Pick<Session, 'context' | 'workspace'>, folder: string): void {
  const unsaved = workspace.openFiles.find((file) => isWithin(file, folder) && !workspace.isSaved(file, readIfThere(file)));
  if (unsaved !== undefined)
    throw new RefusedError({ what: `${context.shown(unsaved)} is not saved`, hint: 'save all files of the theme first' });
}
