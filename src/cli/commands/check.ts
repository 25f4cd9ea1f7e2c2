import * as z from 'zod';
import { writeOutput } from '../../core/changes/write-output.ts';
import { ConfigurationError, UsageError } from '../../core/errors.ts';
import { readIfThere } from '../../core/files/disk.ts';
import { beyondBaseline, EMPTY_BASELINE, readBaseline, withFindings, type Baseline } from '../../core/rules/baseline.ts';
import type { CheckedFolder } from '../../core/rules/check-folders.ts';
import { planFixes } from '../../core/rules/fix.ts';
import { checkMany } from '../check-many.ts';
import { defineCommand, takes, type Context, changeOptions } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { adviceText } from '../output/advice-text.ts';
import { diffText } from '../output/diff-text.ts';
import { count } from '../output/paint.ts';
import { openArgument } from '../theme-argument.ts';
import { watchThemes } from '../watch.ts';
import { checkOptionsOf } from '../../core/rules/check.ts';
import { REPORT_NAMES, REPORTS } from '../reports.ts';

const options = {
  fix: z.boolean().default(false).describe('mend what has one right answer'),
  fixSuggested: z.boolean().default(false).describe('mend what has a likely answer as well'),
  strict: z.boolean().default(false).describe('warnings count as errors for the exit status'),
  for: takes(z.enum(['install', 'submission']).default('install').describe('what the theme is checked for'), 'PURPOSE'),
  baseline: takes(z.string().optional().describe('show only what a baseline does not know'), 'FILE'),
  baselineOut: takes(z.string().optional().describe('write what is found into a baseline'), 'FILE'),
  watch: z.boolean().default(false).describe('check again whenever a file changes'),
  ...changeOptions,
  format: takes(z.enum(REPORT_NAMES).default('text').describe('text for people, json, sarif or junit'), 'FORMAT'),
};
type Options = z.infer<z.ZodObject<typeof options>>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'folders of themes, or ids of themes on a shelf; the current folder when left out' }],
  options,
  examples: [
    'pionero check cierzo',
    'pionero check cierzo --fix --dry-run',
    'pionero check shelf/* --format sarif',
    'pionero check cierzo --baseline-out known.json; pionero check cierzo --baseline known.json',
  ],
  async run(context, args, given) {
    const themes = args.length === 0 ? ['.'] : args;
    if (given.watch) return watch(context, themes, given);
    if (given.fix || given.fixSuggested) for (const theme of themes) await mend(context, theme, given);
    const baseline = given.baseline === undefined ? EMPTY_BASELINE : openBaseline(context, given.baseline);
    const all = await checkMany(context, themes, given.for);
    if (given.baselineOut !== undefined && !given.dryRun) return saveBaseline(context, all, given.baselineOut);
    const checked = all.map((each) => beyond(baseline, each));
    REPORTS[given.format](context, checked);
    const failing = given.strict ? ['error', 'warning'] : ['error'];
    const isFailing = checked.some(({ result }) => result.findings.some((finding) => failing.includes(finding.severity)));
    return isFailing ? ExitStatus.findings : ExitStatus.ok;
  },
});

/** Applies the sure fixes, and the likely ones where they were asked for. */
async function mend(context: Context, argument: string, given: Options): Promise<void> {
  const { theme, shelves, folder, configuration } = openArgument(argument, context);
  const { plan, fixes, failed } = planFixes(theme, shelves, folder, {
    ...checkOptionsOf(configuration, given.for),
    isGuessing: given.fixSuggested,
  });
  const { paint } = context;
  for (const { finding, fix } of failed)
    context.warn(
      `${paint.warn('▲')} ${fix.file}:${finding.line} is not mended: after “${adviceText(fix.title)}” the finding was still there (${finding.rule}), so it was taken back.`,
    );
  if (fixes.length === 0) return;
  context.say(paint.strong(`To mend in ${theme.names.id}:`));
  for (const { finding, fix } of fixes)
    context.say(`  ${fix.file}:${finding.line}  ${adviceText(fix.title)}  ${paint.faint(finding.rule)}`);
  if (given.dryRun) context.say(`\n${diffText(plan, theme.tree, paint)}\n`);
  if (!(await isConfirmed(context, given, `Mend ${count(fixes.length, 'place')}?`))) return;
  await context.apply(plan);
  context.say(`${paint.good('✓')} ${count(fixes.length, 'place')} mended; “pionero undo” takes it back.\n`);
}

/** @throws ConfigurationError when there is no such baseline */
function openBaseline(context: Context, file: string): Baseline {
  const bytes = readIfThere(context.path(file));
  if (bytes === undefined) throw new ConfigurationError({ what: `there is no baseline ${file}`, hint: 'write one with --baseline-out' });
  return readBaseline(bytes.toString('utf8'), file);
}

function beyond(baseline: Baseline, checked: CheckedFolder): CheckedFolder {
  const findings = beyondBaseline(baseline, checked.id, checked.result.findings);
  return { ...checked, result: { ...checked.result, findings } };
}

async function saveBaseline(context: Context, checked: readonly CheckedFolder[], file: string): Promise<ExitStatus> {
  const baseline = checked.reduce((known, { id, result }) => withFindings(known, id, result.findings), EMPTY_BASELINE);
  await writeOutput(context.path(file), Buffer.from(`${JSON.stringify(baseline, null, 2)}\n`), context.journal);
  const findings = checked.reduce((sum, { result }) => sum + result.findings.length, 0);
  context.say(`${count(findings, 'finding')} of ${count(checked.length, 'theme')} written to ${context.shown(context.path(file))}.`);
  return ExitStatus.ok;
}

async function watch(context: Context, themes: readonly string[], given: Options): Promise<ExitStatus> {
  if (given.format !== 'text') throw new UsageError({ what: '--watch is for people: it prints text only', hint: 'leave --format out' });
  const folders = themes.map((theme) => openArgument(theme, context).folder);
  await watchThemes(
    context,
    folders,
    async (changed) => checkMany(context, changed, given.for),
    (checked) => REPORTS.text(context, checked),
  );
  return ExitStatus.ok;
}
