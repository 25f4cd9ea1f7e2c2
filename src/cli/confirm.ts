import { UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import type { ChangeOptions, Context } from './command.ts';
import { promptsFor } from './prompts.ts';

/**
 * Asks on a terminal whether a plan that was shown is to be applied.
 * @returns false when it was a dry run or the answer was no
 * @throws UsageError when nobody can be asked and --yes is missing
 */
export async function isConfirmed(context: Context, options: ChangeOptions, question: string): Promise<boolean> {
  if (options.dryRun) {
    context.say(context.paint.faint('Dry run: nothing was written.'));
    return false;
  }
  if (options.yes) return true;
  if (!context.io.isInteractive || context.isMachine) {
    throw new UsageError({
      what: 'not applied: no terminal to confirm on',
      hint: 'add --yes to apply the plan, or --dry-run to only see it',
    });
  }
  const isYes = (await (await promptsFor(context.io)).confirm(question)) ?? false;
  if (!isYes) context.say('Nothing was changed.');
  return isYes;
}

/**
 * Asks before a folder is made that a path only names: it may be mistyped.
 * @returns false when the answer was no
 * @throws UsageError when nobody can be asked and --yes is missing
 */
export async function isFolderWanted(context: Context, folder: string, { yes }: { readonly yes: boolean }): Promise<boolean> {
  if (kindOnDisk(folder) !== undefined) return true;
  const shown = context.shown(folder);
  if (yes) {
    context.say(`The folder ${shown} is made, too.`);
    return true;
  }
  if (!context.io.isInteractive || context.isMachine)
    throw new UsageError({ what: `there is no folder ${shown}`, hint: 'check the path, make the folder, or add --yes to have it made' });
  const isWanted = (await (await promptsFor(context.io)).confirm(`There is no folder ${shown}. Make it?`)) ?? false;
  if (!isWanted) context.say('Nothing was changed.');
  return isWanted;
}
