import { resolve } from 'node:path';
import * as z from 'zod';
import { writeOutput } from '../../core/changes/write-output.ts';
import { RefusedError } from '../../core/errors.ts';
import { displayPath, kindOnDisk } from '../../core/files/disk.ts';
import { UnreadableFileError } from '../../core/files/file-tree.ts';
import { judgePackage } from '../../core/package/judge-package.ts';
import { packTheme, type PackedTheme } from '../../core/package/pack-theme.ts';
import { fillShape } from '../../core/platform/shape.ts';
import { checkOptionsOf, checkTheme } from '../../core/rules/check.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { defineCommand, takes, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { findingsText, headline } from '../output/findings-text.ts';
import { bytes, count } from '../output/paint.ts';
import { treeText } from '../output/tree-text.ts';
import { openArgument } from '../theme-argument.ts';

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a folder, or the id of a theme on a shelf; the current folder when left out' }],
  options: {
    out: takes(z.string().optional().describe('the archive to write; named after the theme when left out'), 'FILE'),
    for: takes(z.enum(['install', 'submission']).default('install').describe('what the archive is for'), 'install|submission'),
    as: takes(z.string().optional().describe('the archive’s format; the platform’s first when left out'), 'zip|tar.gz'),
    force: z.boolean().default(false).describe('pack a theme that has errors'),
    dryRun: z.boolean().default(false).describe('show what goes in and write nothing'),
  },
  examples: ['pionero pack lumbre', 'pionero pack lumbre --out dist/lumbre.zip', 'pionero pack lumbre --dry-run'],
  async run(context, args, given) {
    const opened = openArgument(args[0], context);
    refuseErrors(context, opened, given.force);
    const packed = await packReadable(opened, given.as);
    const problems = judgePackage(opened.theme, packed, given.for);
    if (problems.length > 0 && !given.force) {
      throw new RefusedError({ what: `the package would be sent back: ${problems.join('; ')}`, hint: 'mend it, or overrule with --force' });
    }
    const target = resolve(given.out ?? packed.name);
    const { paint } = context;
    if (kindOnDisk(target) === 'folder') throw new RefusedError({ what: `${target} is a folder`, hint: 'name a file with --out' });
    if (!given.dryRun) await writeOutput(target, packed.bytes);
    const files = packed.entries.filter((entry) => entry.kind !== 'folder');
    const state = given.dryRun ? 'would hold' : 'holds';
    context.say(
      `${paint.good('✓')} ${paint.strong(given.dryRun ? packed.name : displayPath(target))} ${state} ${count(files.length, 'file')} in ${bytes(packed.bytes.length)}; read back and compared: ${packed.verified ? 'the same' : paint.bad('DIFFERENT')}`,
    );
    showContents(context, packed);
    const steps = opened.theme.platform.contract['next-steps'].pack.map((step) => fillShape(step, opened.theme.names));
    if (steps.length > 0 && !given.dryRun)
      context.say(`\n${paint.strong('Next')}\n${steps.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
    context.result({
      archive: target,
      format: packed.format,
      bytes: packed.bytes.length,
      sha256: packed.sha256,
      entries: files.map((entry) => ({ path: `${packed.top}/${entry.path}`, bytes: entry.size })),
      leftOut: packed.leftOut,
      verified: packed.verified,
    });
    return packed.verified ? ExitStatus.ok : ExitStatus.findings;
  },
});

/** @throws RefusedError when the theme has errors and that was not overruled */
function refuseErrors(context: Context, { theme, chain, shelves, configuration }: OpenedTheme, isForced: boolean): void {
  const result = checkTheme(theme, chain, shelves, checkOptionsOf(configuration));
  const errors = result.findings.filter((finding) => finding.severity === 'error');
  if (errors.length === 0) return;
  context.warn(
    `${headline({ id: theme.names.id, platform: theme.platform.contract, result }, context.paint)}\n\n${findingsText(errors, context.paint, context.io.columns)}\n`,
  );
  if (isForced) context.warn(`${context.paint.warn('▲')} Packed all the same, as you asked with --force.`);
  else
    throw new RefusedError({
      what: `${theme.names.id} has ${count(errors.length, 'error')} and was not packed`,
      hint: 'mend them, or overrule with --force',
    });
}

async function packReadable(opened: OpenedTheme, format: string | undefined): Promise<PackedTheme> {
  try {
    return await packTheme(opened.theme, opened.configuration.pack.exclude, format);
  } catch (error) {
    if (error instanceof UnreadableFileError)
      throw new RefusedError({ what: `${error.path} cannot be read`, why: error.message, cause: error });
    throw error;
  }
}

function showContents(context: Context, packed: PackedTheme): void {
  const { paint } = context;
  context.say(`\n${paint.name(`${packed.top}/`)}`);
  context.say(
    treeText(
      packed.entries.map((entry) => ({ path: entry.path, size: entry.kind === 'folder' ? undefined : entry.size })),
      paint,
    ),
  );
  if (packed.leftOut.length > 0) {
    context.say(`\n${paint.strong('Left out')}`);
    for (const { path, reason } of packed.leftOut) context.say(`  ${path}  ${paint.faint(reason)}`);
  }
  context.say(paint.faint(`\nsha256 ${packed.sha256}`));
}
