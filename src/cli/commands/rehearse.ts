import { basename, dirname } from 'node:path';
import * as z from 'zod';
import { applyPlan, type ApplyOptions } from '../../core/changes/apply.ts';
import { type Operation, copyOperations } from '../../core/changes/plan.ts';
import { UsageError } from '../../core/errors.ts';
import { DiskTree } from '../../core/files/disk-tree.ts';
import type { StandInHost } from '../../core/rehearsal/host.ts';
import type { Page } from '../../core/rehearsal/pages.ts';
import { rehearse, type Rehearsal } from '../../core/rehearsal/rehearse.ts';
import { defineCommand, takes, type Context } from '../command.ts';
import { isFolderWanted } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { rehearseSite } from '../site-rehearsal.ts';
import { openSource } from '../theme-argument.ts';
import { findingsText } from '../output/findings-text.ts';
import { findingJson } from '../output/json.ts';
import { REPORT_NAMES, reportFindings } from '../reports.ts';
import type { Paint } from '../output/paint.ts';
import { bytes, count } from '../output/paint.ts';

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a theme’s folder, its id on a shelf, or an archive; default: the current folder' }],
  options: {
    out: takes(z.string().optional().describe('a new folder to keep the site in, to be opened with a browser'), 'DIR'),
    site: takes(z.string().optional().describe('try it on a fresh copy of a real site, by its name in pionero.yaml'), 'NAME'),
    against: takes(
      z.string().optional().describe('with --site: what differs page by page from its parent, an earlier version of it, or another theme'),
      'parent|VERSION|FOLDER',
    ),
    format: takes(z.enum(REPORT_NAMES).default('text').describe('text for people, or a report for programs'), 'FORMAT'),
    yes: z.boolean().default(false).describe('do not ask, neither for the folder of --out nor for a site’s command'),
  },
  examples: [
    'pionero rehearse lumbre',
    'pionero rehearse lumbre --site staging',
    'pionero rehearse lumbre --site staging --against 1.0.0',
    'pionero rehearse lumbre.zip',
    'pionero rehearse cierzo --shelf demo/shelf --out site',
  ],
  async run(context, args, given) {
    if (given.site !== undefined) return rehearseSite(context, args[0], given.site, given);
    if (given.against !== undefined)
      throw new UsageError({ what: '--against compares the pages of a real site', hint: 'say which with --site NAME' });
    const opened = await openSource(args[0], context);
    const { theme, shelves } = opened;
    const subject = { platform: theme.platform, tree: theme.tree, names: theme.names, shelves };
    const out = given.out === undefined ? undefined : context.path(given.out);
    if (out !== undefined && !(await isFolderWanted(context, dirname(out), given))) return ExitStatus.ok;
    const rehearsal = await context.changing(async (applying) => {
      const keep = out === undefined ? undefined : (host: StandInHost, pages: readonly Page[]) => keepSite(applying, host, pages, out);
      return rehearse({ ...subject, keep, applying });
    });
    show(context, rehearsal, out);
    reportFindings(context, given.format, opened, rehearsal.reasons);
    if (given.format === 'json')
      context.result({
        recognised: rehearsal.recognised,
        reasons: rehearsal.reasons.map(findingJson),
        platform: subject.platform.contract.name,
        chain: rehearsal.chain,
        sheets: rehearsal.sheets,
        pages: rehearsal.pages.map(({ role, template, from, bytes: size, isRendered, problem }) => ({
          role,
          template,
          from,
          bytes: size,
          rendered: isRendered,
          problem,
        })),
      });
    const isGood = rehearsal.recognised && rehearsal.pages.every((page) => page.problem === undefined);
    return isGood ? ExitStatus.ok : ExitStatus.findings;
  },
});

/** Keeps the host's folder with a page for each role, as a new folder. */
async function keepSite(applying: ApplyOptions, host: StandInHost, pages: readonly Page[], out: string): Promise<void> {
  const shown = pages.map((page): Operation => {
    const html = Buffer.from(page.html);
    return { op: 'create', path: `${page.role}.html`, content: { bytes: html }, size: html.length, mode: 0o644 };
  });
  const operations = [...copyOperations(new DiskTree(host.folder)), ...shown];
  await applyPlan({ title: `rehearse --out ${basename(out)}`, root: out, isNewRoot: true, operations }, applying);
}

function show(context: Context, { recognised, reasons, theme, chain, pages, sheets }: Rehearsal, out: string | undefined): void {
  const { paint } = context;
  const host = `a fresh stand-in ${theme.platform.contract.title} host`;
  if (!recognised) {
    context.warn(
      `${paint.bad('✗')} ${paint.strong(theme.names.id)} is not recognised by ${host}: ${count(reasons.length, 'reason')}\n\n${findingsText(reasons, paint, context.io.columns)}`,
    );
    return;
  }
  const title = theme.names.title === undefined ? '' : ` as “${theme.names.title}”`;
  const isShown = pages.length === 0 || pages.some((page) => page.isRendered || page.problem !== undefined);
  context.say(
    isShown
      ? `${paint.good('✓')} ${paint.strong(theme.names.id)} is recognised by ${host}${title}`
      : `${paint.warn('–')} ${paint.strong(theme.names.id)} is not shown: templates in ${languageName(theme)}, which the stand-in host does not speak`,
  );
  if (chain.length > 1) context.say(`  chain: ${chain.join(paint.faint(' → '))}`);
  if (sheets.length > 0) context.say(`  stylesheets: ${sheets.join(paint.faint(', then '))}`);
  context.say('');
  const width = (values: readonly (string | undefined)[]): number => Math.max(...values.map((value) => value?.length ?? 0));
  const roles = width(pages.map((page) => page.role));
  const templates = width(pages.map((page) => page.template));
  for (const page of pages) {
    const { mark, detail } = verdictOn(page, paint);
    context.say(
      `  ${mark} ${page.role.padEnd(roles)}  ${(page.template ?? '').padEnd(templates)}  ${paint.name((page.from ?? '').padEnd(12))} ${paint.faint(detail)}`,
    );
  }
  if (pages.some((page) => page.problem === undefined && !page.isRendered))
    context.say(
      `\n${paint.faint('–')} No page was made of templates in ${languageName(theme)}. The theme was installed and recognised, and what its templates include is there; try the rest on a real site (--site NAME).`,
    );
  if (out !== undefined) context.say(`\nThe site is kept in ${context.shown(out)}: open front.html there with a browser.`);
}

/** What people call the language of the templates. */
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
