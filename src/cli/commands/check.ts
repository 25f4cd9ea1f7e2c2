import { choice, flag, text, texts, whole, type Values } from '../option.ts';
import { writeOutput } from '../../core/changes/write-output.ts';
import { ConfigurationError, PioneroError, UsageError } from '../../core/errors.ts';
import { changesSince, type Changes } from '../../core/files/disk-git.ts';
import { withStaged } from '../../core/files/disk-git-staged.ts';
import { kindOnDisk, readIfThere } from '../../core/files/disk.ts';
import { findConfiguration } from '../../core/configuration/configuration.ts';
import { checkConfigurations, withMistakesOnce } from '../../core/rules/engine/check-configuration.ts';
import { beyondBaseline, EMPTY_BASELINE, longKeyOf, readBaseline, withFindings } from '../../core/rules/engine/baseline.ts';
import type { Baseline } from '../../core/rules/engine/baseline-schema.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { releaseNamed } from '../../core/platform/platform.ts';
import { planFixes } from '../../core/rules/engine/fix.ts';
import { decidingFindings, decisionOptions } from '../deciding.ts';
import { checkAndWrite } from '../check-and-write.ts';
import { checkMany, commonOf, type CheckHow } from '../check-many.ts';
import { defineCommand, type Context, changeOptions, jobsOption } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { diffText } from '../output/diff-text.ts';
import { openArgument } from '../theme-argument.ts';
import { QuickLook } from '../quick-look.ts';
import { watchThemes } from '../watch.ts';
import { checkOptionsOf } from '../../core/rules/engine/check.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { checkTargets, type CheckTarget } from '../check-targets.ts';
import { affectedBy, findingsSince, type Since } from '../check-since.ts';
import type { ShardPositions, StreamSettings } from '../report-stream.ts';
import { REPORT_NAMES } from '../report-streams.ts';
import { PACKAGE_COSTS } from '../../core/parallel/task-pool.ts';
import { pathsIn } from '../path-list.ts';
import { parseShard, positionsIn, shardOfJob } from '../shards.ts';
import { writeReport } from '../reports.ts';
import { count } from '../../core/text/sentence.ts';
import { ruleNamed } from '../../core/rules/engine/rule-named.ts';
import { RULES } from '../../core/rules/rules.ts';

const OPTIONS = {
  fix: flag('fix what has one right answer'),
  fixSuggested: flag('also fix what has a likely answer'),
  ...decisionOptions,
  for: choice(['install', 'submission'], 'PURPOSE', 'what the theme is checked for', 'install'),
  release: text('RELEASE', 'whether it would run on that release of its host, whatever it says it is for'),
  rulePreview: texts('RULE', 'ask a rule that is switched off, too; repeatable; see “pionero report compare”'),
  baseline: text('FILE', 'show only what a baseline does not know'),
  baselineOut: text('FILE', 'write what is found into a baseline'),
  staged: flag('what the next commit holds, and not what lies there; for a hook (needs Git)'),
  since: text('REV', 'only what changed since a commit, a branch or a tag can affect (needs Git)'),
  shard: text('I/N', 'one part of several, for several machines: 2/4; “env” takes it from the job'),
  fromList: text('FILE', 'check what a file lists, a path a line; “-” reads standard input'),
  timeLimit: whole('SECONDS', 'the most that one of many packages may take', { from: 1 }, 60),
  cache: flag('ignore the cache', true),
  watch: flag('check again whenever a file changes'),
  ...jobsOption,
  ...changeOptions,
  format: choice(REPORT_NAMES, 'FORMAT', 'text for people, or a report for programs', 'text'),
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'themes, archives, or folders of themes; default: the current folder' }],
  options: OPTIONS,
  examples: [
    'pionero check cierzo',
    'pionero check cierzo --fix --dry-run',
    'pionero check shelf --format sarif',
    'pionero check shelf --since main',
    'pionero check --staged',
    'pionero check cierzo --release 5',
    'pionero check shelf --shard 2/4 --format json',
    'pionero check --from-list packages.txt --format jsonl',
    'pionero check cierzo --baseline-out known.json; pionero check cierzo --baseline known.json',
  ],
  async run(context, given, options) {
    const args = options.fromList === undefined ? given : [...given, ...(await pathsIn(context, options.fromList))];
    if (options.staged) return checkStaged(context, args, options);
    if (options.watch) return watch(context, args, options);
    return checkOnce(context, args, options, options.since === undefined ? undefined : changesSince(context.io.folder, options.since));
  },
});

