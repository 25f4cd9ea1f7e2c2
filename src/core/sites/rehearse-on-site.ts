import { join, posix } from 'node:path';
import { buildTree } from '../changes/carry-out.ts';
import type { ApplyOptions } from '../changes/apply.ts';
import { copyOperations } from '../changes/plan.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { kindOnDisk, readIfThere } from '../files/disk.ts';
import { groupsOfPattern } from '../text/pattern.ts';
import type { Finding } from '../rules/check.ts';
import type { Chain } from '../theme/chain.ts';
import { installedOf } from '../theme/layout.ts';
import { findMarkupReferences } from '../theme/references.ts';
import { Logs, openPlace, runToEnd, withServer, withSiteCopy, type Answer, type SiteCopy } from './disk-run.ts';
import type { Site, SitePageContract } from '../configuration/site-schema.ts';

/** A page as the real host made it. */
export interface ShownPage {
  readonly role: string;
  readonly place: string;
  /** What an HTTP server answered; undefined for a file. */
  readonly status: number | undefined;
  /** Local files that the page asked for and got. */
  readonly loaded: readonly string[];
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

/** Installs a theme with its chain into a fresh copy of a site, runs the site’s command or server, and looks at its pages. */
export async function rehearseOnSite(chain: Chain, site: Site, applying: ApplyOptions): Promise<SiteRehearsal> {
  return withSiteCopy(site.folder, applying.journal, async (copy) => {
    const installed = installedOf(chain);
    for (const { theme, home } of installed) {
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
    const judge = judgeFor(site, copy, names.home, fill);
    // Where none is named the front page is looked at: nothing works that nobody saw.
    const wanted = site.pages.length > 0 ? site.pages : [{ role: 'front', holds: [], lacks: [] }];
    const logs = new Logs(copy, site.logs);
    const limits = { seconds: site.seconds, signal: applying.signal };
    if (site.server !== undefined) {
      const command = site.server;
      return withServer(
        (port) => command.map((part) => fill(part, port)),
        copy,
        limits,
        async (running) => {
          const get = async (address: string) => running.get(address);
          const pages: ShownPage[] = [];
          for (const page of wanted) pages.push(await servedPage(page, fill, get, judge));
          const output = `${running.output()}\n${logs.added()}`;
          return { pages, findings: judge.failures(output), output };
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
    const ended = outcome.isTimedOut
      ? [finding('command', `the site’s command was ended after ${site.seconds} seconds`)]
      : outcome.status === 0 || told.length > 0
        ? []
        : [finding('command', `the site’s command failed (exit status ${outcome.status ?? 'none'}): ${last}`)];
    return { pages, findings: [...told, ...ended], output: outcome.output };
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
}

function judgeFor({ failures }: Site, copy: SiteCopy, home: string, fill: Fill): Judge {
  const root = `${join(copy.site, home)}/`;
  return {
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

function filePage(page: SitePageContract, fill: Fill, copy: SiteCopy, judge: Judge): ShownPage {
  const file = fill(page.file ?? 'index.html');
  const text = readIfThere(join(copy.out, file))?.toString('utf8');
  const shown = { role: page.role, place: file, status: undefined };
  if (text === undefined)
    return { ...shown, loaded: [], findings: [finding('page', `the page “${page.role}” was not made: there is no ${file}`)] };
  const made = new DiskTree(copy.out);
  const asked = addressesIn(text).map((address) => posix.normalize(posix.join(posix.dirname(file), address)));
  const loaded = asked.filter((path) => made.get(path)?.kind === 'file');
  const missing = asked.filter((path) => !loaded.includes(path));
  const assets = missing.map((path) => finding('asset', `the page “${page.role}” asks for ${path}, which is not there`));
  return { ...shown, loaded, findings: [...judge.failures(text), ...judge.page(page, text), ...assets] };
}

async function servedPage(
  page: SitePageContract,
  fill: Fill,
  get: (address: string) => Promise<Answer | undefined>,
  judge: Judge,
): Promise<ShownPage> {
  const address = fill(page.address ?? '/');
  const answer = await get(address);
  const shown = { role: page.role, place: address, status: answer?.status };
  if (answer === undefined)
    return {
      ...shown,
      loaded: [],
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
    loaded,
    findings: [...wrong, ...judge.failures(text), ...judge.page(page, text), ...assets],
  };
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
