import { join, posix } from 'node:path';
import { buildTree } from '../changes/carry-out.ts';
import type { ApplyOptions } from '../changes/apply.ts';
import { copyOperations } from '../changes/plan.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { isSameFolder, kindOnDisk, isBelowOnDisk, readIfThere } from '../files/disk.ts';
import type { Finding } from '../rules/engine/check.ts';
import type { Chain } from '../theme/chain.ts';
import { isOneFile } from '../theme/place.ts';
import { installedOf } from '../theme/layout.ts';
import { runToEnd, withServer, type Answer } from './disk-run.ts';
import { Logs, openPlace, withSiteCopy, type SiteCopy } from './disk-site.ts';
import type { Site, SitePageContract } from '../configuration/site-schema.ts';
import { lintTheme, prepareSite } from './site-steps.ts';
import { addressesIn, finding, judgeFor, type Fill, type Judge } from './judge-page.ts';

/** A page as the real host made it. */
export interface ShownPage {
  readonly role: string;
  readonly place: string;
  /** The answer of an HTTP server; undefined for a file. */
  readonly status: number | undefined;
  /** The template that made it, where the host tells: from the theme’s root, with the theme’s id where it is a parent’s. */
  readonly template: string | undefined;
  /** Local files that the page asked for and got. */
  readonly loaded: readonly string[];
  /** Those of them that are the theme’s own, from its root. */
  readonly own: readonly string[];
  /** The text of the page, without whatever differs from one request to the next. */
  readonly text: string;
  readonly findings: readonly Finding[];
}

/** A real host's view of a theme. */
export interface SiteRehearsal {
  readonly pages: readonly ShownPage[];
  /** Problems besides those of single pages. */
  readonly findings: readonly Finding[];
  /** The last of what the host printed. */
  readonly output: string;
}

/** The wishes for a rehearsal. */
export interface SiteWishes extends ApplyOptions {
  /** Whether pages are to be compared with others: what changes from one request to the next is found out then. */
  readonly isCompared?: boolean | undefined;
  /** Called while the site’s pages can still be seen: to look at them with a browser. */
  readonly visit?: ((seen: SeenSite) => Promise<void>) | undefined;
}

/** Where the pages of a site can be seen. */
export interface SeenSite {
  /** A running server, or the folder with the pages. */
  readonly at: { readonly origin: string } | { readonly folder: string };
  /** Each page by its role, and its address or its file. */
  readonly pages: readonly { readonly role: string; readonly place: string }[];
}

/** Installs a theme with its chain into a fresh copy of a site, runs the site’s command or server, and looks at its pages. */
export async function rehearseOnSite(chain: Chain, site: Site, applying: SiteWishes): Promise<SiteRehearsal> {
  return withSiteCopy(site.folder, applying.journal, async (copy) => {
    const installed = installedOf(chain, site.home);
    for (const { theme, home } of installed) {
      // The theme that was in its place is in the copy already, and so are the host's own themes.
      const own = theme.place;
      const places = [posix.dirname(home), ...site.own].map((place) => join(site.folder, place));
      if (own !== undefined && places.some((place) => isBelowOnDisk(own, place))) continue;
      // It lies there by a link, which the copy has as well; so what it links to itself is where it was.
      const there = join(site.folder, home);
      if (own !== undefined && kindOnDisk(there) !== undefined && isSameFolder(own, there)) continue;
      const folder = join(copy.site, isOneFile(theme.platform) ? posix.dirname(home) : home);
      await openPlace(copy, home);
      await applying.journal.writer.makeFolders(folder);
      await buildTree(copyOperations(theme.tree), folder, applying.journal.writer, { signal: applying.signal });
    }
    const [own] = installed;
    const names = {
      id: own?.theme.names.id ?? '',
      vendor: own?.theme.names.vendor ?? '',
      home: own?.home ?? '',
      site: copy.site,
      out: copy.out,
    };
    const fill = (text: string, port?: number): string =>
      text.replace(/\{(id|vendor|home|site|out|port)\}/g, (_whole, name: string) =>
        name === 'port' ? String(port) : names[name as keyof typeof names],
      );
    const judge = judgeFor(site, copy, installed, fill);
    // Where none is named the front page is looked at: nothing works that nobody saw.
    const wanted = site.pages.length > 0 ? site.pages : [{ role: 'front', holds: [], lacks: [] }];
    const logs = new Logs(copy, site.logs);
    const { seconds, memory } = site;
    const limits = { seconds, memory, signal: applying.signal };
    const steps = { site, copy, limits, fill, judge };
    const unready = await prepareSite(steps);
    if (unready.length > 0) return { pages: [], findings: unready, output: '' };
    const linted = own === undefined ? [] : await lintTheme(steps, own);
    const ended = (why: string): Finding => finding('command', `the site was ended: ${why}`);
    const tooMuch = (): Finding => ended(`its processes took more than ${memory} MiB of memory`);
    if (site.server !== undefined) {
      const command = site.server;
      return withServer(
        (port) => command.map((part) => fill(part, port)),
        copy,
        limits,
        async (running) => {
          const get = async (address: string) => running.get(address);
          const pages: ShownPage[] = [];
          const said = (): string => `${running.output()}\n${logs.added()}`;
          const local = running.origin.replace('127.0.0.1', 'localhost');
          const serving = { fill, judge, get, bases: [running.origin, local, ...site['base-urls']] };
          for (const page of wanted) {
            const before = said().length;
            const shown = await servedPage(page, serving, applying.isCompared === true);
            // The host's log while a page is made names the template, when the page itself does not.
            pages.push(shown.template === undefined ? { ...shown, template: judge.template(said().slice(before)) } : shown);
          }
          await applying.visit?.({ at: { origin: running.origin }, pages });
          const output = said();
          return { pages, findings: [...linted, ...judge.failures(output), ...(running.isTooLarge() ? [tooMuch()] : [])], output };
        },
      );
    }
    const outcome = await runToEnd(
      (site.command ?? []).map((part) => fill(part)),
      copy,
      limits,
    );
    const pages = wanted.map((page) => filePage(page, { fill, judge, copy, bases: site['base-urls'] }));
    await applying.visit?.({ at: { folder: copy.out }, pages: pages.filter(({ text }) => text !== '') });
    const failures = judge.failures(`${outcome.output}\n${logs.added()}`);
    const last = outcome.output.trim().split('\n').at(-1) ?? '';
    const wrong = outcome.isTimedOut
      ? [ended(`its command ran for more than ${seconds} seconds`)]
      : outcome.isTooLarge
        ? [tooMuch()]
        : outcome.status === 0 || failures.length > 0
          ? []
          : [finding('command', `the site’s command failed (exit status ${outcome.status ?? 'none'}): ${last}`)];
    return { pages, findings: [...linted, ...failures, ...wrong], output: outcome.output };
  });
}

