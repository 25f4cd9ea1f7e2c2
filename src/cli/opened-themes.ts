import type { OpenedTheme, OpenOptions } from '../core/theme/open.ts';
import { checkTargets } from './check-targets.ts';
import type { Context } from './command.ts';
import { openArgument } from './theme-argument.ts';

/**
 * Opens the themes that arguments name: themes, shelves, workspaces with `themes:` in their `pionero.yaml`, globs. Parents come
 * before what builds on them.
 * @throws PioneroError for the first that cannot be opened
 */
export async function openThemes(
  args: readonly string[],
  context: Context,
  more: Pick<OpenOptions, 'isLenient'> = {},
): Promise<OpenedTheme[]> {
  const opened: OpenedTheme[] = [];
  for (const target of checkTargets(context, args).targets) {
    if (target.kind === 'failed') throw target.error;
    opened.push(await openArgument(context.shown(target.path), context, more));
  }
  return opened.sort((a, b) => a.chain.themes.length - b.chain.themes.length);
}
