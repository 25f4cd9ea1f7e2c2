import { flag, renamed, text, type Values } from '../option.ts';
import { join } from 'node:path';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import { fillShape } from '../../core/names/shape.ts';
import { checkOptionsOf, checkTheme } from '../../core/rules/engine/check.ts';
import { unfinishedIn } from '../../core/rules/engine/unfinished.ts';
import { planInstall, type InstallStep } from '../../core/sites/install-theme.ts';
import { installedOf } from '../../core/theme/layout.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { findingsText } from '../output/findings-text.ts';
import { type Paint } from '../output/paint.ts';
import { shelvesIn, siteNamed, siteNames, type SitePlace } from '../site-argument.ts';
import { openSource } from '../theme-argument.ts';
import { count, plural } from '../../core/text/sentence.ts';

const OPTIONS = {
  to: renamed(text('DIR', 'the folder of the site'), 'into'),
  site: text('NAME', 'the site, by its name in pionero.yaml'),
  withParents: flag('install what it builds on, too'),
  link: flag('link the theme’s folder in place of a copy: for work on it'),
  force: flag('install a theme even if the host refuses it'),
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a theme’s folder, its id on a shelf, or an archive; default: the current folder' }],
  options: OPTIONS,
  examples: [
    'pionero install lumbre --to /srv/site',
    'pionero install lumbre.zip --to /srv/site --with-parents',
    'pionero install lumbre --site staging --link',
  ],
  async run(context, [argument], options) {
    const place = siteWanted(context, options);
    const { folder: site, home } = place;
    const alone = await openSource(argument, context);
    // The theme's neighbors come first; a parent that is nowhere else may be in the site.
    const opened =
      alone.chain.broken === undefined
        ? alone
        : await openSource(argument, context, { shelves: [...context.options.shelf, ...shelvesIn(context, place)] });
    refuseUnusable(context, opened, options.force);
    const { chain, configuration, theme } = opened;
    const { withParents, link: isLinked } = options;
    const steps = planInstall({ chain, site, home, excluded: configuration.pack.exclude, withParents, isLinked });
    for (const step of steps) context.say(stepText(step, context.paint));
    const absent = withParents ? [] : absentParents(opened, place);
    if (absent.length > 0)
      context.warn(
        `${context.paint.warn('▲')} ${absent.join(', ')} ${plural(absent.length, 'is', 'are')} not in the site, and the theme builds on it: add --with-parents`,
      );
    const open = steps.filter(({ plan }) => plan !== undefined);
    const question = `Install ${open.map(({ id }) => id).join(', ')} into ${context.shown(site)}?`;
    const isApplied = open.length > 0 && (await isConfirmed(context, options, question));
    if (isApplied) {
      await context.applyAll(open.flatMap(({ plan }) => plan ?? []));
      for (const { id, home } of open)
        context.say(`${context.paint.good('✓')} ${id} is installed in ${context.shown(site)}/${home}; “pionero undo” there reverts it.`);
      const next = theme.platform.contract['next-steps'].install.map((step) => fillShape(step, theme.names));
      if (next.length > 0) context.say(`\n${context.paint.strong('Next')}\n${next.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
    }
    context.result({
      site,
      themes: steps.map(({ id, home, state, version, added, changed, removed }) => ({ id, home, state, version, added, changed, removed })),
      applied: isApplied,
    });
    return ExitStatus.ok;
  },
});

/** The site that was named: what pionero.yaml says of it, or its folder alone. @throws UsageError when none was, or it is not there */
function siteWanted(context: Context, { to, site }: Options): SitePlace {
  if (to !== undefined && site !== undefined)
    throw new UsageError({ what: '--to and --site both name a site', hint: 'leave one of them out' });
  const known = siteNames(context);
  const named = site === undefined ? undefined : siteNamed(context, site);
  const folder = to === undefined ? named?.folder : context.path(to);
  if (folder === undefined)
    throw new UsageError({
      what: 'which site?',
      hint: `name its folder with --to${known.length > 0 ? `, or --site ${known.join('|')}` : ''}`,
    });
  if (kindOnDisk(folder) !== 'folder')
    throw new UsageError({ what: `there is no folder ${context.shown(folder)}`, hint: 'check the path of the site' });
  return { folder, home: named?.home, own: named?.own ?? [] };
}

/** The parents and shared files that a theme builds on and the site does not have. */
function absentParents({ chain }: OpenedTheme, { folder: site, home: elsewhere, own }: SitePlace): string[] {
  return installedOf(chain, elsewhere)
    .slice(1)
    .flatMap(({ theme, home }) => {
      const places = [home, ...own.map((folder) => join(folder, theme.names.id))];
      return places.some((place) => kindOnDisk(join(site, place)) !== undefined) ? [] : [theme.names.id];
    });
}

/** @throws RefusedError when the host would refuse the theme, or it is not finished, and nobody said to install it all the same */
function refuseUnusable(context: Context, { theme, chain, shelves, configuration }: OpenedTheme, isForced: boolean): void {
  const refused = checkTheme(theme, chain, shelves, checkOptionsOf(configuration)).findings.filter(({ isRefusal }) => isRefusal);
  const unfinished = unfinishedIn(theme, chain, shelves);
  if (refused.length + unfinished.length === 0) return;
  context.warn(`${findingsText([...refused, ...unfinished], context.paint, context.io.columns)}\n`);
  if (isForced) return;
  throw new RefusedError({
    what:
      refused.length > 0
        ? `the host refuses ${theme.names.id}: ${count(refused.length, 'reason')}`
        : `${theme.names.id} is not finished: ${count(unfinished.length, 'error')}`,
    hint: 'fix it first, or use --force',
  });
}

/** So many paths of each kind are shown. */
const MOST = 8;

function stepText({ id, home, state, version, added, changed, removed }: InstallStep, paint: Paint): string {
  const versions =
    version.before === undefined || version.before === version.after ? (version.after ?? '') : `${version.before} → ${version.after}`;
  const head = `${paint.strong(id)} ${versions} ${paint.faint(`in ${home}`)}`;
  if (state === 'same') return `${head}: nothing changes`;
  if (state !== 'changed') return `${head}: ${state === 'linked' ? 'a link to the theme’s folder' : count(added.length, 'file')}`;
  const paths = (sign: string, list: readonly string[]): string[] => [
    ...list.slice(0, MOST).map((path) => `  ${sign} ${path}`),
    ...(list.length > MOST ? [paint.faint(`  … and ${list.length - MOST} more`)] : []),
  ];
  const sum = `${changed.length} changed, ${added.length} added, ${removed.length} removed`;
  return [`${head}: ${sum}`, ...paths(paint.warn('~'), changed), ...paths(paint.good('+'), added), ...paths(paint.bad('−'), removed)].join(
    '\n',
  );
}