/**
 * Checks once, all or what changes can affect, and tells what was found.
 * @param teller the surroundings that paths in the report are shown from: the files may be a copy of those that people know
 */
async function checkOnce(
  context: Context,
  args: readonly string[],
  options: Options,
  changes: Changes | undefined,
  teller = context,
): Promise<ExitStatus> {
  const found = checkTargets(context, args);
  throwOnly(found.targets, options);
  const since = changes === undefined ? undefined : affectedBy(context, found.targets, changes);
  const shard = shardOf(context, since?.affected ?? found.targets, options);
  const { targets } = shard;
  if (options.fix || options.fixSuggested)
    for (const target of targets) if (target.kind === 'folder') await fix(context, target.path, options);
  // A single target that cannot be opened is an error as always; it becomes a report where you asked for a report.
  const isThrowing = found.targets.length === 1 && options.format === 'text';
  const how = { ...howOf(context, options), isThrowing, needsBasis: since !== undefined };
  const others = since === undefined ? found.others.map((other) => context.original(other)) : [];
  const settings: Omit<StreamSettings, 'decides'> = { shard: shard.told, others, release: options.release };
  if (isStreamed(context, options, since))
    return checkAndWrite(teller, targets, how, { ...settings, format: options.format, decision: options, roots: rootsOf(context, args) });
  const folders = targets.flatMap(({ kind, path }) => (kind === 'folder' ? [path] : []));
  const now = await checkMany(context, targets, how);
  const all = since === undefined ? now : await findingsSince(context, since, now, await commonOf(context, how, folders));
  if (options.baselineOut !== undefined && !options.dryRun) return saveBaseline(teller, all, options.baselineOut);
  const checked = beyond(
    baselineOf(teller, options),
    all.map((each) => ({ ...each, folder: context.original(each.folder) })),
  );
  const isWhole = since === undefined && options.shard === undefined;
  const told = isWhole ? [...withMistakesOnce(checked), ...checkConfigurations(checked, rootsOf(context, args))] : checked;
  if (since !== undefined && options.format === 'text') saySince(teller, since, found.targets.length);
  const decides = decidingFindings(told, options);
  return writeReport(teller, options.format, told, { ...settings, decision: options, decides, baseline: baselineFile(teller, options) });
}

/** @throws UsageError when a rule that is to be tried does not exist */
function howOf(context: Context, options: Options): CheckHow {
  const limits = { ...PACKAGE_COSTS, milliseconds: 1000 * options.timeLimit };
  // The rules of a module are known once it is loaded, for a theme; all others before the first of ten thousand is checked.
  const isSure = findConfiguration(context.io.folder)['rule-files'].length === 0;
  for (const rule of isSure ? options.rulePreview : []) ruleNamed(RULES, rule);
  return {
    purpose: options.for,
    release: options.release,
    preview: options.rulePreview,
    isCached: options.cache,
    jobs: options.jobs,
    limits,
  };
}

/** Whether the report can be written while it grows: nothing that is found later changes what stands before it. */
function isStreamed(context: Context, options: Options, since: unknown): boolean {
  const { format, baselineOut, maxWarnings } = options;
  const isWhole = since !== undefined || baselineOut !== undefined || baselineFile(context, options) !== undefined;
  // Whether warnings decide is known when all of them are.
  const tellsDeciding = format === 'junit' || (format === 'text' && context.options.quiet);
  return !isWhole && !(tellsDeciding && maxWarnings !== undefined);
}

