import { isAbsolute, join } from 'node:path';
import { isInFolder } from '../files/file-tree.ts';
import { kindOnDisk } from '../files/disk.ts';
import { isBelow, pathFrom, withoutFolder } from '../files/paths.ts';
import { groupsOfPattern } from '../text/pattern.ts';
import type { Finding } from '../rules/engine/check.ts';
import { type Installed } from '../theme/layout.ts';
import { pathOfAddress, sourcesOf } from '../contents/serving.ts';
import { findMarkupReferences } from '../contents/references.ts';
import { templatesOf } from '../contents/templates.ts';
import type { Theme } from '../theme/theme.ts';
import type { SiteCopy } from './disk-site.ts';
import type { Site, SitePageContract } from '../configuration/site-schema.ts';

/** The problems on a real site, worded as `check` words them; the ids are those of rules that look at nothing else. */
export function finding(
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

/** Puts names, and a port, into what a site’s description says. */
export type Fill = (text: string, port?: number) => string;

/** What tells mistakes on pages and in messages of a host. */
export interface Judge {
  failures(text: string): Finding[];
  page(page: SitePageContract, text: string): Finding[];
  /** The template that a text of the host names as the one that made a page. */
  template(text: string): string | undefined;
  /** Which of the files that a page loaded are the theme's own, from its root. */
  own(loaded: readonly string[]): string[];
}

export function judgeFor(site: Site, copy: SiteCopy, installed: readonly Installed[], fill: Fill): Judge {
  const { failures } = site;
  const [first] = installed;
  const home = first?.home ?? '';
  const root = join(copy.site, home);
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
        // Without its place in front it is the theme's where it is served under another name, or the site itself has no such file.
        const isOther = at < 0 && inside === path && kindOnDisk(join(site.folder, path)) === 'file';
        return !isOther && inTheme(inside) ? [inside] : [];
      });
    },
    failures(text) {
      // A line that ends with a colon is explained in the next one.
      const lines = text.split('\n').map((line, i, all) => (/:\s*$/.test(line) ? `${line.trim()} ${all[i + 1]?.trim() ?? ''}` : line));
      const found = lines.flatMap((line) =>
        failures.flatMap((pattern) => {
          const groups = groupsOfPattern(line, pattern, ['file', 'line']);
          if (groups === undefined) return [];
          const { file = '', line: at = '' } = groups;
          // Of other files than the theme's nobody here can say more than the host did.
          const own = isPathBelow(file, root) ? pathFrom(root, file) : kindOnDisk(join(root, file)) === 'file' ? file : '';
          const number = /^\d+$/.test(at) && own !== '' ? Number(at) : 1;
          const place = own === '' ? (askedAt(first?.theme, line) ?? { file: own, line: 1 }) : { file: own, line: number };
          return [finding('failure', withoutFolder(withoutFolder(line.trim(), root), copy.site).slice(0, 300), place)];
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

/** Where a theme's templates ask for a template that a message of the host names, and nothing else of: `TemplateNotFound('beds.html')`. */
function askedAt(theme: Theme | undefined, message: string): { file: string; line: number } | undefined {
  const named = new Set([...message.matchAll(/["'‘’“”]([^"'‘’“”]{1,200})["'‘’“”]/g)].map(([, name = '']) => name));
  if (theme === undefined || named.size === 0) return undefined;
  for (const { path, source, template } of templatesOf(theme)) {
    const asking = [...template.includes, ...template.extends].find(({ name }) => named.has(name));
    if (asking !== undefined) return { file: path, line: source.positionAt(asking.nameStart).line };
  }
  return undefined;
}

/** Whether what a host says is the absolute path of a file in a folder. */
function isPathBelow(file: string, folder: string): boolean {
  return isAbsolute(file) && isBelow(file, folder);
}

/** A template by its path in the theme that it is in: the theme itself, a parent (with its id in front), or the host. */
function placeOfTemplate(file: string, { site }: SiteCopy, installed: readonly Installed[]): string | undefined {
  for (const [i, { theme, home }] of installed.entries()) {
    const root = join(site, home);
    const inside = isPathBelow(file, root)
      ? pathFrom(root, file)
      : isInFolder(file.replace(/^\//, ''), home)
        ? file.replace(/^\//, '').slice(home.length + 1)
        : i === 0 && theme.tree.get(file)?.kind === 'file'
          ? file
          : undefined;
    if (inside !== undefined) return i === 0 ? inside : `${theme.names.id}: ${inside}`;
  }
  return file === '' ? undefined : isPathBelow(file, site) ? pathFrom(site, file) : file;
}

/**
 * The addresses of the site itself that a page loads, each once.
 * @param bases absolute addresses by which pages call the site: below one of these, an address starts from the site's root
 */
export function addressesIn(html: string, bases: readonly string[]): string[] {
  const roots = bases.map((base) => `${base.replace(/^https?:/i, '').replace(/\/$/, '')}/`);
  const local = findMarkupReferences(html)
    .map(({ target }) => {
      const address = target.replace(/[?#].*$/s, '');
      const withoutScheme = address.replace(/^https?:/i, '');
      const root = roots.find((each) => withoutScheme.startsWith(each));
      return root === undefined ? address : `/${withoutScheme.slice(root.length).replace(/^\/+/, '')}`;
    })
    .filter((target) => target !== '' && !/^(?:[a-z][a-z0-9+.-]*:|\/\/)/i.test(target));
  return [...new Set(local)];
}
