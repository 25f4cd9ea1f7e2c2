import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll } from 'vitest';
import { writeFiles, type Place } from './trees.ts';

/** Debian's: the one that its packages of the builder belong to. */
const PYTHON = '/usr/bin/python3';

/** What the documentation builder made of a site with a theme. */
export interface Built {
  readonly isBuilt: boolean;
  /** What it said, without the places on this machine. */
  readonly said: string;
  /** The first page. */
  readonly page: string;
  /** Files that came out of the theme's static/ and its parents'. */
  readonly assets: readonly string[];
  /** Which of the files that the page asks for are not there. */
  readonly missing: readonly string[];
}

const PAGE = `Cierzo
======

The hut of Cierzo has forty beds.

Way
---

.. code-block:: python

   print("Lumbre")
`;

/** A site of the hut league, whose themes are in _themes. */
export function prepareSite(place: Place): void {
  mkdirSync(place.path('site/_themes'), { recursive: true });
  writeFiles(place.path('site'), { 'index.rst': PAGE });
  configure(place, 'basic');
}

function configure(place: Place, theme: string): void {
  const conf = [
    `project = 'Albar Hut League'`,
    `copyright = 'Albar Hut League'`,
    `html_theme_path = ['_themes']`,
    `html_theme = '${theme}'`,
  ];
  writeFiles(place.path('site'), { 'conf.py': `${conf.join('\n')}\n` });
}

/** Installs Python packages from files into a folder, from which the builder then takes themes. */
export function installWheels(place: Place, folder: string, wheels: readonly string[]): string {
  const options = [
    '--quiet',
    '--no-index',
    '--no-deps',
    '--disable-pip-version-check',
    '--root-user-action=ignore',
    '--target',
    place.path(folder),
  ];
  const { stderr } = spawnSync(PYTHON, ['-m', 'pip', 'install', ...options, ...wheels], { encoding: 'utf8' });
  return stderr;
}

/** Builds the site with a theme; `packages` is a folder with Python packages, for themes that are there and not in the site. */
export type Build = (place: Place, theme: string, packages?: string) => Built;

/** The real builder, started once. */
export interface Builder {
  readonly build: Build;
  /** A program that takes what the builder's own takes, and has it built. */
  readonly program: string;
  readonly isReady: Promise<unknown>;
}

/** Starts the real builder, which then builds each site in a fork of its own: to load it takes as long as to build. */
export function startBuilder(place: Place): Builder {
  const [socket, program, script] = [place.path('socket'), place.path('sphinx-build'), join(import.meta.dirname, 'sphinx-builder.py')];
  writeFileSync(program, `#!/bin/sh\nexec ${PYTHON} -Ss "${script}" "${socket}" "$@"\n`, { mode: 0o755 });
  const builder = spawn(PYTHON, [script, socket], { stdio: ['ignore', 'pipe', 'inherit'] });
  afterAll(() => void builder.kill());
  return {
    program,
    isReady: once(builder.stdout, 'data'),
    build(site, theme, packages) {
      configure(site, theme);
      const out = site.path('built', theme);
      const env = { ...process.env, PYTHONPATH: packages === undefined ? undefined : site.path(packages) };
      const ended = spawnSync(program, ['-q', '-E', '-b', 'html', '.', out], { cwd: site.path('site'), env, encoding: 'utf8' });
      return judge(site, out, ended);
    },
  };
}

/** What came of a build. */
function judge(place: Place, out: string, { status, stderr }: { status: number | null; stderr: string }): Built {
  const page = existsSync(`${out}/index.html`) ? readFileSync(`${out}/index.html`, 'utf8') : '';
  const assets = existsSync(`${out}/_static`) ? (readdirSync(`${out}/_static`, { recursive: true }) as string[]).sort() : [];
  const asked = [...page.matchAll(/(?:src|href)="(_static\/[^"?#]+)/g)].map(([, target = '']) => target);
  const missing = [...new Set(asked)].filter((target) => !existsSync(`${out}/${target}`));
  const said = stderr
    .replaceAll(place.folder, '')
    .replace(/\/tmp\/[^\s']+/g, 'LOG')
    .trim();
  return { isBuilt: status === 0 && page !== '', said, page, assets, missing };
}
