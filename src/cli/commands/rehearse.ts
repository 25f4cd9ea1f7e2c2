import { noTemplatesText } from '../output/platform-text.ts';
import { choice, flag, text, whole } from '../option.ts';
import { dirname } from 'node:path';
import { UsageError } from '../../core/errors.ts';
import type { StandInHost } from '../../core/rehearsal/host.ts';
import { pageName, type Page } from '../../core/rehearsal/pages.ts';
import { isSamePage, type PageDifference } from '../../core/sites/compare-pages.ts';
import { rehearse, type Rehearsal } from '../../core/rehearsal/rehearse.ts';
import { defineCommand, type Context } from '../command.ts';
import { isFolderWanted } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { rehearseSite } from '../site-rehearsal.ts';
import { againstText, differenceLines, otherTheme, type Other } from '../against.ts';
import { differencesOf, keepSite, rehearseOther, sheetName } from '../stand-in.ts';
import { serveThemes } from '../serve-themes.ts';
import { shootTheme } from '../shots.ts';
import { openSource } from '../theme-argument.ts';
import { findingsText } from '../output/findings-text.ts';
import { findingJson } from '../output/json.ts';
import { REPORT_NAMES } from '../report-streams.ts';
import { reportFindings } from '../reports.ts';
import type { Paint } from '../output/paint.ts';
import { bytes } from '../output/paint.ts';
import { count } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a theme’s folder, its id on a shelf, or an archive; default: the current folder' }],
  options: {
    out: text('DIR', 'a new folder to keep the site in, with a sheet of all pages (index.html) to be opened with a browser'),
    serve: flag('show it to a browser on this machine, with the themes beside it; loads again when a file changes'),
    port: whole('NUMBER', 'the port of --serve; default: any that is free', { from: 0, to: 65_535 }, 0),
    shots: text('DIR', 'look at every page with a browser, as on a desktop and a phone, and keep pictures there'),
    states: flag('with --shots: look at the pages in other states, too (empty lists, long words …)'),
    accept: flag('with --shots: later pictures are compared with these'),
    regions: flag('with --out: outline and name each region on the pages'),
    site: text('NAME', 'try it on a fresh copy of a real site, by its name in pionero.yaml'),
    against: text('parent|VERSION|FOLDER', 'what differs page by page from its parent, an earlier version of it, or another theme'),
    format: choice(REPORT_NAMES, 'FORMAT', 'text for people, or a report for programs', 'text'),
    yes: flag('do not ask, neither for the folder of --out nor for a site’s command'),
  },
  examples: [
    'pionero rehearse lumbre',
    'pionero rehearse lumbre --site staging',
    'pionero rehearse lumbre --site staging --against 1.0.0',
    'pionero rehearse lumbre.zip',
    'pionero rehearse cierzo --shelf demo/shelf --out site --regions',
    'pionero rehearse lumbre --against parent',
    'pionero rehearse lumbre --serve --port 8080',
    'pionero rehearse lumbre --shots shots',
  ],
  async run(context, args, options) {
    if (options.shots === undefined && (options.accept || options.states))
      throw new UsageError({
        what: `${options.accept ? '--accept' : '--states'} needs pictures`,
        hint: 'name a folder for them with --shots DIR',
      });
    if (options.port !== 0 && !options.serve)
      throw new UsageError({ what: '--port is the port of a server, and nothing is served', hint: 'add --serve' });
    refuseTogether(options);
    if (options.site !== undefined) return rehearseSite(context, args[0], options.site, options);
    if (options.regions && options.out === undefined)
      throw new UsageError({ what: '--regions needs pages to outline regions on', hint: 'name a folder for them with --out DIR' });
    const opened = await openSource(args[0], context);
    if (options.serve) {
      await serveThemes(context, opened, options.port);
      return ExitStatus.ok;
    }
    if (options.shots !== undefined) return shootTheme(context, opened, { ...options, shots: options.shots });
    const { theme, shelves } = opened;
    const subject = { platform: theme.platform, tree: theme.tree, names: theme.names, shelves, isOutlined: options.regions };
    const other = options.against === undefined ? undefined : await otherTheme(context, opened, options.against);
    const out = options.out === undefined ? undefined : context.path(options.out);
    if (out !== undefined && !(await isFolderWanted(context, dirname(out), options))) return ExitStatus.ok;
    // The other theme goes first: the site that is kept shows its pages beside this one's.
    const before =
      other === undefined ? undefined : await context.changing(async (applying) => rehearseOther(other, shelves, { ...subject, applying }));
    const rehearsal = await context.changing(async (applying) => {
      const keep =
        out === undefined
          ? undefined
          : (host: StandInHost, pages: readonly Page[]) => keepSite(applying, host, { pages, out, theme, before, called: other?.called });
      return rehearse({ ...subject, keep, applying });
    });
    const differences = before === undefined ? [] : differencesOf(rehearsal, before);
    show(context, rehearsal, { out, other, differences, isOutlined: options.regions });
    await reportFindings(context, options.format, opened, [...rehearsal.reasons, ...rehearsal.unfinished]);
    if (options.format === 'json')
      context.result({
        recognised: rehearsal.recognised,
        reasons: rehearsal.reasons.map(findingJson),
        unfinished: rehearsal.unfinished.map(findingJson),
        platform: subject.platform.contract.name,
        chain: rehearsal.chain,
        sheets: rehearsal.sheets,
        pages: rehearsal.pages.map(pageJson),
        states: rehearsal.states.map((page) => ({ state: page.state, ...pageJson(page) })),
        ...(other === undefined ? {} : { against: other.called, differences }),
      });
    const isFit = rehearsal.recognised && rehearsal.unfinished.length === 0;
    const isGood = isFit && [...rehearsal.pages, ...rehearsal.states].every((page) => page.problem === undefined);
    return isGood ? ExitStatus.ok : ExitStatus.findings;
  },
});

