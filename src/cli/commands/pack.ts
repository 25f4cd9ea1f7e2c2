import { dirname, join } from 'node:path';
import * as z from 'zod';
import { streamOutput } from '../../core/changes/write-output.ts';
import { FailedOperationError, PioneroError, RefusedError, UsageError } from '../../core/errors.ts';
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
import { openThemes } from '../opened-themes.ts';
import { pathInArchive } from '../../core/archives/top-folder.ts';

const FORMAT_NAMES = ARCHIVE_FORMATS.map(({ name }) => name) as [ArchiveFormat['name'], ...ArchiveFormat['name'][]];

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'folders, ids of themes on a shelf, or shelves; default: the current folder' }],
  options: {
    out: takes(z.string().optional().describe('the archive to write, or the folder for several; default: named after the theme'), 'FILE'),
    for: takes(z.enum(['install', 'submission']).default('install').describe('what the archive is for'), 'PURPOSE'),
    as: takes(z.enum(FORMAT_NAMES).optional().describe('the archive’s format; default: told by --out, or the platform’s first'), 'FORMAT'),
    force: z.boolean().default(false).describe('pack a theme even if it has errors'),
    dryRun: z.boolean().default(false).describe('show what goes in and write nothing'),
    yes: z.boolean().default(false).describe('do not ask before making the folder that --out names'),
  },
  examples: [
    'pionero pack lumbre',
    'pionero pack lumbre --out dist/lumbre.zip',
    'pionero pack lumbre --dry-run',
    'pionero pack shelf --out dist',
  ],
  async run(context, args, given) {
    const [opened, ...others] = await openThemes(args, context);
    if (opened === undefined) throw new UsageError({ what: 'there is no theme to pack', hint: 'name one' });
    if (others.length > 0) return packAll(context, [opened, ...others], given);
    const plan = planPackage(opened.theme, opened.configuration.pack.exclude, formatWanted(given.out, given.as), timeWanted(context));
    refuseErrors(context, opened, given.force);
    const target = context.path(given.out ?? plan.name);
    if (kindOnDisk(target) === 'folder') throw new RefusedError({ what: `${target} is a folder`, hint: 'name a file with --out' });
    const judge = judgeFor(plan, given);
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
    const needs = needsOf(opened);
    if (needs.length > 0) context.say(`\n${paint.strong('Needed on the host')}  ${needs.map(needText).join(', ')}`);
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
      needs,
    });
    return ExitStatus.ok;
  },
});

interface Given {
  readonly out?: string | undefined;
  readonly for: 'install' | 'submission';
  readonly as?: string | undefined;
  readonly force: boolean;
  readonly dryRun: boolean;
  readonly yes: boolean;
}

/** @throws RefusedError when the package is not what it is for */
function judgeFor(plan: PackagePlan, given: Pick<Given, 'for' | 'force'>): (packed: PackedTheme) => void {
  return (packed) => {
    const problems = judgePackage(plan, packed, given.for);
    if (problems.length === 0 || given.force) return;
    throw new RefusedError({ what: `the package would be sent back: ${problems.join('; ')}`, hint: 'fix it, or use --force' });
  };
}

/** A theme, or shared files, that must be on the host beside a package. */
interface Need {
  readonly kind: 'parent' | 'commons';
  readonly id: string;
  readonly version: string | null;
}

function needsOf({ chain }: OpenedTheme): Need[] {
  return chain.themes.slice(1).map((theme) => ({
    kind: chain.commons.has(theme) ? 'commons' : 'parent',
    id: theme.names.id,
    version: theme.text('version') ?? null,
  }));
}

function needText({ kind, id, version }: Need): string {
  return `${id}${version === null ? '' : ` ${version}`}${kind === 'commons' ? ' (shared files)' : ''}`;
}

/** Packs several themes, each into its archive in one folder; one that cannot be packed stops none of the others. */
async function packAll(context: Context, opened: readonly OpenedTheme[], given: Given): Promise<ExitStatus> {
  const { paint } = context;
  const folder = context.path(given.out ?? '.');
  if (kindOnDisk(folder) === 'file') throw new UsageError({ what: `${given.out} is a file`, hint: 'name a folder for several archives' });
  if (!given.dryRun && !(await isFolderWanted(context, folder, given))) return ExitStatus.ok;
  const told: Record<string, unknown>[] = [];
  const names = new Set<string>();
  for (const each of opened) {
    const { id } = each.theme.names;
    try {
      const plan = planPackage(each.theme, each.configuration.pack.exclude, given.as, timeWanted(context));
      if (names.has(plan.name))
        throw new RefusedError({ what: `another of these themes is packed as ${plan.name}`, hint: 'pack it alone, with --out' });
      names.add(plan.name);
      refuseErrors(context, each, given.force);
      const judge = judgeFor(plan, given);
      const target = join(folder, plan.name);
      const packed = await readable(async () =>
        given.dryRun ? writePackage(plan, async () => undefined) : write(context, plan, target, judge),
      );
      if (given.dryRun) judge(packed);
      const files = plan.entries.filter(({ kind }) => kind !== 'folder').length;
      context.say(
        `${paint.good('✓')} ${context.shown(target)}  ${paint.faint(`${count(files, 'file')}, ${bytes(packed.bytes)}${needsOf(each).length === 0 ? '' : `; needs ${needsOf(each).map(needText).join(', ')}`}`)}`,
      );
      told.push({ theme: id, archive: target, bytes: packed.bytes, sha256: packed.sha256, needs: needsOf(each), verified: !given.dryRun });
    } catch (error) {
      if (!(error instanceof PioneroError)) throw error;
      context.say(`${paint.bad('✗')} ${paint.strong(id)}  ${error.what}`);
      told.push({ theme: id, archive: null, why: error.what });
    }
  }
  const failed = told.filter(({ archive }) => archive === null).length;
  context.say(
    `\n${count(opened.length - failed, 'theme')} ${given.dryRun ? 'would be packed' : 'packed'}${failed === 0 ? '' : paint.bad(`, ${failed} not`)}.`,
  );
  context.result(told);
  return failed === 0 ? ExitStatus.ok : ExitStatus.findings;
}

/** The time that all entries get, as builds agree on it (SOURCE_DATE_EPOCH, seconds since 1970). @throws UsageError when it is no time */
function timeWanted({ io }: Context): number {
  const wanted = io.env['SOURCE_DATE_EPOCH'];
  if (wanted === undefined || wanted === '') return 0;
  if (/^\d{1,11}$/.test(wanted)) return Number(wanted) * 1000;
  throw new UsageError({
    what: `SOURCE_DATE_EPOCH is “${wanted}”`,
    why: 'it is a number of seconds since 1970',
    hint: 'set it to one, or leave it out',
  });
}

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
