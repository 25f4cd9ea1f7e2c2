import { AroundThemes } from '../core/rules/engine/check-configuration.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import { checkEach, type CheckHow } from './check-many.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { decidingFindings, StatusCount } from './deciding.ts';
import type { ExitStatus } from './exit-status.ts';
import { REPORT_STREAMS, type StreamName } from './report-streams.ts';
import { warnOfFailures, type ShardPositions } from './reports.ts';

/** The form of a report, which findings decide the exit status, and what is checked. */
interface Writing {
  readonly format: StreamName;
  readonly strict: boolean;
  readonly maxWarnings: number | undefined;
  readonly shard: ShardPositions | undefined;
  /** The folders of which every theme is checked; absolute. */
  readonly roots: readonly string[];
}

/** So many themes are written before the reader is waited for: one that is slower than the check must not fill the memory. */
const WRITTEN_AT_ONCE = 64;

/** Checks themes, and writes a report while it grows: no finding is kept. */
export async function checkAndWrite(
  context: Context,
  targets: readonly CheckTarget[],
  how: CheckHow,
  writing: Writing,
): Promise<ExitStatus> {
  const { format, shard, roots } = writing;
  const { io } = context;
  const stream = REPORT_STREAMS[format](context, { decides: decidingFindings([], writing), shard });
  // A part of several does not know what others found: its entries stay as they are.
  const around = shard === undefined ? new AroundThemes(roots) : undefined;
  const status = new StatusCount();
  const write = (checked: CheckedFolder, position?: number): void => {
    status.add(checked);
    io.stdout.write(stream.one(checked, position));
    warnOfFailures(context, [checked]);
  };
  io.stdout.write(stream.head);
  let count = 0;
  for await (const each of checkEach(context, targets, how)) {
    const position = shard?.positions[count] ?? count;
    count++;
    const checked = { ...each, folder: context.original(each.folder) };
    if (around?.add(checked) !== true) write(checked, position);
    if (count % WRITTEN_AT_ONCE === 0) await io.outputFailure();
  }
  for (const each of around?.rest() ?? []) write(each);
  io.stdout.write(stream.tail());
  return status.status(writing);
}
