import { UsageError } from '../core/errors.ts';
import type { ChangeOptions, Context } from './command.ts';

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
      what: 'nothing was changed: nobody can be asked here',
      hint: 'add --yes to apply the plan, or --dry-run to only see it',
    });
  }
  const { confirm, isCancel } = await import('@clack/prompts');
  const answer = await confirm({ message: question });
  const isYes = !isCancel(answer) && answer;
  if (!isYes) context.say('Nothing was changed.');
  return isYes;
}
