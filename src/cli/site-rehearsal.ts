import { UsageError } from '../core/errors.ts';
import type { Finding } from '../core/rules/check.ts';
import { rehearseOnSite, type ShownPage } from '../core/sites/rehearse-on-site.ts';
import { isAgreed } from './agreement.ts';
import type { Context } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import { findingsText } from './output/findings-text.ts';
import { findingJson } from './output/json.ts';
import { count } from './output/paint.ts';
import { siteNamed } from './site-argument.ts';
import { openSource } from './theme-argument.ts';

/** Tries a theme on a fresh copy of a real site: the verdict first, then a row for each page. */
export async function rehearseSite(
  context: Context,
  argument: string | undefined,
  name: string,
  given: { readonly yes: boolean },
): Promise<ExitStatus> {
  const { theme, chain, folder } = await openSource(argument, context, { isLenient: true });
  const site = siteNamed(context, name, folder);
  if (site.command === undefined && site.server === undefined)
    throw new UsageError({
      what: `the site “${name}” says neither what makes its pages nor what serves them`,
      hint: 'add command: or server: to it; docs/sites.md shows how',
    });
  if (!(await isAgreed(context, name, site, given))) return ExitStatus.ok;
  const { pages, findings, output } = await context.changing(async (applying) => rehearseOnSite(chain, site, applying));
  const all = [...findings, ...pages.flatMap((page) => page.findings)];
  const { paint } = context;
  const who = paint.strong(theme.names.id);
  const verdict =
    all.length === 0
      ? `${paint.good('✓')} ${who} works on the site “${name}”`
      : `${paint.bad('✗')} ${who} on the site “${name}”: ${count(all.length, 'problem')}`;
  context.say(`${verdict}; ${count(pages.length, 'page')} looked at\n`);
  const width = (values: readonly string[]): number => Math.max(0, ...values.map((value) => value.length));
  const [roles, places] = [width(pages.map(({ role }) => role)), width(pages.map(({ place }) => place))];
  for (const page of pages) context.say(`  ${rowOf(context, page, roles, places)}`);
  if (all.length > 0) context.say(`\n${findingsText(byFile(all), paint, context.io.columns, context.shown(folder))}`);
  if (context.options.verbose && output.trim() !== '') context.say(`\n${paint.faint(output.trim())}`);
  context.result({
    site: name,
    theme: theme.names.id,
    pages: pages.map((page) => ({ ...page, status: page.status ?? null, findings: page.findings.map(findingJson) })),
    findings: all.map(findingJson),
  });
  return all.length === 0 ? ExitStatus.ok : ExitStatus.findings;
}

function byFile(findings: readonly Finding[]): Finding[] {
  return findings.toSorted((a, b) => (a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line));
}

function rowOf({ paint }: Context, { role, place, status, loaded, findings }: ShownPage, roles: number, places: number): string {
  const mark = findings.length === 0 ? paint.good('✓') : paint.bad('✗');
  const problems = findings.length === 0 ? '' : `, ${count(findings.length, 'problem')}`;
  const answered = status === undefined ? '' : `${status}  `;
  return `${mark} ${role.padEnd(roles)}  ${place.padEnd(places)}  ${answered}${paint.faint(`${count(loaded.length, 'file')} loaded${problems}`)}`;
}
