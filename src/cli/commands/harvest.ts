import { choice, renamed, text } from '../option.ts';
import { join } from 'node:path';
import { readArchive } from '../../core/archives/archive-format.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { DiskTree } from '../../core/files/disk-tree.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import type { FileTree } from '../../core/files/file-tree.ts';
import { SubTree } from '../../core/files/sub-tree.ts';
import { planHarvest, type Harvest, type HarvestedFile, type HarvestState } from '../../core/lineage/harvest.ts';
import { nearestVersion, singleOriginals } from '../../core/lineage/harvest-base.ts';
import type { Decide } from '../../core/lineage/merge-files.ts';
import { SourceDocument } from '../../core/text/source-document.ts';
import { earlierVersion, versionsInArchives, whereLooked } from '../../core/lineage/earlier.ts';
import { homeOf } from '../../core/theme/layout.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { recognise } from '../../core/theme/recognise.ts';
import { Theme } from '../../core/theme/theme.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { archiveFolders, withDecisions } from '../lineage-context.ts';
import { patchLines } from '../output/diff-text.ts';
import { findingJson } from '../output/json.ts';
import { forceOption, isHarmless, mergeErrors } from '../proof-gate.ts';
import { isArchive, openArgument, openSource } from '../theme-argument.ts';
import { count, plural } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '<export>', about: 'what the host’s editor exported, an archive or a folder; or a real site’s folder' }],
  options: {
    to: renamed(text('THEME', 'the theme that it is taken back into; default: the current folder'), 'into'),
    base: text('VERSION|FOLDER', 'what was put on the site, when the theme has moved on: its version, a folder or an archive'),
    side: renamed(
      choice(['mine', 'site'], 'SIDE', 'whose is taken of what both changed and cannot be merged, such as pictures: mine, site'),
      'take',
      { ours: 'mine', theirs: 'site' },
    ),
    ...forceOption,
    ...changeOptions,
  },
  examples: ['pionero harvest export.zip --to lumbre', 'pionero harvest /srv/site --to lumbre --base 1.0.0 --dry-run'],
  async run(context, [source = ''], options) {
    const opened = await openArgument(options.to, context, { isLenient: true });
    const exported = await openExport(context, source, opened);
    const base = await baseOf(context, opened, exported, { named: options.base, source: context.path(source) });
    const singles = singleOriginals(opened.theme, exported, await context.journal.list('done'), exported.disk?.root);
    const original = (file: string): Buffer | undefined =>
      base?.tree.get(file)?.kind === 'file' ? base.tree.read(file) : base === undefined ? singles(file) : undefined;
    const planned = (decide: Decide): Harvest =>
      planHarvest({
        opened,
        exported,
        original,
        called: 'the site',
        decide,
        whole: options.side === undefined ? undefined : options.side === 'mine' ? 'ours' : 'theirs',
      });
    const harvest = await withDecisions(context, !options.yes && !options.dryRun, planned);
    const changed = harvest.files.filter(({ after }) => after !== undefined);
    const conflicts = harvest.files.reduce((sum, { merged }) => sum + (merged?.conflicts ?? 0), 0);
    tell(context, opened, harvest, base?.called);
    if (base === undefined && conflicts > 0)
      context.warn(
        `\n${context.paint.warn('▲')} Nobody knows what was put on the site: no archive, repository or record here tells. Lines that are only here stay, as conflicts.\n  → name it with --base VERSION|FOLDER; if nothing was changed here since, that is --base ${context.shown(opened.folder)}`,
      );
    const left = harvest.files.filter(({ state }) => state === 'left').length;
    const broken = changed.length === 0 ? [] : await mergeErrors(opened, harvest, conflicts, planned);
    const isFit = changed.length > 0 && isHarmless(context, options, opened.theme.names.id, broken);
    const isApplied = isFit && (await isConfirmed(context, options, `Take ${count(changed.length, 'file')} back?`));
    if (isApplied) {
      await context.apply(harvest.plan);
      const rest =
        conflicts === 0
          ? ''
          : ` ${context.paint.warn('▲')} ${count(conflicts, 'conflict')} left, marked with <<<<<<<: “pionero check” finds each.`;
      context.say(
        `${context.paint.good('✓')} ${count(changed.length, 'file')} taken back into ${opened.theme.names.id}; “pionero undo” reverts it.${rest}`,
      );
    }
    context.result({
      theme: opened.theme.names.id,
      base: base?.called ?? null,
      files: harvest.files.map(({ file, state, merged }) => ({ file, state, conflicts: merged?.conflicts ?? 0 })),
      missing: harvest.missing,
      newFindings: broken.map(findingJson),
      applied: isApplied,
    });
    return conflicts + left + broken.length > 0 ? ExitStatus.findings : ExitStatus.ok;
  },
});

