import { text } from '../option.ts';
import { planClone } from '../../core/rename/rename-theme.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { defineCommand, type Context } from '../command.ts';
import { isFolderWanted } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { carryOutRename, renameOptions } from '../renaming.ts';
import { sizeText } from '../output/rename-text.ts';
import { shelfAround, shelfForArchive } from '../workspace.ts';
import { isArchive, openSource } from '../theme-argument.ts';

/** Where a clone is made that nobody gave a place. */
function placeFor(context: Context, source: OpenedTheme): string {
  if (kindOnDisk(source.folder) === undefined || isArchive(source.folder, context)) return shelfForArchive(context, source.theme.platform);
  return shelfAround(context, source) ?? context.io.folder;
}

export default defineCommand({
  arguments: [
    { form: '<source>', about: 'a theme’s folder, its archive, or the id of a theme on a shelf' },
    { form: '[new-id]', about: 'what the clone is called' },
  ],
  options: {
    to: text('DIR', 'the folder of themes to make it in; default: where the source is, on a shelf; else the current folder'),
    ...renameOptions,
  },
  examples: [
    'pionero clone demo/shelf/albar lumbre',
    'pionero clone demo/shelf/albar lumbre --title "Lumbre, the warm one" --dry-run --verbose',
    'pionero clone demo/shelf/albar oak --review',
    'pionero clone dist/albar-2.3.0.zip lumbre',
  ],
  async run(context, args, options) {
    const [argument = '', id] = args;
    const source = await openSource(argument, context);
    const into = options.to === undefined ? placeFor(context, source) : context.path(options.to);
    if (!options.dryRun && !(await isFolderWanted(context, into, options))) return ExitStatus.ok;
    return carryOutRename(context, source, id, options, {
      plan: async (wishes) => planClone(source, into, wishes),
      question: (rename) => `Make ${context.shown(rename.plan.root)} (${sizeText(rename)})?`,
      done: ({ to, plan }) => `${to.id} is made in ${context.shown(plan.root)}`,
    });
  },
});
