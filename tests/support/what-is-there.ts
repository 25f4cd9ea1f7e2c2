import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import type { Place } from './trees.ts';

/** What a host made of a site with a theme. */
export interface Built {
  readonly isBuilt: boolean;
  /** What it said, without the places on this machine. */
  readonly said: string;
  /** The first page. */
  readonly page: string;
  /** Files that came out of the theme and its parents. */
  readonly assets: readonly string[];
  /** Which of the files that the page asks for are not there. */
  readonly missing: readonly string[];
}

/**
 * What came of a build.
 * @param below where the theme's files lie in what was built: `_static/`, or nothing
 */
export function whatIsThere(
  place: Place,
  out: string,
  { status, stderr }: { status: number | null; stderr: string },
  below: string,
): Built {
  const page = existsSync(`${out}/index.html`) ? readFileSync(`${out}/index.html`, 'utf8') : '';
  const files = `${out}/${below}`;
  const assets = existsSync(files) ? (readdirSync(files, { recursive: true }) as string[]).sort() : [];
  const asked = [...page.matchAll(/(?:src|href)="([^"]*)"/g)].map(([, target = '']) => target.replace(/[?#].*$/, ''));
  const local = asked.filter((target) => target !== '' && target.startsWith(below) && !/^\w+:|^\/\//.test(target));
  const isThere = (target: string): boolean => existsSync(join(out, target));
  const missing = [...new Set(local)].filter((target) => !isThere(target));
  const said = stripVTControlCharacters(stderr)
    .replaceAll(place.folder, '')
    .replace(/\/tmp\/[^\s']+/g, 'LOG')
    .trim();
  return { isBuilt: status === 0 && page !== '', said, page, assets, missing };
}
