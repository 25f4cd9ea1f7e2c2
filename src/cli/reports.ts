import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import { basisOf } from '../core/rules/engine/check-basis.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { plainFacts } from '../core/facts/plain-facts.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import type { Context } from './command.ts';
import type { Shard } from './shards.ts';
import { codeQuality } from './output/code-quality.ts';
import { oneLine } from './output/visible.ts';
import type { Paint } from './output/paint.ts';
import { closing, findingsText, firstOfEach, headline, MOST_OF_A_RULE, overview, impactText } from './output/findings-text.ts';
import { checksJson } from './output/json.ts';
import { REPORT_STREAMS, type StreamName } from './report-streams.ts';
import { count, listed, plural } from '../core/text/sentence.ts';

/** The contents of a report. */
export interface CheckOutcome {
  readonly checked: readonly CheckedFolder[];
  /** Folders beside the themes of a shelf that are not themes, absolute: they were not checked. */
  readonly others: readonly string[];
  /** Whether the exit status is what it is because of a finding. */
  readonly decides: (finding: Finding) => boolean;
  /** When only a part of the targets was checked: which. */
  readonly shard?: ShardPositions | undefined;
  /** The file of known findings, as people would type it. */
  readonly baseline?: string | undefined;
}

/** A part of a check, and the positions of its themes among all. */
export interface ShardPositions extends Shard {
  readonly positions: readonly number[];
}

type Reporter = (context: Context, told: CheckOutcome) => void;

/** Every form of a report. A new one is a file in `output/`, entered here and nowhere else. */
const ALL = {
  text: tellPeople,
  json: ({ io }, { checked, shard }) => writeJson(io, { ...checksJson(checked, io.folder), ...(shard === undefined ? {} : { shard }) }),
  jsonl: (context, told) => writeStream(context, 'jsonl', told),
  sarif: (context, told) => writeStream(context, 'sarif', told),
  junit: (context, told) => writeStream(context, 'junit', told),
  'code-quality': ({ io }, { checked }) => writeJson(io, codeQuality(checked, io.folder)),
} as const satisfies Record<string, Reporter>;

export type ReportName = keyof typeof ALL;
export const REPORTS: Readonly<Record<ReportName, Reporter>> = ALL;
export const REPORT_NAMES = Object.keys(ALL) as [ReportName, ...ReportName[]];

/** Tells other programs of findings that something else than a check has made, as a check does; text and JSON are its own. */
export function reportFindings(context: Context, format: ReportName, opened: OpenedTheme, findings: readonly Finding[]): void {
  if (format === 'text' || format === 'json') return;
  const { theme, chain, shelves, configuration, folder, reasons } = opened;
  const { name, title } = theme.platform.contract;
  const checked: CheckedFolder = {
    folder,
    id: theme.names.id,
    platform: { name, title },
    facts: plainFacts(theme),
    reasons,
    result: { findings, rules: 0, files: theme.tree.entries.length, accepted: 0 },
    basis: basisOf(chain, shelves, configuration),
  };
  REPORTS[format](context, { checked: [checked], others: [], decides: ({ severity }) => severity === 'error' });
}

function writeStream(context: Context, name: StreamName, { checked, decides, shard }: CheckOutcome): void {
  const stream = REPORT_STREAMS[name](context, { decides, shard });
  const { stdout } = context.io;
  stdout.write(stream.head);
  let count = 0;
  for (const each of checked) {
    const position = each.standsFor === undefined ? (shard?.positions[count] ?? count) : undefined;
    if (each.standsFor === undefined) count++;
    stdout.write(stream.one(each, position));
  }
  stdout.write(stream.tail());
}

function writeJson(io: Context['io'], value: unknown): void {
  io.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

function tellPeople(context: Context, { checked, others, decides, baseline }: CheckOutcome): void {
  if (context.options.quiet) return tellDeciding(context, checked, decides);
  for (const [i, each] of checked.entries()) {
    // Themes without problems are a list; those with findings stand apart.
    const isApart = [checked[i - 1], each].some((one) => one !== undefined && one.result.findings.length > 0);
    if (i > 0 && isApart) context.say('');
    tellOne(context, each);
  }
  if (checked.length > 1) context.say(`\n${overview(checked, context.paint)}`);
  const known = checked.reduce((sum, { result }) => sum + (result.known ?? 0), 0);
  if (known > 0)
    context.say(
      `${context.paint.faint('·')} ${count(known, 'known finding')} ${plural(known, 'is', 'are')} not shown: ${baseline ?? ''} knows ${plural(known, 'it', 'them')}.`,
    );
  if (others.length > 0) context.say(`${context.paint.warn('▲')} Not checked, since they are not themes: ${othersText(context, others)}`);
}

function othersText(context: Context, others: readonly string[]): string {
  return listed(
    others.map((folder) => context.shown(folder)),
    6,
  );
}

/** With --quiet: what decides the exit status, and nothing else. */
function tellDeciding(context: Context, checked: readonly CheckedFolder[], decides: CheckOutcome['decides']): void {
  const texts = checked.flatMap(({ folder, result }) => {
    const findings = result.findings.filter((finding) => decides(finding));
    return findings.length === 0 ? [] : [findingsText(findings, context.paint, context.io.columns, context.shown(folder))];
  });
  if (texts.length > 0) context.print(texts.join('\n\n'));
}

/** Why something could not be opened, below the line that says so. */
function failureText({ failure, result }: CheckedFolder, paint: Paint, columns: number, folder: string): string {
  const problems = result.findings.filter(({ code }) => code === 'configuration');
  if (problems.length > 0) return findingsText(problems, paint, columns, folder);
  const details = (failure?.details ?? []).map((line) => `  ${oneLine(line)}`);
  const hints = result.findings.flatMap(({ hint }) => (hint === undefined ? [] : [`  ${paint.name('→')} ${hint.text}`]));
  return [...details, ...hints].join('\n');
}

/** Where the report is for a machine, standard error says which themes could not be checked. */
export function warnOfFailures(context: Context, checked: readonly CheckedFolder[]): void {
  for (const each of checked) {
    if (each.failure === undefined) continue;
    const { paint, io } = context;
    context.warn(`${headline(each, paint)}\n${failureText(each, paint, io.columns, context.shown(each.folder))}`);
  }
}

function tellOne(context: Context, checked: CheckedFolder): void {
  const { paint, io } = context;
  const { findings } = checked.result;
  const shownFolder = context.shown(checked.folder);
  if (context.options.verbose && checked.failure === undefined)
    context.say(paint.faint(`${checked.platform.title}: ${checked.reasons.join('; ')}`));
  context.say(headline(checked, paint, shownFolder));
  if (checked.failure !== undefined) return context.say(failureText(checked, paint, io.columns, shownFolder));
  if (findings.length === 0) return;
  const impact = impactText(findings, paint);
  if (impact !== undefined) context.say(impact);
  const { shown, more } = firstOfEach(findings, context.options.verbose ? Infinity : MOST_OF_A_RULE);
  context.say(`\n${findingsText(shown, paint, io.columns, shownFolder)}`);
  context.say(`\n${closing(findings, more, paint)}`);
}
