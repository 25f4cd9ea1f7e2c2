import { choice, flag, text, type Values } from '../option.ts';
import { resolve } from 'node:path';
import { ConfigurationError, UsageError } from '../../core/errors.ts';
import { compareText } from '../../core/files/file-tree.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { compareChecks, type Comparison, type StoredChecks } from '../../core/rules/engine/compare-checks.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { actionArgument, actionOf } from '../actions.ts';
import { defineCommand, type ActionFacts, type Context } from '../command.ts';
import { decidingAmong, decisionOptions } from '../deciding.ts';
import { ExitStatus } from '../exit-status.ts';
import { comparisonPage } from '../output/comparison-page.ts';
import { comparisonText, countsOf } from '../output/comparison-text.ts';
import { findingJson } from '../output/json.ts';
import { placeFrom } from '../output/places.ts';
import { openReport, type StoredReport, type StoredTheme } from '../output/stored-report.ts';
import { REPORT_NAMES } from '../report-streams.ts';
import { writeReport } from '../reports.ts';
import { writePage } from '../write-page.ts';
import { count, plural } from '../../core/text/sentence.ts';

const OPTIONS = {
  ...decisionOptions,
  out: text('FILE.html', 'write one page to read in a browser, to be sorted and searched'),
  yes: flag('do not ask before a page is written over'),
  format: choice(REPORT_NAMES, 'FORMAT', 'text for people, or a report for programs', 'text'),
};
type Options = Values<typeof OPTIONS>;
type Action = (context: Context, files: readonly string[], options: Options) => Promise<ExitStatus>;

const ACTIONS: Readonly<Record<string, Action>> = { merge, compare };

/** The arguments and options of each. */
const FACTS: Readonly<Record<string, ActionFacts>> = {
  merge: {
    about: 'make one report of the parts of a check that several machines share',
    arguments: [{ form: '[reports...]', about: 'reports of “pionero check --format json”, or jsonl' }],
    options: ['strict', 'maxWarnings', 'format'],
    examples: ['pionero report merge part-1.json part-2.json', 'pionero report merge part-*.jsonl --format junit > report.xml'],
  },
  compare: {
    about: 'tell which packages broke from one check to another, which were fixed, and by which rules',
    arguments: [
      { form: '<old>', about: 'the report of the first check: json or jsonl' },
      { form: '<new>', about: 'the report of the other one' },
    ],
    options: ['format', 'out', 'yes'],
    examples: ['pionero report compare monday.jsonl today.jsonl', 'pionero report compare monday.jsonl today.jsonl --out changes.html'],
  },
};

export default defineCommand({
  arguments: [actionArgument(FACTS), { form: '[reports...]', about: 'reports of “pionero check --format json”, or jsonl' }],
  actions: FACTS,
  options: OPTIONS,
  examples: [
    'pionero check themes --shard 1/2 --format json > part-1.json',
    'pionero report merge part-1.json part-2.json',
    'pionero report merge part-*.json --format junit > report.xml',
    'pionero report compare monday.jsonl today.jsonl --out changes.html',
  ],
  async run(context, [name = '', ...files], options) {
    return actionOf('report', ACTIONS, name)(context, files, options);
  },
});

/** One report of many: what a single check of all their themes would have told. */
async function merge(context: Context, files: readonly string[], options: Options): Promise<ExitStatus> {
  if (files.length === 0) throw new UsageError({ what: 'no reports are named', hint: 'pionero report merge part-1.json part-2.json' });
  const themes = inOrder(files.map((file) => reportIn(context, file)));
  const decides = decidingAmong(
    themes.reduce((sum, { warnings }) => sum + warnings, 0),
    options,
  );
  const checked = function* (): Generator<CheckedFolder> {
    for (const theme of themes) yield fromFolder(theme.read(), context.io.folder);
  };
  return writeReport(context, options.format, checked(), { decision: options, decides });
}

