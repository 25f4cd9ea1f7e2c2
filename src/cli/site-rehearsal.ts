import { UsageError } from '../core/errors.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import { comparePages, type PageDifference } from '../core/sites/compare-pages.ts';
import { rehearseOnSite, type SeenSite, type ShownPage, type SiteRehearsal } from '../core/sites/rehearse-on-site.ts';
import type { Chain } from '../core/theme/chain.ts';
import { installedOf } from '../core/theme/layout.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { againstText, differenceLines, otherTheme, type Other } from './against.ts';
import { isAgreed } from './agreement.ts';
import { unfinishedIn } from '../core/rules/engine/unfinished.ts';
import type { Context } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import { findingsText } from './output/findings-text.ts';
import { findingJson } from './output/json.ts';
import type { ReportName } from './report-streams.ts';
import { reportFindings } from './reports.ts';
import { keepShots, lookAtSite, picturesIn } from './shots.ts';
import type { Look } from '../core/shots/look-at-pages.ts';
import { shelvesIn, siteNamed } from './site-argument.ts';
import { openSource } from './theme-argument.ts';
import { count } from '../core/text/sentence.ts';

interface SiteRehearsalOptions {
  readonly yes: boolean;
  readonly format: ReportName;
  /** The other theme of the comparison: `parent`, a version, a folder or an archive. */
  readonly against?: string | undefined;
  /** The folder for pictures of the pages. */
  readonly shots?: string | undefined;
  readonly accept: boolean;
}

/** Tries a theme on a fresh copy of a real site: the verdict first, then a row for each page. */
export async function rehearseSite(
  context: Context,
  argument: string | undefined,
  name: string,
  options: SiteRehearsalOptions,
): Promise<ExitStatus> {
  const alone = await openSource(argument, context, { isLenient: true });
  const site = siteNamed(context, name, alone.folder);
  // The theme's neighbors come first; a parent that is nowhere else may be in the site.
  const shelves = [...context.options.shelf, ...shelvesIn(context, site)];
  const opened = alone.chain.broken === undefined ? alone : await openSource(argument, context, { isLenient: true, shelves });
  const { theme, chain } = opened;
  if (site.command === undefined && site.server === undefined)
    throw new UsageError({
      what: `the site “${name}” says neither what makes its pages nor what serves them`,
      hint: 'add command: or server: to it; docs/sites.md shows how',
    });
  if (options.shots !== undefined) picturesIn(context, options.shots);
  const other = options.against === undefined ? undefined : await otherTheme(context, opened, options.against);
  if (!(await isAgreed(context, name, site, options))) return ExitStatus.ok;
  const isCompared = other !== undefined;
  let looks: readonly Look[] = [];
  const visit = options.shots === undefined ? undefined : async (seen: SeenSite) => void (looks = await lookAtSite(context, seen));
  const shown = await context.changing(async (applying) => rehearseOnSite(chain, site, { ...applying, isCompared, visit }));
  const before =
    other === undefined
      ? undefined
      : await context.changing(async (applying) => rehearseOnSite(other.chain, site, { ...applying, isCompared }));
  const { findings, pages } = shown;
  const pictures =
    options.shots === undefined ? undefined : await keepShots(context, looks, { chain, shots: options.shots, accept: options.accept });
  const all = [
    ...unfinishedIn(theme, chain, opened.shelves),
    ...findings,
    ...pages.flatMap((page) => page.findings),
    ...(pictures?.findings ?? []),
  ];
  const differences = other === undefined || before === undefined ? [] : differencesOf([shown, chain], [before, other.chain], site.home);
  tell(context, { name, opened, shown, all, differences, other });
  if (pictures !== undefined) context.say(`\n${pictures.said}`);
  await reportFindings(context, options.format, opened, all);
  if (options.format === 'json')
    context.result({
      site: name,
      theme: theme.names.id,
      pages: pages.map(({ text: _text, ...page }) => ({
        ...page,
        status: page.status ?? null,
        template: page.template ?? null,
        findings: page.findings.map(findingJson),
      })),
      findings: all.map(findingJson),
      ...(other === undefined ? {} : { against: other.called, differences }),
    });
  return all.length === 0 ? ExitStatus.ok : ExitStatus.findings;
}

function differencesOf(
  [now, chain]: readonly [SiteRehearsal, Chain],
  [before, otherChain]: readonly [SiteRehearsal, Chain],
  elsewhere: string | undefined,
): PageDifference[] {
  const homesOf = (each: Chain): string[] => installedOf(each, elsewhere).map(({ home }) => home);
  return now.pages.flatMap((page, i) => {
    const other = before.pages[i];
    return other === undefined ? [] : [comparePages([page, homesOf(chain)], [other, homesOf(otherChain)])];
  });
}

interface SiteRehearsalResult {
  readonly name: string;
  readonly opened: OpenedTheme;
  readonly shown: SiteRehearsal;
  readonly all: readonly Finding[];
  readonly differences: readonly PageDifference[];
  readonly other: Other | undefined;
}

function tell(context: Context, { name, opened, shown, all, differences, other }: SiteRehearsalResult): void {
  const { paint } = context;
  const { pages, output } = shown;
  const who = paint.strong(opened.theme.names.id);
  const verdict =
    all.length === 0
      ? `${paint.good('✓')} ${who} works on the site “${name}”`
      : `${paint.bad('✗')} ${who} on the site “${name}”: ${count(all.length, 'problem')}`;
  context.say(`${verdict}; ${count(pages.length, 'page')} looked at`);
  if (other !== undefined) {
    context.say(`  ${againstText(other, differences)}`);
  }
  context.say('');
  const width = (values: readonly string[]): number => Math.max(0, ...values.map((value) => value.length));
  const columns = {
    role: width(pages.map(({ role }) => role)),
    place: width(pages.map(({ place }) => place)),
    template: width(pages.map(({ template = '' }) => template)),
  };
  for (const [i, page] of pages.entries()) {
    context.say(`  ${rowOf(context, page, columns)}`);
    const difference = differences[i];
    if (difference !== undefined) for (const line of differenceLines(context, difference)) context.say(`    ${line}`);
  }
  if (all.length > 0) context.say(`\n${findingsText(byFile(all), paint, context.io.columns, context.shown(opened.folder))}`);
  if (context.options.verbose && output.trim() !== '') context.say(`\n${paint.faint(output.trim())}`);
}

function byFile(findings: readonly Finding[]): Finding[] {
  return findings.toSorted((a, b) => (a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line));
}

/** How wide the columns of the rows are. */
type Columns = Readonly<Record<'role' | 'place' | 'template', number>>;

function rowOf({ paint }: Context, page: ShownPage, columns: Columns): string {
  const { role, place, status, template = '', loaded, own, findings } = page;
  const mark = findings.length === 0 ? paint.good('✓') : paint.bad('✗');
  const answered = status === undefined ? '' : `${status}  `;
  const made = columns.template === 0 ? '' : `${paint.name(template.padEnd(columns.template))}  `;
  const files = `${count(loaded.length, 'file')} loaded, ${own.length === 0 ? 'none' : own.length} of its own`;
  const detail = [...(loaded.length === 0 ? [] : [files]), ...(findings.length === 0 ? [] : [count(findings.length, 'problem')])];
  return `${mark} ${role.padEnd(columns.role)}  ${place.padEnd(columns.place)}  ${answered}${made}${paint.faint(detail.join(', '))}`;
}
