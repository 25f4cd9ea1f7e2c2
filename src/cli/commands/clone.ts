import { resolve } from 'node:path';
import { z } from 'zod';
import { displayPath } from '../../core/files/disk.ts';
import { applyPlan } from '../../core/changes/apply.ts';
import { planClone } from '../../core/rename/clone-theme.ts';
import { changeOptions, defineCommand, takes } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { renameJson, renameText } from '../output/rename-text.ts';
import { openArgument } from '../theme-argument.ts';

export default defineCommand({
  arguments: [
    { form: '<source>', about: 'a theme’s folder, or the id of a theme on a shelf' },
    { form: '<new-id>', about: 'what the clone is called' },
  ],
  options: {
    title: takes(z.string().optional().describe('the clone’s title; follows from the id when left out'), 'TEXT'),
    vendor: takes(z.string().optional().describe('who makes it, on platforms that have vendors'), 'NAME'),
    to: takes(z.string().default('.').describe('the shelf to make it on; the current folder when left out'), 'DIR'),
    keep: takes(z.array(z.string()).default([]).describe('a text in which the old name stays; repeatable'), 'TEXT'),
    ...changeOptions,
  },
  examples: [
    'pionero clone demo/shelf/albar lumbre',
    'pionero clone demo/shelf/albar lumbre --title "Lumbre, the warm one" --dry-run --verbose',
  ],
  async run(context, args, given) {
    const [argument, id = ''] = args;
    const source = openArgument(argument, context);
    const keep = [...given.keep, ...source.configuration.rename.keep];
    const clone = planClone({ source, id, title: given.title, vendor: given.vendor, into: resolve(given.to), keep });
    context.say(renameText(clone, context.paint, { isVerbose: context.options.verbose, columns: context.io.columns }));
    const isApplied = await isConfirmed(context, given, `Make ${displayPath(clone.plan.root)}?`);
    if (isApplied) {
      await context.io.withInterrupt((signal) => applyPlan(clone.plan, { journal: context.journal, now: context.io.now(), signal }));
      context.say(`${context.paint.good('✓')} ${clone.to.id} is made in ${displayPath(clone.plan.root)}; “pionero undo” takes it back.`);
    }
    context.result(renameJson(clone, isApplied));
    return clone.leftovers.length > 0 ? ExitStatus.findings : ExitStatus.ok;
  },
});
