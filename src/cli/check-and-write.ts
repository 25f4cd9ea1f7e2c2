import { AroundThemes } from '../core/rules/engine/check-configuration.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import { checkEach, type CheckHow } from './check-many.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { decidingFindings, type DecisionOptions } from './deciding.ts';
import type { ExitStatus } from './exit-status.ts';
import type { StreamSettings } from './report-stream.ts';
import type { ReportName } from './report-streams.ts';
import { writeReport } from './reports.ts';

/** The form of a report, which findings decide the exit status, and what is checked. */
interface Writing extends Omit<StreamSettings, 'decides' | 'baseline'> {
  readonly format: ReportName;
  readonly decision: DecisionOptions;
  /** The folders of which every theme is checked; absolute. */
  readonly roots: readonly string[];
}

/** Checks themes, and writes the report as they are done: memory holds those that are checked at the same time. */
export async function checkAndWrite(
  context: Context,
  targets: readonly CheckTarget[],
  how: CheckHow,
  { format, roots, ...settings }: Writing,
): Promise<ExitStatus> {
  // A part of several does not know what others found: its entries stay as they are.
  const around = settings.shard === undefined ? new AroundThemes(roots) : undefined;
  const told = async function* (): AsyncGenerator<CheckedFolder> {
    for await (const each of checkEach(context, targets, how)) {
      const checked = { ...each, folder: context.original(each.folder) };
      if (around?.add(checked) !== true) yield checked;
    }
    yield* around?.rest() ?? [];
  };
  return writeReport(context, format, told(), { ...settings, decides: decidingFindings([], settings.decision) });
}