/** The theme’s files in an export: at its root, in a folder of the theme’s name, or where a site keeps it. */
async function openExport(context: Context, source: string, { theme }: OpenedTheme): Promise<FileTree> {
  const path = context.path(source);
  const kind = kindOnDisk(path);
  if (kind === undefined)
    throw new UsageError({ what: `there is no export ${source}`, hint: 'name the archive or the folder that the host’s editor made' });
  const tree = kind === 'folder' ? new DiskTree(path) : isArchive(source, context) ? (await readArchive(path, source)).tree : undefined;
  if (tree === undefined) throw new UsageError({ what: `${source} is neither an archive nor a folder` });
  const { platform, names } = theme;
  const places = [homeOf(platform, names), ...(names.vendor === undefined ? [] : [`${names.vendor}/${names.id}`]), names.id];
  const inside = places.find((place) => tree.get(place)?.kind === 'folder');
  const found = inside === undefined ? tree : kind === 'folder' ? new DiskTree(join(path, inside)) : new SubTree(tree, inside);
  const isTheme = recognise(found, platform, names).missing === undefined;
  const isAlike = found.entries.some(({ path: each, kind: its }) => its === 'file' && theme.tree.get(each)?.kind === 'file');
  if (isTheme || isAlike) return found;
  throw new RefusedError({
    what: `${source} holds no files of the theme ${names.id}`,
    why: `looked for ${[...places, 'its files at the root'].join(', ')}`,
    hint: 'name the folder or the archive that holds the theme’s files',
  });
}

/** The state that was put on the site: the one that is named, the version that the export says it is, or the one that it is nearest to. */
async function baseOf(
  context: Context,
  opened: OpenedTheme,
  exported: FileTree,
  { named, source }: { readonly named: string | undefined; readonly source: string },
): Promise<{ tree: FileTree; called: string } | undefined> {
  if (named !== undefined && kindOnDisk(context.path(named)) !== undefined) {
    const { theme } = await openSource(named, context, { isLenient: true });
    return { tree: theme.tree, called: named };
  }
  const { theme } = opened;
  const stated = new Theme(theme.platform, exported, theme.names, 'the export').text('version');
  // The same version may be another state of it: a version is raised before a release, and not with each change.
  const version = named ?? (stated === theme.text('version') ? undefined : stated);
  const folders = archiveFolders(context, opened);
  const earlier = version === undefined ? undefined : await earlierVersion(opened, version, folders, context.opening, source);
  if (earlier !== undefined) return { tree: earlier.theme.tree, called: `${theme.names.id} ${version} (${earlier.found})` };
  if (named === undefined) {
    const nearest = nearestVersion(opened, exported, await versionsInArchives(theme, folders, context.opening, source));
    return nearest === undefined ? undefined : { tree: nearest.tree, called: `${theme.names.id} (${nearest.called})` };
  }
  throw new UsageError({
    what: `there is no ${theme.names.id} ${named} here`,
    why: whereLooked(opened.folder),
    hint: '--base takes a version, a folder or an archive',
  });
}

const TITLES: Readonly<Partial<Record<HarvestState, string>>> = {
  new: 'New on the site',
  changed: 'Changed on the site',
  merged: 'Different here and on the site, and merged',
  left: 'Different here and on the site, and not text: choose with --side mine or --side site',
  older: 'Changed in the theme since, and not on the site: left as it is here',
  unknown: 'Not known to the platform: not taken',
};

function tell(context: Context, { theme }: OpenedTheme, { files, missing }: Harvest, base: string | undefined): void {
  const { paint } = context;
  const number = (state: HarvestState): number => files.filter((file) => file.state === state).length;
  const changes = number('new') + number('changed') + number('merged') + number('left');
  const from = base === undefined ? '' : `, from ${base}`;
  context.say(
    changes === 0
      ? `${paint.good('✓')} the site changed nothing of ${paint.strong(theme.names.id)} that it does not have (${count(number('same'), 'file')} ${plural(number('same'), 'is', 'are')} the same${from})`
      : `${paint.strong(theme.names.id)}: ${number('new')} new, ${number('changed')} changed, ${number('merged') + number('left')} changed on both sides, ${number('same')} the same${from}`,
  );
  for (const [state, title] of Object.entries(TITLES) as [HarvestState, string][]) {
    const own = files.filter((file) => file.state === state);
    if (own.length === 0) continue;
    context.say(`\n${paint.strong(title)}`);
    for (const file of own) {
      const conflicts = file.merged?.conflicts ?? 0;
      context.say(`  ${file.file}${conflicts === 0 ? '' : paint.warn(`  ${count(conflicts, 'conflict')}`)}`);
      for (const line of diffLines(context, file)) context.say(`    ${line}`);
    }
  }
  if (missing.length > 0) {
    const shown = context.options.verbose ? missing : missing.slice(0, 5);
    context.say(
      `\n${paint.strong('Not in the export: they stay')}\n  ${shown.join(', ')}${shown.length < missing.length ? paint.faint(` and ${missing.length - shown.length} more`) : ''}`,
    );
  }
}

function diffLines({ paint, options }: Context, { file, before, after }: HarvestedFile): string[] {
  const [old, now] = [before, after].map((bytes) => (bytes === undefined ? undefined : SourceDocument.decode(file, bytes)?.text));
  return old === undefined || now === undefined ? [] : patchLines(old, now, paint, options.verbose ? Infinity : 10);
}
