import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import { basisOf } from '../core/rules/engine/check-basis.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { plainFacts } from '../core/facts/plain-facts.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import type { Context } from './command.ts';
import { decidingFindings, StatusCount, type DecisionOptions } from './deciding.ts';
import type { ExitStatus } from './exit-status.ts';
import { headline } from './output/findings-text.ts';
import type { StreamSettings } from './report-stream.ts';
import { REPORT_STREAMS, type ReportName } from './report-streams.ts';
import { failureText } from './text-report.ts';

/** So many themes are written before the reader is waited for: one that is slower than the check must not fill the memory. */
const WRITTEN_AT_ONCE = 64;
/** Pieces of a report from so many characters on are waited for, too. */
const LONG_PIECE = 1 << 14;

/**
 * Writes a report of what is checked, while it grows: no finding is kept. Where it is for a machine, standard error says which themes could
 * not be checked.
 * @returns the exit status
 */
export async function writeReport(
  context: Context,
  form: ReportName,
  checked: Iterable<CheckedFolder> | AsyncIterable<CheckedFolder>,
  { decision, ...settings }: StreamSettings & { readonly decision: DecisionOptions },
): Promise<ExitStatus> {
  const stream = REPORT_STREAMS[form](context, settings);
  const { stdout, outputFailure } = context.io;
  const status = new StatusCount();
  let [count, written] = [0, 0];
  stdout.write(stream.head);
  for await (const each of checked) {
    status.add(each);
    stdout.write(stream.one(each, each.standsFor === undefined ? count++ : undefined));
    if (form !== 'text') warnOfFailure(context, each);
    if (++written % WRITTEN_AT_ONCE === 0) await outputFailure();
  }
  for (const text of stream.tail()) {
    stdout.write(text);
    if (text.length >= LONG_PIECE) await outputFailure();
  }
  return status.status(decision);
}

/** Tells other programs of findings that something else than a check has made, as a check does; text and JSON are its own. */
export async function reportFindings(
  context: Context,
  format: ReportName,
  opened: OpenedTheme,
  findings: readonly Finding[],
): Promise<void> {
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
  const decision = { strict: false, maxWarnings: undefined };
  await writeReport(context, format, [checked], { decision, decides: decidingFindings([], decision) });
}

function warnOfFailure(context: Context, checked: CheckedFolder): void {
  if (checked.failure === undefined) return;
  const { paint, io } = context;
  context.warn(`${headline(checked, paint)}\n${failureText(checked, paint, io.columns, context.shown(checked.folder))}`);
}
