import { applyPlan } from '../core/changes/apply.ts';
import { copyOperations } from '../core/changes/plan.ts';
import { planBetween } from '../core/changes/plan-between.ts';
import { RefusedError } from '../core/errors.ts';
import { DiskTree } from '../core/files/disk-tree.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import type { FileTree } from '../core/files/file-tree.ts';
import { MemoryTree } from '../core/files/memory-tree.ts';
import { pageName } from '../core/rehearsal/pages.ts';
import { rehearseKept, type KeptRehearsal } from '../core/rehearsal/kept.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import { judgeLooks } from '../core/shots/judge-looks.ts';
import { lookAtPages, type Look, type PageToSee } from '../core/shots/look-at-pages.ts';
import type { SeenSite } from '../core/sites/rehearse-on-site.ts';
import type { Chain } from '../core/theme/chain.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { serveLoopback } from '../core/web/loopback.ts';
import { filesApp, siteApp } from '../core/web/show-site.ts';
import type { Context } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import { findingsText } from './output/findings-text.ts';
import { findingJson } from './output/json.ts';
import { framePage, problemPage } from './output/serve-page.ts';
import { browserPath } from './io.ts';
import type { ReportName } from './report-streams.ts';
import { reportFindings } from './reports.ts';
import { count } from '../core/text/sentence.ts';

/** Folders that pictures lie in, and what is in their names. */
const OURS = /^(?:(?:marked|changes|accepted)(?:\/|$)|(?:(?:marked|changes|accepted)\/)?[\w.-]+\.(?:desktop|phone)\.png$)/;

export interface ShotWishes {
  /** The folder for the pictures. */
  readonly shots: string;
  /** Whether these pictures are the ones that later ones are compared with. */
  readonly accept: boolean;
}

/** Looks at all pages of a theme in the stand-in host with a browser, keeps pictures of them, and tells what a reader would stumble over. */
export async function shootTheme(
  context: Context,
  opened: OpenedTheme,
  options: ShotWishes & { readonly format: ReportName; readonly states: boolean },
): Promise<ExitStatus> {
  const { theme, chain, shelves } = opened;
  const { platform, tree, names } = theme;
  picturesIn(context, options.shots);
  const kept = await context.changing(async (applying) => rehearseKept({ platform, tree, names, shelves, applying }));
  if (!kept.recognised)
    throw new RefusedError({ what: `${names.id} is not recognized: there are no pages to look at`, hint: '“pionero check” says why' });
  const looks = await lookAtKept(context, kept, options.states);
  if (looks.length === 0)
    throw new RefusedError({
      what: 'the stand-in host makes no pages of these templates',
      hint: 'look at them on a real site: --site NAME',
    });
  const { findings, said } = await keepShots(context, looks, { chain, ...options });
  const { paint } = context;
  const errors = findings.filter(({ severity }) => severity === 'error').length;
  const mark = errors > 0 ? paint.bad('✗') : findings.length > 0 ? paint.warn('▲') : paint.good('✓');
  const verdict = findings.length === 0 ? 'nothing that a reader would stumble over' : count(findings.length, 'thing');
  context.say(
    `${mark} ${paint.strong(names.id)}: ${verdict}${findings.length === 0 ? '' : ' that a reader would stumble over'}, on ${count(looks.length, 'view')}`,
  );
  if (findings.length > 0) context.say(`\n${findingsText(byFile(findings), paint, context.io.columns, context.shown(opened.folder))}`);
  context.say(`\n${said}`);
  await reportFindings(context, options.format, opened, findings);
  if (options.format === 'json')
    context.result({
      theme: names.id,
      views: looks.map(({ name, viewport }) => ({ page: name, viewport: viewport.name, picture: `${name}.${viewport.name}.png` })),
      findings: findings.map(findingJson),
    });
  return errors > 0 ? ExitStatus.findings : ExitStatus.ok;
}

