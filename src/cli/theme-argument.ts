import { setFlagsFromString } from 'node:v8';
import { kindOnDisk } from '../core/files/disk.ts';
import { openThemeArchive } from '../core/theme/open-archive.ts';
import { openThemeFolder, type OpenedTheme } from '../core/theme/open.ts';
import type { Context } from './command.ts';

/** Opens what a theme argument names: a folder, or the id of a theme on a shelf; the current folder when left out. @param formerId what the theme was called before, when its rename is to be finished */
export function openArgument(argument: string | undefined, context: Context, formerId?: string): OpenedTheme {
  const { options } = context;
  const opening = { ...context.opening, formerId };
  const folder = argument ?? '.';
  if (argument !== undefined && kindOnDisk(context.path(argument)) === undefined && !/[/\\]/.test(argument)) {
    const possible = options.platform === undefined ? context.platforms() : [context.platformNamed(options.platform)];
    for (const platform of possible) {
      const shelved = context.shelvesOf(platform).find(argument);
      if (shelved !== undefined) return openThemeFolder(shelved.folder, opening);
    }
  }
  return openThemeFolder(folder, opening);
}

/** Like {@link openArgument}; takes an archive too. */
export async function openSource(argument: string | undefined, context: Context): Promise<OpenedTheme> {
  if (argument === undefined || kindOnDisk(context.path(argument)) !== 'file') return openArgument(argument, context);
  // An archive may hold as much as it likes: memory is collected when a quarter more is in use, not when twice as much is.
  setFlagsFromString('--heap-growing-percent=25');
  const opened = await openThemeArchive(argument, context.opening);
  sayLeftBehind(context, argument, opened.leftBehind);
  return opened;
}

/** Says what of an archive was not unpacked. */
export function sayLeftBehind(context: Context, archive: string, leftBehind: readonly string[] = []): void {
  if (leftBehind.length === 0) return;
  const some = leftBehind.slice(0, 8).join(', ') + (leftBehind.length > 8 ? `, and ${leftBehind.length - 8} more` : '');
  context.warn(
    `${context.paint.warn('▲')} Not unpacked from ${archive}: ${some}. Developers’ tools run commands that they find there; a theme needs none.`,
  );
}
