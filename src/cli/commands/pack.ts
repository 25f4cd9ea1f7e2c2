import { choice, flag, text, type Values } from '../option.ts';
import { basename, dirname, join } from 'node:path';
import { ARCHIVE_FORMAT_NAMES } from '../../core/archives/format-names.ts';
import { PioneroError, RefusedError, UsageError } from '../../core/errors.ts';
import { isBelowOnDisk, kindOnDisk } from '../../core/files/disk.ts';
import { planPackage, type PackagePlan, type PackedTheme } from '../../core/package/pack-theme.ts';
import { fillShape } from '../../core/names/shape.ts';
import { pathInArchive } from '../../core/archives/top-folder.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { checkPackagesAhead } from '../check-many.ts';
import { defineCommand, jobsOption, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { isFolderWanted } from '../confirm.ts';
import { bytes } from '../output/paint.ts';
import { treeText } from '../output/tree-text.ts';
import { openThemes } from '../opened-themes.ts';
import { bumpFirst, withBelow, writePapers } from '../pack-before.ts';
import {
  begunWhile,
  formatWanted,
  needsOf,
  needText,
  proofText,
  refuseErrors,
  timeWanted,
  tryPackage,
  writeArchive,
  type PackedAndProved,
} from '../packing.ts';
import { packSubmission } from '../submission-folder.ts';
import { count } from '../../core/text/sentence.ts';

const OPTIONS = {
  out: text('FILE', 'the archive to write, or the folder for several or a submission; default: named after the theme'),
  for: choice(
    ['install', 'submission'],
    'PURPOSE',
    'install: the archive alone; submission: a folder with all that a public directory asks for',
    'install',
  ),
  as: choice(ARCHIVE_FORMAT_NAMES, 'FORMAT', 'the archive’s format; default: told by --out, or the platform’s first'),
  list: flag('list what goes in, with sizes, and what does not, with reasons; write nothing'),
  prove: flag('unpack the archive again, check what comes out and show it in the stand-in host'),
  withParents: flag('pack what it builds on, too, each into its archive'),
  withCommons: flag('pack the shared files that it needs, too, each into its archive'),
  bump: choice(['major', 'minor', 'patch'], 'PART', 'raise the version first'),
  write: flag('write a missing read-me, license and changelog first, from what the theme says of itself'),
  force: flag('pack a theme even if it has errors'),
  ...jobsOption,
  dryRun: flag('show what goes in and write nothing'),
  yes: flag('do not ask, neither before a folder is made nor before the theme is changed'),
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[themes...]', about: 'folders, ids of themes on a shelf, or shelves; default: the current folder' }],
  options: OPTIONS,
  examples: [
    'pionero pack lumbre',
    'pionero pack lumbre --out dist/lumbre.zip',
    'pionero pack lumbre --list',
    'pionero pack shelf --out dist',
    'pionero pack cierzo --with-parents --out dist',
    'pionero pack lumbre --for submission --bump minor --yes',
  ],
  async run(context, args, options) {
    const wanted = await openThemes(args, context);
    if (wanted.length === 0) throw new UsageError({ what: 'there is no theme to pack', hint: 'name one' });
    const ready = await prepare(context, args, wanted, options);
    if (ready === undefined) return ExitStatus.ok;
    const all = await withBelow(context, ready, options);
    const [opened, ...others] = all;
    if (opened === undefined) return ExitStatus.ok;
    if (options.list) return list(context, all, options);
    if (options.for === 'submission') return packSubmission(context, all, options);
    // With what it builds on, it is several, whether there is any or not: --out is a folder.
    const isSeveral = others.length > 0 || options.withParents || options.withCommons;
    return isSeveral ? packAll(context, all, options) : packOne(context, opened, options);
  },
});

/** Raises versions and writes papers, where that is wished. @returns the themes as they are then; undefined when the answer was no */
async function prepare(
  context: Context,
  args: readonly string[],
  opened: readonly OpenedTheme[],
  options: Options,
): Promise<readonly OpenedTheme[] | undefined> {
  const isDry = options.dryRun || options.list;
  let isChanged = false;
  for (const each of options.bump === undefined && !options.write ? [] : opened) refuseErrors(context, each, options.force);
  if (options.bump !== undefined) {
    if (!(await bumpFirst(context, opened, options.bump, { ...options, dryRun: isDry })) && !isDry) return undefined;
    isChanged = !isDry;
  }
  const now = isChanged ? await openThemes(args, context) : opened;
  if (options.write) {
    const written = await writePapers(context, now, { ...options, dryRun: isDry });
    if (written === 'refused' && !isDry) return undefined;
    return written === 'written' ? openThemes(args, context) : now;
  }
  return now;
}