/** @throws UsageError when options are given together of which one would be left unheard */
function refuseTogether({
  serve,
  shots,
  site,
  out,
  against,
}: {
  serve: boolean;
  shots?: string | undefined;
  site?: string | undefined;
  out?: string | undefined;
  against?: string | undefined;
}): void {
  const modes: [name: string, isGiven: boolean, others: [name: string, isGiven: boolean][]][] = [
    [
      '--serve',
      serve,
      [
        ['--shots', shots !== undefined],
        ['--site', site !== undefined],
        ['--out', out !== undefined],
        ['--against', against !== undefined],
      ],
    ],
    [
      '--shots',
      shots !== undefined,
      [
        ['--out', out !== undefined],
        ['--against', site === undefined && against !== undefined],
      ],
    ],
    ['--site', site !== undefined, [['--out', out !== undefined]]],
  ];
  for (const [name, isGiven, others] of modes) {
    const other = isGiven ? others.find(([, isOther]) => isOther) : undefined;
    if (other !== undefined) throw new UsageError({ what: `${name} and ${other[0]} do not go together`, hint: 'leave one of them out' });
  }
}

interface RehearsalView {
  readonly out: string | undefined;
  readonly other: Other | undefined;
  readonly differences: readonly PageDifference[];
  readonly isOutlined: boolean;
}

function show(context: Context, rehearsal: Rehearsal, { out, other, differences, isOutlined }: RehearsalView): void {
  const { recognised, reasons, unfinished, theme, chain, pages, sheets } = rehearsal;
  const { paint } = context;
  const host = `a fresh stand-in ${theme.platform.contract.title} host`;
  if (!recognised) {
    context.warn(
      `${paint.bad('✗')} ${paint.strong(theme.names.id)} is not recognized by ${host}: ${count(reasons.length, 'reason')}\n\n${findingsText(reasons, paint, context.io.columns)}`,
    );
    return;
  }
  if (unfinished.length > 0)
    context.warn(
      `${paint.bad('✗')} ${paint.strong(theme.names.id)} is not finished: ${count(unfinished.length, 'error')}\n\n${findingsText(unfinished, paint, context.io.columns)}\n`,
    );
  const title = theme.names.title === undefined ? '' : ` as “${theme.names.title}”`;
  const isShown = pages.length === 0 || pages.some((page) => page.isRendered || page.problem !== undefined);
  context.say(
    isShown
      ? `${paint.good('✓')} ${paint.strong(theme.names.id)} is recognized by ${host}${title}`
      : `${paint.warn('–')} ${paint.strong(theme.names.id)} is not shown: templates in ${languageName(theme)}, which the stand-in host does not speak`,
  );
  if (chain.length > 1) context.say(`  chain: ${chain.join(paint.faint(' → '))}`);
  if (sheets.length > 0) context.say(`  stylesheets: ${sheets.join(paint.faint(', then '))}`);
  if (other !== undefined)
    context.say(
      `  ${againstText(
        other,
        differences.filter(({ role }) => pages.some((page) => page.role === role)),
      )}`,
    );
  context.say('');
  const width = (values: readonly (string | undefined)[]): number => Math.max(...values.map((value) => value?.length ?? 0));
  const roles = width(pages.map((page) => page.role));
  const templates = width(pages.map((page) => page.template));
  for (const page of pages) {
    const { mark, detail } = verdictOn(page, paint);
    const difference = differences.find(({ role }) => role === page.role);
    context.say(
      `  ${mark} ${page.role.padEnd(roles)}  ${(page.template ?? '').padEnd(templates)}  ${paint.name((page.from ?? '').padEnd(12))} ${paint.faint(detail)}${regionsText(page, paint)}`,
    );
    if (difference !== undefined) for (const line of differenceLines(context, difference)) context.say(`    ${line}`);
  }
  showStates(context, rehearsal, differences);
  if (pages.length === 0) context.say(noTemplatesText(theme.platform, paint).trimStart());
  if (pages.some((page) => page.problem === undefined && !page.isRendered))
    context.say(
      `\n${paint.faint('–')} No page was made of templates in ${languageName(theme)}. The theme was installed and recognized, and what its templates include is there; try the rest on a real site (--site NAME).`,
    );
  if (isOutlined) sayRegions(context, rehearsal);
  if (out === undefined) return;
  const toOpen = pages.some(({ isRendered }) => isRendered) ? `open ${sheetName(pages)} there with a browser` : 'it has no pages';
  context.say(`\nThe site is kept in ${context.shown(out)}: ${toOpen}.`);
}