function byFile(findings: readonly Finding[]): Finding[] {
  return findings.toSorted((a, b) => (a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line));
}

/** Pages of a stand-in host, in a browser. */
export async function lookAtKept(context: Context, kept: KeptRehearsal, withStates: boolean): Promise<Look[]> {
  const pages = [...kept.pages, ...(withStates ? kept.states : [])].filter(
    ({ isRendered, problem }) => isRendered && problem === undefined,
  );
  if (pages.length === 0) return [];
  const { id } = kept.theme.names;
  const site = { ids: [id], rehearsed: async () => kept, onChange: () => () => undefined };
  const server = await serveLoopback(siteApp(site, { frame: framePage, problem: problemPage }), 0);
  try {
    const seen = pages.map((page) => ({
      name: pageName(page),
      address: `${server.address}/${encodeURIComponent(id)}/plain/${pageName(page)}.html`,
    }));
    return await look(context, seen);
  } finally {
    await server.close();
  }
}

/** Pages of a real site, in a browser. */
export async function lookAtSite(context: Context, { at, pages }: SeenSite): Promise<Look[]> {
  const named = (origin: string): PageToSee[] =>
    pages.map(({ role, place }) => ({ name: role.replaceAll(/[^\w-]/g, '-'), address: new URL(place, `${origin}/`).href }));
  if ('origin' in at) return look(context, named(at.origin));
  const server = await serveLoopback(filesApp(new DiskTree(at.folder)), 0);
  try {
    return await look(context, named(server.address));
  } finally {
    await server.close();
  }
}

async function look(context: Context, pages: readonly PageToSee[]): Promise<Look[]> {
  return context.io.withInterrupt(async (signal) => lookAtPages(pages, { signal, path: browserPath(context.io.env) }));
}

/** The folder for pictures, as it is. @throws RefusedError when something else is in it */
export function picturesIn(context: Context, shots: string): { folder: string; isThere: boolean; before: FileTree } {
  const folder = context.path(shots);
  const isThere = kindOnDisk(folder) === 'folder';
  const before = isThere ? new DiskTree(folder) : MemoryTree.of({});
  const strange = before.entries.find(({ path }) => !OURS.test(path));
  if (strange === undefined && (isThere || kindOnDisk(folder) === undefined)) return { folder, isThere, before };
  throw new RefusedError({
    what: `${context.shown(folder)} holds more than pictures of pages${strange === undefined ? '' : `: ${strange.path}`}`,
    hint: 'name another folder with --shots',
  });
}

interface KeptShots {
  readonly findings: readonly Finding[];
  /** Where the pictures are, for people. */
  readonly said: string;
}

/**
 * Judges what a browser showed, and puts the pictures into their folder.
 * @throws RefusedError when something else is in the folder
 */
export async function keepShots(
  context: Context,
  looks: readonly Look[],
  { chain, shots, accept }: ShotWishes & { readonly chain: Chain },
): Promise<KeptShots> {
  const { folder, isThere, before } = picturesIn(context, shots);
  const { findings, files } = await judgeLooks(looks, { chain, before, isAccepting: accept });
  const after = MemoryTree.of(Object.fromEntries(files));
  const title = 'pictures of pages';
  const touched = new Set([...before.entries, ...after.entries].flatMap(({ path, kind }) => (kind === 'file' ? [path] : [])));
  const plan = isThere
    ? planBetween(title, folder, before, after, touched)
    : { title, root: folder, isNewRoot: true, operations: copyOperations(after) };
  if (plan.operations.length > 0) await context.changing(async (applying) => applyPlan(plan, applying));
  const isFirst = [...before.entries].every(({ path }) => !path.startsWith('accepted/'));
  const kept =
    accept || isFirst ? 'later ones are compared with these' : 'compared with the accepted ones; --accept takes these in their place';
  const { paint } = context;
  return { findings, said: `${paint.name('→')} ${count(looks.length, 'picture')} in ${context.shown(folder)}; ${kept}` };
}
