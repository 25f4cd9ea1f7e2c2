import { z } from 'zod';
import { applyPlan } from '../../core/changes/apply.ts';
import { checkTheme, type CheckResult } from '../../core/rules/check.ts';
import { planFixes } from '../../core/rules/fix.ts';
import { openArgument } from '../theme-argument.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { closing, findingsText, headline } from '../output/findings-text.ts';
import { checkJson } from '../output/json.ts';
import { count } from '../output/paint.ts';

const options = {
  fix: z.boolean().default(false).describe('mend what has one right answer'),
  strict: z.boolean().default(false).describe('warnings count as errors for the exit status'),
  ...changeOptions,
};
type Options = z.infer<z.ZodObject<typeof options>>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'folders of themes, or ids of themes on a shelf; the current folder when left out' }],
  options,
  examples: ['pionero check cierzo', 'pionero check cierzo --fix', 'pionero check cierzo --format json'],
  async run(context, args, given) {
    const reports: Record<string, unknown>[] = [];
    let status: ExitStatus = ExitStatus.ok;
    for (const argument of args.length === 0 ? [undefined] : args) {
      let opened = openArgument(argument, context);
      let result = checkOpened(opened);
      if (given.fix && (await mend(context, opened, given))) {
        opened = openArgument(argument, context);
        result = checkOpened(opened);
      }
      if (reports.length > 0) context.say('');
      show(context, opened, result);
      reports.push(checkJson(opened.theme, result));
      const failing = given.strict ? ['error', 'warning'] : ['error'];
      if (result.findings.some((finding) => failing.includes(finding.severity))) status = ExitStatus.findings;
    }
    context.result(reports.length === 1 ? reports[0] : reports);
    return status;
  },
});

function checkOpened({ theme, chain, shelves, configuration }: OpenedTheme): CheckResult {
  return checkTheme(theme, chain, shelves, { severities: configuration.rules });
}

function show(context: Context, { theme, reasons }: OpenedTheme, result: CheckResult): void {
  const { paint, io } = context;
  if (context.options.verbose) context.say(paint.faint(`${theme.platform.contract.title}: ${reasons.join('; ')}`));
  context.say(headline(theme, result, paint));
  if (result.findings.length === 0) return;
  context.say(`\n${findingsText(result.findings, paint, io.columns)}`);
  context.say(`\n${closing(result.findings, paint)}`);
}

/** Applies the sure fixes; returns whether anything was changed. */
async function mend(context: Context, opened: OpenedTheme, given: Options): Promise<boolean> {
  const { plan, fixes } = planFixes(opened.theme, opened.shelves, opened.folder, { severities: opened.configuration.rules });
  const { paint } = context;
  if (fixes.length === 0) return false;
  context.say(paint.strong(`To mend in ${opened.theme.names.id}:`));
  for (const { finding, fix } of fixes) context.say(`  ${fix.file}:${finding.line}  ${fix.title}  ${paint.faint(finding.rule)}`);
  if (!(await isConfirmed(context, given, `Mend ${count(fixes.length, 'place')}?`))) return false;
  await context.io.withInterrupt((signal) => applyPlan(plan, { journal: context.journal, now: context.io.now(), signal }));
  context.say(`${paint.good('✓')} ${count(fixes.length, 'place')} mended; “pionero undo” takes it back.\n`);
  return true;
}
