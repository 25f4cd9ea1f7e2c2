import { join, posix } from 'node:path';
import { buildTree } from '../changes/carry-out.ts';
import type { ApplyOptions } from '../changes/apply.ts';
import { copyOperations } from '../changes/plan.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { isBelowOnDisk, kindOnDisk, readIfThere } from '../files/disk.ts';
import { groupsOfPattern } from '../text/pattern.ts';
import type { Finding } from '../rules/check.ts';
import type { Chain } from '../theme/chain.ts';
import { installedOf, type Installed } from '../theme/layout.ts';
import { pathOfAddress, sourcesOf } from '../theme/serving.ts';
import { findMarkupReferences } from '../theme/references.ts';
import { Logs, openPlace, runToEnd, withServer, withSiteCopy, type Answer, type SiteCopy } from './disk-run.ts';
import type { Site, SitePageContract } from '../configuration/site-schema.ts';

/** A page as the real host made it. */
export interface ShownPage {
  readonly role: string;
  readonly place: string;
  /** What an HTTP server answered; undefined for a file. */
  readonly status: number | undefined;
  /** The template that made it, where the host tells: from the theme’s root, with the theme’s id where it is a parent’s. */
  readonly template: string | undefined;
  /** Local files that the page asked for and got. */
  readonly loaded: readonly string[];
  /** Those of them that are the theme’s own, from its root. */
  readonly own: readonly string[];
  /** What the page says; what differs from one request to the next is not in it. */
  readonly text: string;
  readonly findings: readonly Finding[];
}

/** What a real host made of a theme. */
export interface SiteRehearsal {
  readonly pages: readonly ShownPage[];
  /** What is wrong besides single pages. */
  readonly findings: readonly Finding[];
  /** The last of what the host printed. */
  readonly output: string;
}

/** What is wanted of a rehearsal. */
export interface SiteWishes extends ApplyOptions {
  /** Whether pages are to be compared with others: what changes from one request to the next is found out then. */
  readonly isCompared?: boolean | undefined;
}

/** Installs a theme with its chain into a fresh copy of a site, runs the site’s command or server, and looks at its pages. */
export async function rehearseOnSite(chain: Chain, site: Site, applying: SiteWishes): Promise<SiteRehearsal> {
  return withSiteCopy(site.folder, applying.journal, async (copy) => {
    const installed = installedOf(chain, site.home);
    for (const { theme, home } of installed) {
      // What is in its place in the site is in the copy already, and so are the host's own themes.
      const root = theme.tree.disk?.root;
      const places = [posix.dirname(home), ...site.own].map((place) => join(site.folder, place));
      if (root !== undefined && places.some((place) => isBelowOnDisk(root, place))) continue;
      const folder = join(copy.site, home);
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
          for (const page of wanted) {
            const before = said().length;
            const shown = await servedPage(page, fill, get, judge, applying.isCompared === true);
            // What is logged while a page is made says which template made it, when the page itself does not.
            pages.push(shown.template === undefined ? { ...shown, template: judge.template(said().slice(before)) } : shown);
          }
          const output = said();
          return { pages, findings: [...judge.failures(output), ...(running.isTooLarge() ? [tooMuch()] : [])], output };
        },
      );
    }
    const outcome = await runToEnd(
      (site.command ?? []).map((part) => fill(part)),
      copy,
      limits,
    );
    const pages = wanted.map((page) => filePage(page, fill, copy, judge));
    const told = judge.failures(`${outcome.output}\n${logs.added()}`);
    const last = outcome.output.trim().split('\n').at(-1) ?? '';
    const wrong = outcome.isTimedOut
      ? [ended(`its command ran for more than ${seconds} seconds`)]
      : outcome.isTooLarge
        ? [tooMuch()]
        : outcome.status === 0 || told.length > 0
          ? []
          : [finding('command', `the site’s command failed (exit status ${outcome.status ?? 'none'}): ${last}`)];
    return { pages, findings: [...told, ...wrong], output: outcome.output };
  });
}

/** What is wrong on a real site, as `check` says it; the ids are those of rules that look at nothing else. */
function finding(
  kind: 'command' | 'failure' | 'page' | 'asset',
  message: string,
  at: Partial<Pick<Finding, 'file' | 'line'>> = {},
): Finding {
  return {
    rule: `site/${kind}`,
    severity: 'error',
    file: at.file ?? '',
    line: at.line ?? 1,
    column: 1,
    message,
    code: kind,
    args: {},
    why: '',
    isRefusal: kind === 'command' || kind === 'failure',
    isSeen: true,
    length: 0,
  };
}

type Fill = (text: string, port?: number) => string;

interface Judge {
  failures(text: string): Finding[];
  page(page: SitePageContract, text: string): Finding[];
  /** The template that a text of the host names as the one that made a page. */
  template(text: string): string | undefined;
  /** Which of the files that a page loaded are the theme's own, from its root. */
  own(loaded: readonly string[]): string[];
}

