import { planRename } from '../../core/rename/rename-theme.ts';
import { defineCommand } from '../command.ts';
import { carryOutRename, renameOptions } from '../renaming.ts';
import { openArgument } from '../theme-argument.ts';

export default defineCommand({
  arguments: [
    { form: '<theme>', about: 'the theme’s folder, or its id on a shelf' },
    { form: '[new-id]', about: 'what it is called from now on' },
  ],
  options: renameOptions,
  examples: [
    'pionero rename albar lumbre',
    'pionero rename albar --title-only --title "Albar, the old one"',
    'pionero rename albar lumbre --plan-out rename.yaml',
    'pionero rename albar --plan rename.yaml --yes',
  ],
  async run(context, args, given) {
    const [argument, id] = args;
    const source = openArgument(argument, context);
    return carryOutRename(context, source, id, given, {
      plan: async (wishes) => planRename(source, wishes),
      question: ({ from, to, plan }) => `Rename ${from.id}${to.id === from.id ? '' : ` to ${to.id}, in ${context.shown(plan.root)}`}?`,
      done: ({ from, to, plan }) => `${from.id} is now ${to.id === from.id ? `“${to.title}”` : to.id}, in ${context.shown(plan.root)}`,
    });
  },
});