async function packOne(context: Context, opened: OpenedTheme, options: Options): Promise<ExitStatus> {
  // As programs that copy have it: a folder that is there, or whose name ends like one, takes the archive in.
  const into =
    options.out !== undefined && (/[/\\]$/.test(options.out) || kindOnDisk(context.path(options.out)) === 'folder')
      ? options.out
      : undefined;
  const named = into === undefined ? options.out : undefined;
  const plan = planPackage(opened.theme, opened.configuration.pack.exclude, formatWanted(named, options.as), timeWanted(context));
  const target = context.path(into === undefined ? (named ?? plan.name) : join(into, plan.name));
  const made = await begunWhile(plan, options, async (begun): Promise<PackedAndProved | undefined> => {
    refuseErrors(context, opened, options.force, plan);
    if (kindOnDisk(target) === 'folder') throw new RefusedError({ what: `${target} is a folder`, hint: 'name a file with --out' });
    if (options.dryRun) return { packed: await tryPackage(plan, options, begun) };
    return (await isFolderWanted(context, dirname(target), options))
      ? writeArchive(context, opened, plan, target, options, begun)
      : undefined;
  });
  if (made === undefined) return ExitStatus.ok;
  const { packed, proof } = made;
  const { paint } = context;
  const files = plan.held.entries.filter((entry) => entry.kind !== 'folder');
  const holds = `${count(files.length, 'file')} in ${bytes(packed.bytes)}`;
  context.say(
    options.dryRun
      ? `${paint.strong(context.shown(target))} would hold ${holds}; nothing was written`
      : `${paint.good('✓')} ${paint.strong(context.shown(target))} holds ${holds}, ${proofText(proof)}`,
  );
  showContents(context, plan, packed);
  if (isBelowOnDisk(dirname(target), opened.folder) && basename(target) !== plan.name)
    context.warn(
      `\n${paint.warn('▲')} ${context.shown(target)} lies in the theme itself: the next package would hold it. Use another --out.`,
    );
  const needs = needsOf(opened);
  if (needs.length > 0) context.say(`\n${paint.strong('Needed on the host')}  ${needs.map(needText).join(', ')}`);
  const next = opened.theme.platform.contract.package.forms[plan.format.name]?.next ?? opened.theme.platform.contract['next-steps'].pack;
  const steps = next.map((step) => fillShape(step, opened.theme.names).replaceAll('{archive}', context.shown(target)));
  if (steps.length > 0 && !options.dryRun)
    context.say(`\n${paint.strong('Next')}\n${steps.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
  context.result({
    archive: target,
    format: plan.format.name,
    bytes: packed.bytes,
    sha256: packed.sha256,
    entries: files.map((entry) => ({ path: pathInArchive(plan.held.top, entry.path), bytes: entry.size })),
    leftOut: plan.leftOut,
    verified: !options.dryRun,
    proved: proof !== undefined,
    needs,
  });
  return ExitStatus.ok;
}

/** Packs several themes, each into its archive in one folder; one that cannot be packed does not block the others. */
async function packAll(context: Context, opened: readonly OpenedTheme[], options: Options): Promise<ExitStatus> {
  const { paint } = context;
  const folder = context.path(options.out ?? '.');
  if (kindOnDisk(folder) === 'file') throw new UsageError({ what: `${options.out} is a file`, hint: 'name a folder for several archives' });
  if (!options.dryRun && !(await isFolderWanted(context, folder, options))) return ExitStatus.ok;
  const results: Record<string, unknown>[] = [];
  const names = new Set<string>();
  // Listed before they are checked: a file that is saved between its check and its package then stops the package.
  for (const each of opened) void each.theme.tree.entries;
  const ahead = await checkPackagesAhead(
    context,
    opened.map((each) => each.folder),
    options.jobs,
  );
  try {
    for (const each of opened) {
      const { id } = each.theme.names;
      try {
        const plan = planPackage(each.theme, each.configuration.pack.exclude, options.as, timeWanted(context));
        if (names.has(plan.name))
          throw new RefusedError({ what: `another of these themes is packed as ${plan.name}`, hint: 'pack it alone, with --out' });
        names.add(plan.name);
        const target = join(folder, plan.name);
        // Shared files are not a theme: a host has nothing to show.
        const isTheme = !each.chain.commons.has(each.theme);
        const wishes = { ...options, prove: options.prove && isTheme };
        const { packed, proof } = await begunWhile(plan, options, async (begun): Promise<PackedAndProved> => {
          if (isTheme && !isSound(context, await ahead?.of(each.folder), options)) refuseErrors(context, each, options.force, plan);
          if (options.dryRun) return { packed: await tryPackage(plan, options, begun) };
          return writeArchive(context, each, plan, target, wishes, begun);
        });
        const files = plan.held.entries.filter(({ kind }) => kind !== 'folder').length;
        const needs = needsOf(each);
        const more = [
          `${count(files, 'file')}, ${bytes(packed.bytes)}`,
          ...(needs.length === 0 ? [] : [`needs ${needs.map(needText).join(', ')}`]),
          ...(proof === undefined ? [] : [proofText(proof)]),
        ];
        context.say(`${paint.good('✓')} ${context.shown(target)}  ${paint.faint(more.join('; '))}`);
        results.push({ theme: id, archive: target, bytes: packed.bytes, sha256: packed.sha256, needs, verified: !options.dryRun });
      } catch (error) {
        if (!(error instanceof PioneroError)) throw error;
        context.say(`${paint.bad('✗')} ${paint.strong(id)}  ${error.what}`);
        results.push({ theme: id, archive: null, why: error.what });
      }
    }
  } finally {
    await ahead?.end();
  }
  const failed = results.filter(({ archive }) => archive === null).length;
  context.say(
    `\n${count(opened.length - failed, 'theme')} ${options.dryRun ? 'would be packed' : 'packed'}${failed === 0 ? '' : paint.bad(`, ${failed} not`)}.`,
  );
  context.result(results);
  return failed === 0 ? ExitStatus.ok : ExitStatus.findings;
}

/**
 * Whether a check that was made ahead found no errors; false where there is none, or where the errors are still to be shown.
 * @throws RefusedError when the check could not be made and that was not overruled
 */
function isSound(context: Context, checked: CheckedFolder | undefined, { force }: Pick<Options, 'force'>): boolean {
  const failure = checked?.failure;
  if (failure === undefined) return checked?.result.findings.length === 0;
  if (!force) throw new RefusedError({ what: failure.what, why: failure.details[0], hint: 'check it alone to see more, or use --force' });
  context.warn(`${context.paint.warn('▲')} ${failure.what}. Packed unchecked, as you asked with --force.`);
  return true;
}

/** Lists the contents of the packages, a line a path. */
function list(context: Context, opened: readonly OpenedTheme[], options: Options): ExitStatus {
  const { paint } = context;
  const results = opened.map((each) => {
    const plan = planPackage(each.theme, each.configuration.pack.exclude, options.as);
    const files = plan.held.entries.filter(({ kind }) => kind !== 'folder');
    const sum = files.reduce((all, { size }) => all + size, 0);
    context.say(`${paint.strong(plan.name)}  ${count(files.length, 'file')}, ${bytes(sum)} unpacked`);
    const rows = files.map(({ path, size }) => ({ path: pathInArchive(plan.held.top, path), size: bytes(size) }));
    const width = Math.max(0, ...rows.map(({ size }) => size.length));
    for (const { path, size } of rows) context.say(`  ${paint.faint(size.padStart(width))}  ${path}`);
    if (plan.leftOut.length > 0) context.say(paint.strong('Left out'));
    const without = plan.leftOut.map((left) => ({ ...left, bytes: sizeOf(each, left.path) }));
    const leftWidth = Math.max(width, ...without.map((left) => bytes(left.bytes).length));
    for (const { path, reason, bytes: size } of without)
      context.say(`  ${paint.faint(bytes(size).padStart(leftWidth))}  ${path}  ${paint.faint(reason)}`);
    return {
      theme: each.theme.names.id,
      archive: plan.name,
      entries: files.map(({ path, size }) => ({ path: pathInArchive(plan.held.top, path), bytes: size })),
      leftOut: without,
    };
  });
  context.result(results);
  return ExitStatus.ok;
}

/** Bytes of a file, or of all in a folder, as far as they belong to the theme. */
function sizeOf({ theme }: OpenedTheme, path: string): number {
  const below = path.endsWith('/') ? path : undefined;
  return theme.tree.entries
    .filter((entry) => (below === undefined ? entry.path === path : entry.path.startsWith(below)))
    .reduce((sum, { size }) => sum + size, 0);
}

function showContents(context: Context, plan: PackagePlan, packed: PackedTheme): void {
  const { paint } = context;
  const { top, entries } = plan.held;
  context.say(`\n${paint.name(top === '' ? './' : `${top}/`)}`);
  context.say(
    treeText(
      entries.map((entry) => ({ path: entry.path, size: entry.kind === 'folder' ? undefined : entry.size })),
      paint,
    ),
  );
  if (plan.leftOut.length > 0) {
    context.say(`\n${paint.strong('Left out')}`);
    for (const { path, reason } of plan.leftOut) context.say(`  ${path}  ${paint.faint(reason)}`);
  }
  context.say(paint.faint(`\nsha256 ${packed.sha256}`));
}