/** @throws ConfigurationError when it is not there, or not a report */
function reportIn(context: Context, file: string): StoredReport {
  const report = openReport(context.path(file), file);
  if (report === undefined)
    throw new ConfigurationError({ what: `there is no report ${file}`, hint: 'write one with check --format json' });
  return report;
}

/** What changed from one check to another. */
async function compare(context: Context, files: readonly string[], options: Options): Promise<ExitStatus> {
  const [old, now, ...more] = files;
  if (old === undefined || now === undefined || more.length > 0)
    throw new UsageError({ what: 'two reports are compared', hint: 'pionero report compare monday.jsonl today.jsonl' });
  if (options.format !== 'text' && options.format !== 'json')
    throw new UsageError({ what: `${options.format} is not a form of a comparison`, hint: 'leave --format out, or say --format json' });
  const { folder } = context.io;
  const storedIn = (file: string): StoredChecks =>
    new Map(reportIn(context, file).themes.map(({ folder: own, read }) => [resolve(folder, own), () => fromFolder(read(), folder)]));
  const comparison = compareChecks(storedIn(old), storedIn(now));
  const status = countsOf(comparison).broke > 0 ? ExitStatus.findings : ExitStatus.ok;
  if (options.out !== undefined) {
    const file = await writePage(context, options.out, options, () => comparisonPage(comparison, [old, now], folder));
    if (file === undefined) return ExitStatus.ok;
    context.say(`${comparisonText(comparison, context.paint, folder, false).split('\n\n')[0]}; the page is ${context.shown(file)}`);
  } else context.say(comparisonText(comparison, context.paint, folder, context.options.verbose));
  context.result(comparisonJson(comparison, folder));
  return status;
}

function comparisonJson(comparison: Comparison, folder: string): Record<string, unknown> {
  const changed = comparison.packages.filter(({ state }) => state !== 'same');
  const told = (findings: readonly Finding[]) => findings.map((finding) => findingJson(finding));
  return {
    summary: { packages: comparison.packages.length, ...countsOf(comparison) },
    rules: comparison.rules,
    packages: changed.map(({ came, went, ...each }) => ({
      ...each,
      folder: placeFrom(folder, each.folder, ''),
      came: told(came),
      went: told(went),
    })),
  };
}

/** With its places, which were told from the folder that it was checked in, in this one. */
function fromFolder(checked: CheckedFolder, current: string): CheckedFolder {
  const { folder, result } = checked;
  const findings = result.findings.map((finding) => ({
    ...finding,
    related: finding.related?.map((place) => ({ ...place, folder: resolve(current, place.folder ?? folder) })),
  }));
  return { ...checked, folder: resolve(current, folder), result: { ...result, findings } };
}

/** The themes of all parts, in the order of the whole; of reports that are not parts, by folder. @throws UsageError when a part is missing */
function inOrder(reports: readonly StoredReport[]): StoredTheme[] {
  const parts = reports.filter(({ shard }) => shard !== undefined);
  if (parts.length === 0) return reports.flatMap(({ themes }) => themes).toSorted((a, b) => compareText(a.folder, b.folder));
  const of = parts[0]?.shard?.of ?? 0;
  const numbers = parts.map(({ shard }) => shard?.part ?? 0).toSorted((a, b) => a - b);
  const wanted = Array.from({ length: of }, (_, i) => i + 1);
  if (parts.length < reports.length || parts.some(({ shard }) => shard?.of !== of))
    throw new UsageError({ what: 'these reports are not parts of one check', hint: 'merge the parts of one --shard 1/N to N/N' });
  const missing = wanted.filter((part) => !numbers.includes(part));
  if (missing.length > 0)
    throw new UsageError({ what: `of ${count(of, 'part')}, ${missing.join(' and ')} ${plural(missing.length, 'is', 'are')} missing` });
  if (numbers.length > of) throw new UsageError({ what: 'a part is named twice', hint: 'name every part once' });
  return parts.flatMap(({ themes }) => themes).toSorted((a, b) => a.position - b.position);
}
