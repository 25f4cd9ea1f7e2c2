import { flag, text } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { planFinish, planRename } from '../../core/rename/rename-theme.ts';
import { defineCommand, type Context } from '../command.ts';
import type { ExitStatus } from '../exit-status.ts';
import { carryOutRename, renameOptions, type RenameOptions } from '../renaming.ts';
import { sizeText } from '../output/rename-text.ts';
import { openArgument } from '../theme-argument.ts';

export default defineCommand({
  arguments: [
    { form: '<theme>', about: 'the theme’s folder, or its id on a shelf' },
    { form: '[new-id]', about: 'its new id' },
  ],
  options: {
    was: text('OLD-ID', 'finish a rename that was begun by hand: what the theme was called'),
    wasTitle: text('TEXT', 'with --was: the old title'),
    children: flag('leave the themes that build on it as they are', true),
    ...renameOptions,
  },
  examples: [
    'pionero rename albar lumbre',
    'pionero rename albar --title-only --title "Albar, the old one"',
    'pionero rename albar lumbre --plan-out rename.yaml',
    'pionero rename albar --plan rename.yaml --yes',
    'pionero rename lumbre --was albar',
  ],
  async run(context, args, options) {
    const [argument, id] = args;
    const { was, wasTitle } = options;
    const source = await openArgument(argument, context, { formerId: was });
    if (was !== undefined) return finish(context, source, id, { ...options, was, wasTitle });
    if (wasTitle !== undefined) throw new UsageError({ what: '--was-title goes with --was', hint: 'add --was OLD-ID' });
    return carryOutRename(context, source, id, options, {
      plan: async (wishes) => {
        const rename = await planRename(source, wishes);
        return rename === undefined || options.children ? rename : { ...rename, children: [] };
      },
      question: (rename) =>
        `Rename ${rename.from.id} to ${rename.to.id === rename.from.id ? `“${rename.to.title}”` : rename.to.id} (${sizeText(rename)})?`,
      done: ({ from, to, plan }) => `${from.id} is now ${to.id === from.id ? `“${to.title}”` : to.id}, in ${context.shown(plan.root)}`,
    });
  },
});

/** @throws UsageError when a new id is named too: the theme has its new name already */
async function finish(
  context: Context,
  source: OpenedTheme,
  id: string | undefined,
  options: RenameOptions & { readonly was: string; readonly wasTitle: string | undefined },
): Promise<ExitStatus> {
  const { was, wasTitle } = options;
  const own = source.theme.names.id;
  if (id !== undefined && id !== own)
    throw new UsageError({
      what: `--was finishes a rename to ${own}, so the theme cannot become “${id}” at once`,
      hint: `leave ${id} out, and rename it afterward`,
    });
  return carryOutRename(context, source, undefined, options, {
    plan: async (wishes) => planFinish(source, { id: was, title: wasTitle }, wishes),
    question: (rename) => `Finish the rename of ${rename.from.id} to ${rename.to.id} (${sizeText(rename)})?`,
    done: ({ from, to, plan }) => `nothing is called ${from.id} any more but what is listed: ${to.id} is in ${context.shown(plan.root)}`,
  });
}