/** Says why nothing could be outlined. */
function sayRegions(context: Context, { theme, pages }: Rehearsal): void {
  const { regions, title } = theme.platform.contract;
  const mark = context.paint.warn('▲');
  if (regions === undefined) context.warn(`\n${mark} Themes for ${title} have no regions: nothing is outlined.`);
  else if (pages.every((page) => page.regions.length === 0))
    context.warn(`\n${mark} No page prints a region (${regions.printed}): nothing is outlined.`);
}

/** The pages in other states, in one line; each of them that is not as it should be, or differs, in a line of its own. */
function showStates(context: Context, { pages, states }: Rehearsal, differences: readonly PageDifference[]): void {
  const { paint } = context;
  const made = states.filter(({ isRendered }) => isRendered);
  if (made.length === 0) return;
  // Where the usual page is blank too, that has been said.
  const isBlank = ({ role, html }: Page): boolean => html.trim() === '' && pages.find((each) => each.role === role)?.html.trim() !== '';
  const isWrong = (page: Page): boolean => page.problem !== undefined || isBlank(page);
  const wrong = made.filter(isWrong);
  const names = [...new Set(made.map(({ state }) => state ?? ''))];
  context.say(
    wrong.length === 0
      ? `\n  ${paint.good('✓')} ${count(made.length, 'page')} more in ${count(names.length, 'state')}: ${paint.faint(names.join(', '))}`
      : `\n  ${paint.bad('✗')} ${wrong.length} of ${count(made.length, 'page')} in other states:`,
  );
  for (const page of made) {
    const found = differences.find(({ role }) => role === pageName(page));
    const usual = differences.find(({ role }) => role === page.role);
    // Where the usual page differs, that has been told.
    const difference = found === undefined || isSamePage(found) || (usual !== undefined && !isSamePage(usual)) ? undefined : found;
    const isTold = isWrong(page) || difference !== undefined;
    if (!isTold && !context.options.verbose) continue;
    const { mark, detail } = verdictOn(page, paint);
    context.say(`    ${mark} ${page.role} · ${page.state ?? ''}  ${paint.faint(detail)}`);
    if (difference !== undefined && !isSamePage(difference))
      for (const line of differenceLines(context, difference)) context.say(`      ${line}`);
  }
}

function pageJson({ role, template, from, bytes: size, isRendered, regions, problem }: Page): Record<string, unknown> {
  return { role, template, from, bytes: size, rendered: isRendered, regions, problem };
}

/** The regions of a page that the sample content leaves empty. */
function regionsText({ regions, isRendered }: Page, paint: Paint): string {
  const empty = regions.filter(({ isFilled }) => !isFilled).map(({ name }) => name);
  return !isRendered || empty.length === 0 ? '' : paint.faint(`, empty: ${empty.join(', ')}`);
}

/** The name of the templates' language, for people. */
function languageName({ platform }: Rehearsal['theme']): string {
  const language = platform.contract.templates?.language;
  return typeof language === 'object' ? (language.called ?? 'a language of its own') : (language ?? 'no language');
}

/** A tick only for a page that was made and holds something. */
function verdictOn({ problem, isRendered, html, bytes: size }: Page, paint: Paint): { mark: string; detail: string } {
  if (problem !== undefined) return { mark: paint.bad('✗'), detail: problem };
  if (!isRendered) return { mark: paint.faint('–'), detail: 'not made' };
  return html.trim() === '' ? { mark: paint.warn('▲'), detail: 'blank' } : { mark: paint.good('✓'), detail: bytes(size) };
}