/** The surroundings of a page in a file. */
interface Made extends Pick<Serving, 'fill' | 'judge' | 'bases'> {
  readonly copy: SiteCopy;
}

function filePage(page: SitePageContract, { fill, judge, bases, copy }: Made): ShownPage {
  const file = fill(page.file ?? 'index.html');
  const text = readIfThere(join(copy.out, file))?.toString('utf8');
  const shown = { role: page.role, place: file, status: undefined };
  if (text === undefined)
    return { ...shown, ...NOTHING, findings: [finding('page', `the page “${page.role}” was not made: there is no ${file}`)] };
  const made = new DiskTree(copy.out);
  const addresses = addressesIn(text, bases).map((address) =>
    // From the root of the site, or from the page.
    posix.normalize(address.startsWith('/') ? address.slice(1) || '.' : posix.join(posix.dirname(file), address)),
  );
  const isThere = (path: string): boolean => {
    const entry = path === '.' ? 'folder' : made.get(path.replace(/\/$/, ''))?.kind;
    // A folder answers with its first page.
    return entry === 'file' || (entry === 'folder' && made.get(posix.join(path, 'index.html'))?.kind === 'file');
  };
  const loaded = addresses.filter((path) => made.get(path)?.kind === 'file');
  const missing = addresses.filter((path) => !isThere(path));
  const assets = missing.map((path) => finding('asset', `the page “${page.role}” asks for ${path}, which is not there`));
  return {
    ...shown,
    template: judge.template(text),
    loaded,
    own: judge.own(loaded),
    text,
    findings: [...judge.failures(text), ...judge.page(page, text), ...assets],
  };
}

/** Of a page that is not there. */
const NOTHING = { template: undefined, loaded: [], own: [], text: '' };

/** The surroundings of a page of a server. */
interface Serving {
  readonly fill: Fill;
  readonly judge: Judge;
  readonly get: (address: string) => Promise<Answer | undefined>;
  /** Absolute addresses of the server. */
  readonly bases: readonly string[];
}

async function servedPage(page: SitePageContract, { fill, judge, get, bases }: Serving, isCompared: boolean): Promise<ShownPage> {
  const address = fill(page.address ?? '/');
  const answer = await get(address);
  const shown = { role: page.role, place: address, status: answer?.status };
  if (answer === undefined)
    return {
      ...shown,
      ...NOTHING,
      findings: [finding('page', `the page “${page.role}” (${address}) was not answered; the host stops, or never ends`)],
    };
  const { status, text } = answer;
  const isRight = page.status === undefined ? status < 300 : status === page.status;
  const instead = page.status === undefined ? '' : `, and not with ${page.status}`;
  const wrong = isRight ? [] : [finding('page', `the page “${page.role}” (${address}) was answered with ${status}${instead}`)];
  const loaded: string[] = [];
  const assets: Finding[] = [];
  for (const each of addressesIn(text, bases)) {
    const path = new URL(each, `http://127.0.0.1${address}`);
    const asset = await get(path.pathname + path.search);
    if (asset !== undefined && asset.status < 300) loaded.push(path.pathname);
    else assets.push(finding('asset', `the page “${page.role}” asks for ${path.pathname}, which was ${answered(asset)}`));
  }
  return {
    ...shown,
    template: judge.template(text),
    loaded,
    own: judge.own(loaded),
    text: isCompared ? settledText(text, (await get(address))?.text ?? text) : text,
    findings: [...wrong, ...judge.failures(text), ...judge.page(page, text), ...assets],
  };
}

/** What two answers of one page share, line by line: tokens and times are different in each. */
function settledText(first: string, second: string): string {
  const other = second.split('\n');
  const lines = first.split('\n');
  return lines.length === other.length ? lines.map((line, i) => (line === other[i] ? line : '…')).join('\n') : first;
}

function answered(answer: Answer | undefined): string {
  return answer === undefined ? 'not answered' : `answered with ${answer.status}`;
}