/** Checks the files of the next commit, and reports the findings that it brings; before the first commit, all findings. */
async function checkStaged(context: Context, args: readonly string[], options: Options): Promise<ExitStatus> {
  const others = {
    '--fix': options.fix,
    '--fix-suggested': options.fixSuggested,
    '--watch': options.watch,
    '--since': options.since !== undefined,
  };
  const [other] = Object.entries(others).flatMap(([name, isGiven]) => (isGiven ? [name] : []));
  if (other !== undefined) throw new UsageError({ what: `--staged and ${other} do not go together`, hint: 'leave one of them out' });
  return withStaged(context.io.folder, async ({ root, copy, commit, paths }) => {
    const copied = context.inCopy({ folder: copy, of: root });
    const changes = commit === undefined ? undefined : { root, files: copy, commit, paths };
    if (paths.length === 0 && options.format === 'text') {
      context.say('Nothing is staged: a commit would change nothing.');
      return ExitStatus.ok;
    }
    return checkOnce(copied, args, { ...options, cache: false }, changes, context);
  });
}

/** The part of the targets that this run is for. @throws UsageError when --shard is not a shard */
function shardOf(
  context: Context,
  targets: readonly CheckTarget[],
  { shard: text }: Options,
): { targets: readonly CheckTarget[]; told?: ShardPositions } {
  if (text === undefined) return { targets };
  const shard = text === 'env' ? shardOfJob(context.io.env) : parseShard(text);
  if (shard === undefined)
    throw new UsageError(
      text === 'env'
        ? {
            what: '--shard env finds no job array or matrix around',
            hint: 'set SHARD_INDEX (from 1) and SHARD_COUNT, or write the part: --shard 2/4',
          }
        : { what: `--shard ${text} is not a valid shard`, hint: 'write the part and how many there are: --shard 2/4' },
    );
  const positions = positionsIn(shard, targets);
  const own = new Set(positions);
  return { targets: targets.filter((_target, i) => own.has(i)), told: { ...shard, positions } };
}

/** The folders that were named whole. */
function rootsOf(context: Context, args: readonly string[]): string[] {
  return (args.length === 0 ? ['.'] : args).map((argument) => context.path(argument)).filter((path) => kindOnDisk(path) === 'folder');
}

function saySince(context: Context, { changes, affected }: Since, all: number): void {
  if (context.options.quiet) return;
  const files = count(changes.paths.length, 'file');
  const how = changes.files === changes.root ? `changed since ${changes.commit.slice(0, 10)}` : 'staged';
  context.say(`${files} ${how}: ${affected.length} of ${count(all, 'theme')} can be affected`);
  if (affected.length > 0) context.say('');
}

/** @throws PioneroError when one thing was named, and it is nothing that can be checked */
function throwOnly(targets: readonly CheckTarget[], { format }: Options): void {
  const [only] = targets;
  if (targets.length === 1 && only?.kind === 'failed' && format === 'text') throw only.error;
}

/** Applies the sure fixes, and the likely ones where they were asked for. */
async function fix(context: Context, path: string, options: Options): Promise<void> {
  const opened = await openOrNothing(context, path);
  if (opened === undefined) return;
  const { theme, shelves, folder, configuration } = opened;
  const { plan, fixes, failed } = planFixes(theme, shelves, folder, {
    ...checkOptionsOf(configuration, options.for),
    releases: options.release === undefined ? undefined : [releaseNamed(theme.platform, options.release)],
    isGuessing: options.fixSuggested,
  });
  const { paint } = context;
  for (const { finding, fix } of failed)
    context.warn(
      `${paint.warn('▲')} ${fix.file}:${finding.line} is not fixed: after “${fix.title.text}” the finding was still there (${finding.rule}), so it was taken back.`,
    );
  if (fixes.length === 0) return;
  context.say(paint.strong(`To fix in ${theme.names.id}:`));
  for (const { finding, fix } of fixes) context.say(`  ${fix.file}:${finding.line}  ${fix.title.text}  ${paint.faint(finding.rule)}`);
  if (options.dryRun) context.say(`\n${diffText(plan, paint)}\n`);
  if (!(await isConfirmed(context, options, `Fix ${count(fixes.length, 'place')}?`))) return;
  await context.apply(plan);
  context.say(`${paint.good('✓')} ${count(fixes.length, 'place')} fixed; “pionero undo” reverts it.\n`);
}

