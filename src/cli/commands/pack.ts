import { dirname } from 'node:path';
import * as z from 'zod';
import { streamOutput } from '../../core/changes/write-output.ts';
import { FailedOperationError, RefusedError, UsageError } from '../../core/errors.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import { UnreadableFileError } from '../../core/files/file-tree.ts';
import { judgePackage } from '../../core/package/judge-package.ts';
import { ARCHIVE_FORMATS, formatOfName, type ArchiveFormat } from '../../core/archives/archive-format.ts';
import { isPackageAsPlanned, planPackage, writePackage, type PackagePlan, type PackedTheme } from '../../core/package/pack-theme.ts';
import { fillShape } from '../../core/names/shape.ts';
import { checkOptionsOf, checkTheme } from '../../core/rules/check.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { defineCommand, takes, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { isFolderWanted } from '../confirm.ts';
import { findingsText, firstOfEach, headline, MOST_OF_A_RULE, moreText } from '../output/findings-text.ts';
import { bytes, count } from '../output/paint.ts';
import { treeText } from '../output/tree-text.ts';
import { openArgument } from '../theme-argument.ts';
import { pathInArchive } from '../../core/archives/top-folder.ts';

const FORMAT_NAMES = ARCHIVE_FORMATS.map(({ name }) => name) as [ArchiveFormat['name'], ...ArchiveFormat['name'][]];

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a folder, or the id of a theme on a shelf; default: the current folder' }],
  options: {
    out: takes(z.string().optional().describe('the archive to write; default: named after the theme'), 'FILE'),
    for: takes(z.enum(['install', 'submission']).default('install').describe('what the archive is for'), 'PURPOSE'),
    as: takes(z.enum(FORMAT_NAMES).optional().describe('the archive’s format; default: told by --out, or the platform’s first'), 'FORMAT'),
    force: z.boolean().default(false).describe('pack a theme even if it has errors'),
    dryRun: z.boolean().default(false).describe('show what goes in and write nothing'),
    yes: z.boolean().default(false).describe('do not ask before making the folder that --out names'),
  },
  examples: ['pionero pack lumbre', 'pionero pack lumbre --out dist/lumbre.zip', 'pionero pack lumbre --dry-run'],
  async run(context, args, given) {
    const opened = await openArgument(args[0], context);
    const plan = planPackage(opened.theme, opened.configuration.pack.exclude, formatWanted(given.out, given.as));
    refuseErrors(context, opened, given.force);
    const target = context.path(given.out ?? plan.name);
    if (kindOnDisk(target) === 'folder') throw new RefusedError({ what: `${target} is a folder`, hint: 'name a file with --out' });
    const judge = (packed: PackedTheme): void => {
      const problems = judgePackage(plan, packed, given.for);
      if (problems.length === 0 || given.force) return;
      throw new RefusedError({ what: `the package would be sent back: ${problems.join('; ')}`, hint: 'fix it, or use --force' });
    };
    const packed = await readable(async () => {
      if (!given.dryRun) return (await isFolderWanted(context, dirname(target), given)) ? write(context, plan, target, judge) : undefined;
      const would = await writePackage(plan, async () => undefined);
      judge(would);
      return would;
    });
    if (packed === undefined) return ExitStatus.ok;
    const { paint } = context;
    const files = plan.entries.filter((entry) => entry.kind !== 'folder');
    const holds = `${count(files.length, 'file')} in ${bytes(packed.bytes)}`;
    context.say(
      given.dryRun
        ? `${paint.strong(plan.name)} would hold ${holds}; nothing was written`
        : `${paint.good('✓')} ${paint.strong(context.shown(target))} holds ${holds}, verified`,
    );
    showContents(context, plan, packed);
    const steps = opened.theme.platform.contract['next-steps'].pack.map((step) => fillShape(step, opened.theme.names));
    if (steps.length > 0 && !given.dryRun)
      context.say(`\n${paint.strong('Next')}\n${steps.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
    context.result({
      archive: target,
      format: plan.format.name,
      bytes: packed.bytes,
      sha256: packed.sha256,
      entries: files.map((entry) => ({ path: pathInArchive(plan.top, entry.path), bytes: entry.size })),
      leftOut: plan.leftOut,
      verified: !given.dryRun,
    });
    return ExitStatus.ok;
  },
});

/** The name of the archive says its format, too. @throws UsageError when it says none, or another one than --as */
function formatWanted(out: string | undefined, as: string | undefined): string | undefined {
  if (out === undefined) return as;
  const told = formatOfName(out);
  const endings = ARCHIVE_FORMATS.flatMap((format) => format.endings).join(', ');
  if (told === undefined)
    throw new UsageError({ what: `the name ${out} does not say which kind of archive it is`, hint: `end it with one of ${endings}` });
  if (as !== undefined && as !== told)
    throw new UsageError({
      what: `--as ${as} and the name ${out} contradict each other`,
      hint: 'leave --as out, or give the file another ending',
    });
  return told;
}

/** Writes the archive beside its place, reads it back, and puts it there when it is what was planned. */
async function write(context: Context, plan: PackagePlan, target: string, judge: (packed: PackedTheme) => void): Promise<PackedTheme> {
  return context.changing(async ({ journal, signal }) =>
    streamOutput(target, journal, {
      signal,
      write: async (sink) => writePackage(plan, sink),
      accept: async (written, packed) => {
        judge(packed);
        if (!(await isPackageAsPlanned(written, plan)))
          throw new FailedOperationError({
            what: 'the archive, read back, was not what was packed',
            hint: 'nothing was written; check the disk',
          });
      },
    }),
  );
}

/** @throws RefusedError when the theme has errors and that was not overruled */
function refuseErrors(context: Context, { theme, chain, shelves, configuration }: OpenedTheme, isForced: boolean): void {
  const result = checkTheme(theme, chain, shelves, checkOptionsOf(configuration));
  const errors = result.findings.filter((finding) => finding.severity === 'error');
  if (errors.length === 0) return;
  context.warn(headline({ id: theme.names.id, platform: theme.platform.contract, result }, context.paint));
  const { shown, more } = firstOfEach(errors, MOST_OF_A_RULE);
  context.say(`\n${findingsText(shown, context.paint, context.io.columns)}`);
  context.say(moreText(more, '“pionero check --verbose” shows all', context.paint));
  if (isForced) context.warn(`${context.paint.warn('▲')} Packed all the same, as you asked with --force.`);
  else
    throw new RefusedError({
      what: `${theme.names.id} has ${count(errors.length, 'error')} and was not packed`,
      hint: 'fix them, or use --force',
    });
}

/** @throws RefusedError when a file of the theme cannot be read, or changes meanwhile */
async function readable<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const cause = error instanceof FailedOperationError ? error.cause : error;
    if (cause instanceof UnreadableFileError)
      throw new RefusedError({ what: `${cause.path} cannot be read`, why: cause.message, hint: 'nothing was written', cause });
    throw error;
  }
}

function showContents(context: Context, plan: PackagePlan, packed: PackedTheme): void {
  const { paint } = context;
  context.say(`\n${paint.name(plan.top === '' ? './' : `${plan.top}/`)}`);
  context.say(
    treeText(
      plan.entries.map((entry) => ({ path: entry.path, size: entry.kind === 'folder' ? undefined : entry.size })),
      paint,
    ),
  );
  if (plan.leftOut.length > 0) {
    context.say(`\n${paint.strong('Left out')}`);
    for (const { path, reason } of plan.leftOut) context.say(`  ${path}  ${paint.faint(reason)}`);
  }
  context.say(paint.faint(`\nsha256 ${packed.sha256}`));
}
