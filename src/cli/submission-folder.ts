import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { applyPlan } from '../core/changes/apply.ts';
import type { Operation } from '../core/changes/plan.ts';
import { withTemporary } from '../core/changes/temporary.ts';
import { RefusedError, UsageError } from '../core/errors.ts';
import { kindOnDisk, temporaryFolder } from '../core/files/disk.ts';
import { DiskTree } from '../core/files/disk-tree.ts';
import { formatOfName } from '../core/archives/archive-format.ts';
import { planPackage, type PackagePlan } from '../core/package/pack-theme.ts';
import { submissionParts, type SubmissionPart } from '../core/package/submission.ts';
import { checkOptionsOf, checkTheme } from '../core/rules/engine/check.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Context } from './command.ts';
import { isFolderWanted } from './confirm.ts';
import { ExitStatus } from './exit-status.ts';
import { findingsText } from './output/findings-text.ts';
import { findingJson } from './output/json.ts';
import { bytes } from './output/paint.ts';
import {
  needsOf,
  needText,
  proofText,
  readable,
  refuseErrors,
  timeWanted,
  writeArchive,
  type PackedAndProved,
  type PackWishes,
} from './packing.ts';
import { count } from '../core/text/sentence.ts';

/** The options of a submission. */
export interface SubmissionWishes extends PackWishes {
  readonly out?: string | undefined;
  readonly as?: string | undefined;
  readonly dryRun: boolean;
  readonly yes: boolean;
}

/** A submission as it was made. */
export interface Submission extends PackedAndProved {
  readonly plan: PackagePlan;
  /** Absolute. */
  readonly folder: string;
  readonly parts: readonly SubmissionPart[];
}

/** Makes a folder for each theme, with its archive and all that a public directory asks for beside it. */
export async function packSubmission(context: Context, opened: readonly OpenedTheme[], options: SubmissionWishes): Promise<ExitStatus> {
  if (options.out !== undefined && formatOfName(options.out) !== undefined)
    throw new UsageError({
      what: `a submission is a folder, and ${options.out} is called like an archive`,
      hint: 'name a folder with --out',
    });
  const results: Record<string, unknown>[] = [];
  for (const [i, each] of opened.entries()) {
    if (i > 0) context.say('');
    const made = await submissionOf(context, each, options, opened.length > 1);
    if (made === undefined) return ExitStatus.ok;
    results.push(made);
  }
  context.result(results.length === 1 ? results[0] : results);
  return ExitStatus.ok;
}

async function submissionOf(
  context: Context,
  opened: OpenedTheme,
  options: SubmissionWishes,
  isOneOfMany: boolean,
): Promise<Record<string, unknown> | undefined> {
  const { theme, configuration, chain } = opened;
  const plan = planPackage(theme, configuration.pack.exclude, options.as, timeWanted(context));
  const base = plan.name.slice(0, -plan.format.name.length - 1);
  const place = isOneOfMany ? join(options.out ?? '.', `${base}-submission`) : (options.out ?? `${base}-submission`);
  const folder = context.path(place);
  assertFree(context, folder, plan);
  refuseErrors(context, opened, options.force, plan);
  if (!(await isFolderWanted(context, join(folder, '..'), options))) return undefined;
  const made = await readable(async () => makeSubmission(context, opened, plan, folder, options));
  const { paint } = context;
  const size = `${bytes(made.packed.bytes)}, ${proofText(made.proof)}`;
  context.say(
    options.dryRun
      ? `${paint.strong(context.shown(folder))} would hold ${count(made.parts.length + 1, 'file')}; nothing was written`
      : `${paint.good('✓')} ${paint.strong(context.shown(folder))} is ready to be handed in`,
  );
  const names = [plan.name, ...made.parts.map(({ name }) => name)];
  const width = Math.max(...names.map((name) => name.length));
  context.say(`  ${plan.name.padEnd(width)}  ${paint.faint(size)}`);
  for (const { name, bytes: content } of made.parts) context.say(`  ${name.padEnd(width)}  ${paint.faint(bytes(content.length))}`);
  const needs = needsOf(opened);
  if (needs.length > 0) context.say(`\n${paint.strong('Needed on the host')}  ${needs.map(needText).join(', ')}`);
  const { findings } = checkTheme(theme, chain, opened.shelves, checkOptionsOf(configuration, 'submission'));
  const doubts = findings.filter(({ severity }) => severity === 'warning');
  if (doubts.length > 0) {
    context.warn(`\n${paint.warn('▲')} ${count(doubts.length, 'thing')} that a reviewer may ask about:`);
    context.say(findingsText(doubts, paint, context.io.columns));
  }
  return {
    theme: theme.names.id,
    folder,
    archive: plan.name,
    bytes: made.packed.bytes,
    sha256: made.packed.sha256,
    files: names,
    leftOut: plan.leftOut,
    verified: !options.dryRun,
    proved: made.proof !== undefined,
    needs,
    warnings: doubts.map(findingJson),
  };
}

/** @throws RefusedError when something else than an earlier submission is in the place */
function assertFree(context: Context, folder: string, plan: PackagePlan): void {
  const kind = kindOnDisk(folder);
  if (kind === undefined) return;
  if (kind !== 'folder')
    throw new UsageError({ what: `${context.shown(folder)} is a file`, hint: 'a submission is a folder: name one with --out' });
  const { entries } = new DiskTree(folder);
  const isEarlier =
    entries.length === 0 || (entries.some(({ path }) => path === 'SHA256SUMS') && entries.some(({ path }) => path === plan.name));
  if (isEarlier) return;
  throw new RefusedError({
    what: `${context.shown(folder)} holds more than an earlier submission`,
    hint: 'name a new folder with --out',
  });
}

/**
 * Packs a theme, tries the package, and puts all that is handed in into a folder, in place of an earlier submission there.
 * @throws RefusedError when the package would be sent back
 */
export async function makeSubmission(
  context: Context,
  opened: OpenedTheme,
  plan: PackagePlan,
  folder: string,
  wishes: Pick<SubmissionWishes, 'force' | 'dryRun'>,
): Promise<Submission> {
  const journal = context.journal;
  const temporary = join(temporaryFolder(), `pionero-submission-${randomBytes(8).toString('hex')}`);
  return withTemporary(journal, temporary, async () => {
    await journal.writer.makePrivateFolder(temporary);
    const target = join(temporary, plan.name);
    const { packed, proof } = await writeArchive(context, opened, plan, target, { for: 'submission', prove: true, force: wishes.force });
    const parts = submissionParts(plan, opened.chain, { sha256: packed.sha256, version: context.version });
    if (!wishes.dryRun) {
      const operations: Operation[] = [
        { op: 'create', path: plan.name, content: { tree: new DiskTree(temporary), path: plan.name }, size: packed.bytes, mode: 0o644 },
        ...parts.map(({ name, bytes: content }): Operation => ({
          op: 'create',
          path: name,
          content: { bytes: content },
          size: content.length,
          mode: 0o644,
        })),
      ];
      const replaces = kindOnDisk(folder) === undefined ? undefined : folder;
      const title = `pack --for submission (${opened.theme.names.id})`;
      await context.changing(async (applying) => applyPlan({ title, root: folder, isNewRoot: true, replaces, operations }, applying));
    }
    return { plan, folder, parts, packed, proof };
  });
}