/** A target that cannot be opened is reported when it is checked. */
async function openOrNothing(context: Context, path: string): Promise<OpenedTheme | undefined> {
  try {
    return await openArgument(path, context, { isLenient: true });
  } catch (error) {
    if (error instanceof PioneroError) return undefined;
    throw error;
  }
}

/** The baseline that the command line names, else the configuration around the current folder. */
function baselineFile(context: Context, { baseline }: Options): string | undefined {
  if (baseline !== undefined) return baseline;
  const { baseline: configured } = findConfiguration(context.io.folder);
  return configured === undefined ? undefined : context.shown(configured);
}

/** @throws ConfigurationError when there is no such baseline */
function baselineOf(context: Context, options: Options): Baseline {
  const file = baselineFile(context, options);
  if (file === undefined) return EMPTY_BASELINE;
  const bytes = readIfThere(context.path(file));
  if (bytes === undefined) throw new ConfigurationError({ what: `there is no baseline ${file}`, hint: 'write one with --baseline-out' });
  return readBaseline(bytes.toString('utf8'), file);
}

function beyond(baseline: Baseline, checked: readonly CheckedFolder[]): CheckedFolder[] {
  const key = baselineKeys(checked);
  return checked.map((each) => {
    // A theme that is checked alone may stand there under the longer name that it has among others.
    const keys = [key(each), longKey(each)];
    const known = keys.find((name) => Object.hasOwn(baseline.themes, name)) ?? key(each);
    const findings = beyondBaseline(baseline, known, each.result.findings);
    return { ...each, result: { ...each.result, findings, known: each.result.findings.length - findings.length } };
  });
}

/** Themes stand in a baseline by their ids; those of several platforms or vendors can have one id, and need more. */
function baselineKeys(checked: readonly CheckedFolder[]): (checked: CheckedFolder) => string {
  const times = new Map<string, number>();
  for (const { id } of checked) times.set(id, (times.get(id) ?? 0) + 1);
  return (each) => (times.get(each.id) === 1 ? each.id : longKey(each));
}

function longKey({ id, platform, facts }: CheckedFolder): string {
  const { vendor } = facts;
  return longKeyOf({ id, vendor: typeof vendor === 'string' ? vendor : undefined, platform: platform.name });
}

async function saveBaseline(context: Context, checked: readonly CheckedFolder[], file: string): Promise<ExitStatus> {
  const key = baselineKeys(checked);
  const baseline = checked.reduce((known, each) => withFindings(known, key(each), each.result.findings), EMPTY_BASELINE);
  await writeOutput(context.path(file), Buffer.from(`${JSON.stringify(baseline, null, 2)}\n`), context.journal);
  const findings = checked.reduce((sum, { result }) => sum + result.findings.length, 0);
  context.say(`${count(findings, 'finding')} of ${count(checked.length, 'theme')} written to ${context.shown(context.path(file))}.`);
  return ExitStatus.ok;
}

async function watch(context: Context, args: readonly string[], options: Options): Promise<ExitStatus> {
  if (options.format !== 'text') throw new UsageError({ what: '--watch is for people: it prints text only', hint: 'leave --format out' });
  if (options.fix || options.fixSuggested)
    throw new UsageError({
      what: '--watch only shows, and --fix writes: an editor would not expect its file to change',
      hint: 'leave one of them out',
    });
  const first = checkTargets(context, args).targets;
  throwOnly(first, options);
  const named = (args.length === 0 ? ['.'] : args).map((argument) => context.path(argument));
  await watchThemes(context, {
    targets: () => checkTargets(context, args).targets,
    roots: named.filter((path) => kindOnDisk(path) === 'folder'),
    check: async (targets) =>
      beyond(baselineOf(context, options), await checkMany(context, targets, { ...howOf(context, options), needsBasis: true })),
    // It asks for the installation, by all the releases that the theme is for and by no other rules, and knows no baseline.
    quickLook:
      options.for === 'install' &&
      options.release === undefined &&
      options.rulePreview.length === 0 &&
      baselineFile(context, options) === undefined
        ? new QuickLook(context.opening)
        : undefined,
    show: async (checked) =>
      void (await writeReport(context, 'text', checked, { decision: options, decides: decidingFindings(checked, options) })),
  });
  return ExitStatus.ok;
}