function judgeFor(site: Site, copy: SiteCopy, installed: readonly Installed[], fill: Fill): Judge {
  const { failures } = site;
  const [first] = installed;
  const home = first?.home ?? '';
  const root = `${join(copy.site, home)}/`;
  return {
    template(text) {
      for (const line of text.split('\n')) {
        for (const pattern of site['made-by']) {
          const file = groupsOfPattern(line, pattern, ['file'])?.['file'];
          const template = file === undefined ? undefined : placeOfTemplate(file, copy, installed);
          if (template !== undefined) return template;
        }
      }
      return undefined;
    },
    own(loaded) {
      if (first === undefined) return [];
      const { platform, tree } = first.theme;
      const inTheme = (path: string): boolean =>
        tree.get(path)?.kind === 'file' || sourcesOf(platform, path).some((source) => tree.get(source)?.kind === 'file');
      return loaded.flatMap((each) => {
        const path = each.replace(/^\//, '');
        const at = path.indexOf(`${home}/`);
        const inside = at < 0 ? pathOfAddress(platform, path) : path.slice(at + home.length + 1);
        // Without its place in front, only what is served under another name is told from the site's own files.
        return (at >= 0 || inside !== path) && inTheme(inside) ? [inside] : [];
      });
    },
    failures(text) {
      // What ends with a colon is said in the next line.
      const lines = text.split('\n').map((line, i, all) => (/:\s*$/.test(line) ? `${line.trim()} ${all[i + 1]?.trim() ?? ''}` : line));
      const found = lines.flatMap((line) =>
        failures.flatMap((pattern) => {
          const groups = groupsOfPattern(line, pattern, ['file', 'line']);
          if (groups === undefined) return [];
          const { file = '', line: at = '' } = groups;
          // Of other files than the theme's nobody here can say more than the host did.
          const own = file.startsWith(root) ? file.slice(root.length) : kindOnDisk(join(root, file)) === 'file' ? file : '';
          const number = /^\d+$/.test(at) && own !== '' ? Number(at) : 1;
          return [
            finding('failure', line.trim().replaceAll(root, '').replaceAll(`${copy.site}/`, '').slice(0, 300), { file: own, line: number }),
          ];
        }),
      );
      return found.filter(
        ({ message, file, line }, i) =>
          found.findIndex((each) => each.message === message && each.file === file && each.line === line) === i,
      );
    },
    page({ role, holds, lacks }, text) {
      return [
        ...holds
          .map((each) => fill(each))
          .flatMap((each) => (text.includes(each) ? [] : [finding('page', `the page “${role}” does not hold “${each}”`)])),
        ...lacks
          .map((each) => fill(each))
          .flatMap((each) => (text.includes(each) ? [finding('page', `the page “${role}” holds “${each}”`)] : [])),
      ];
    },
  };
}

/** A template by its path in the theme that it is in: the theme itself, a parent (with its id in front), or the host. */
function placeOfTemplate(file: string, { site }: SiteCopy, installed: readonly Installed[]): string | undefined {
  for (const [i, { theme, home }] of installed.entries()) {
    const root = `${join(site, home)}/`;
    const inside = file.startsWith(root)
      ? file.slice(root.length)
      : file.replace(/^\//, '').startsWith(`${home}/`)
        ? file.replace(/^\//, '').slice(home.length + 1)
        : i === 0 && theme.tree.get(file)?.kind === 'file'
          ? file
          : undefined;
    if (inside !== undefined) return i === 0 ? inside : `${theme.names.id}: ${inside}`;
  }
  return file === '' ? undefined : file.replace(`${site}/`, '');
}

function filePage(page: SitePageContract, fill: Fill, copy: SiteCopy, judge: Judge): ShownPage {
  const file = fill(page.file ?? 'index.html');
  const text = readIfThere(join(copy.out, file))?.toString('utf8');
  const shown = { role: page.role, place: file, status: undefined };
  if (text === undefined)
    return { ...shown, ...NOTHING, findings: [finding('page', `the page “${page.role}” was not made: there is no ${file}`)] };
  const made = new DiskTree(copy.out);
  const asked = addressesIn(text).map((address) => posix.normalize(posix.join(posix.dirname(file), address)));
  const isThere = (path: string): boolean => {
    const entry = path === '.' ? 'folder' : made.get(path.replace(/\/$/, ''))?.kind;
    // A folder answers with its first page.
    return entry === 'file' || (entry === 'folder' && made.get(posix.join(path, 'index.html'))?.kind === 'file');
  };
  const loaded = asked.filter((path) => made.get(path)?.kind === 'file');
  const missing = asked.filter((path) => !isThere(path));
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

async function servedPage(
  page: SitePageContract,
  fill: Fill,
  get: (address: string) => Promise<Answer | undefined>,
  judge: Judge,
  isCompared: boolean,
): Promise<ShownPage> {
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
  const wrong = status >= 300 ? [finding('page', `the page “${page.role}” (${address}) was answered with ${status}`)] : [];
  const loaded: string[] = [];
  const assets: Finding[] = [];
  for (const each of addressesIn(text)) {
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

/** The local addresses that a page loads, each once. */
function addressesIn(html: string): string[] {
  const local = findMarkupReferences(html)
    .map(({ target }) => target.replace(/[?#].*$/s, ''))
    .filter((target) => target !== '' && !/^(?:[a-z][a-z0-9+.-]*:|\/\/)/i.test(target));
  return [...new Set(local)];
}
