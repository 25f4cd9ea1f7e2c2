import { resolve } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { kindOnDisk } from '../core/files/disk.ts';
import { openThemeArchive } from '../core/package/open-archive.ts';
import { choosePlatform, openThemeFolder, type OpenedTheme } from '../core/theme/open.ts';
import { Shelves } from '../core/theme/shelf.ts';
import type { Context } from './command.ts';

/** Opens what a theme argument names: a folder, or the id of a theme on a shelf; the current folder when left out. */
export function openArgument(argument: string | undefined, { options, platforms }: Context): OpenedTheme {
  const at = { platform: options.platform, shelves: options.shelf, platforms };
  const folder = argument ?? '.';
  if (argument !== undefined && kindOnDisk(resolve(argument)) === undefined && !/[/\\]/.test(argument)) {
    const possible = options.platform === undefined ? platforms() : [choosePlatform(options.platform, platforms)];
    for (const platform of possible) {
      const shelved = new Shelves(platform, options.shelf).find(argument);
      if (shelved !== undefined) return openThemeFolder(shelved.folder, at);
    }
  }
  return openThemeFolder(folder, at);
}

/** Like {@link openArgument}; takes an archive too. */
export async function openSource(argument: string | undefined, context: Context): Promise<OpenedTheme> {
  if (argument === undefined || kindOnDisk(resolve(argument)) !== 'file') return openArgument(argument, context);
  // An archive may hold as much as it likes: memory is collected when a quarter more is in use, not when twice as much is.
  setFlagsFromString('--heap-growing-percent=25');
  const { platform, shelf } = context.options;
  const opened = await openThemeArchive(argument, { platform, shelves: shelf, platforms: context.platforms });
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
