import { choice, type Values } from '../option.ts';
import { resolve } from 'node:path';
import { ConfigurationError, UsageError } from '../../core/errors.ts';
import { readIfThere } from '../../core/files/disk.ts';
import { compareText } from '../../core/files/file-tree.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { actionOf } from '../actions.ts';
import { defineCommand, type Context } from '../command.ts';
import { decidingFindings, decisionOptions, statusOf } from '../deciding.ts';
import type { ExitStatus } from '../exit-status.ts';
import { readReport, type ReadReport } from '../output/read-report.ts';
import { REPORT_NAMES, REPORTS, warnOfFailures } from '../reports.ts';
import { count, plural } from '../../core/text/sentence.ts';

const OPTIONS = {
  ...decisionOptions,
  format: choice(REPORT_NAMES, 'FORMAT', 'text for people, or a report for programs', 'text'),
};
type Options = Values<typeof OPTIONS>;
type Action = (context: Context, files: readonly string[], options: Options) => Promise<ExitStatus>;

const ACTIONS: Readonly<Record<string, Action>> = { merge };

export default defineCommand({
  arguments: [
    { form: '<action>', about: Object.keys(ACTIONS).join(', '), choices: Object.keys(ACTIONS) },
    { form: '[reports...]', about: 'reports of “pionero check --format json”' },
  ],
  options: OPTIONS,
  examples: [
    'pionero check themes --shard 1/2 --format json > part-1.json',
    'pionero report merge part-1.json part-2.json',
    'pionero report merge part-*.json --format junit > report.xml',
  ],
  async run(context, [name = '', ...files], options) {
    return actionOf('report', ACTIONS, name)(context, files, options);
  },
});

/** One report of many: what a single check of all their themes would have told. */
async function merge(context: Context, files: readonly string[], options: Options): Promise<ExitStatus> {
  if (files.length === 0) throw new UsageError({ what: 'no reports are named', hint: 'pionero report merge part-1.json part-2.json' });
  const reports = files.map((file) => {
    const bytes = readIfThere(context.path(file));
    if (bytes === undefined)
      throw new ConfigurationError({ what: `there is no report ${file}`, hint: 'write one with check --format json' });
    return readReport(bytes.toString('utf8'), file);
  });
  const checked = inOrder(reports).map((each) => fromFolder(each, context.io.folder));
  const decides = decidingFindings(checked, options);
  REPORTS[options.format](context, { checked, others: [], decides });
  if (options.format !== 'text') warnOfFailures(context, checked);
  return statusOf(checked, decides);
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

/** The themes of all parts, in the order of the whole; of reports that are no parts, by folder. @throws UsageError when a part is missing */
function inOrder(reports: readonly ReadReport[]): CheckedFolder[] {
  const parts = reports.filter(({ shard }) => shard !== undefined);
  if (parts.length === 0) return reports.flatMap(({ checked }) => checked).toSorted((a, b) => compareText(a.folder, b.folder));
  const of = parts[0]?.shard?.of ?? 0;
  const numbers = parts.map(({ shard }) => shard?.part ?? 0).toSorted((a, b) => a - b);
  const wanted = Array.from({ length: of }, (_, i) => i + 1);
  if (parts.length < reports.length || parts.some(({ shard }) => shard?.of !== of))
    throw new UsageError({ what: 'these reports are not parts of one check', hint: 'merge the parts of one --shard 1/N to N/N' });
  const missing = wanted.filter((part) => !numbers.includes(part));
  if (missing.length > 0)
    throw new UsageError({ what: `of ${count(of, 'part')}, ${missing.join(' and ')} ${plural(missing.length, 'is', 'are')} missing` });
  if (numbers.length > of) throw new UsageError({ what: 'a part is named twice', hint: 'name every part once' });
  const placed = parts.flatMap(({ checked, shard }) => checked.map((each, i) => ({ each, position: shard?.positions[i] ?? 0 })));
  return placed.toSorted((a, b) => a.position - b.position).map(({ each }) => each);
}
