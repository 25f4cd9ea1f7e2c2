import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { startPythonHost, type PythonHost } from './python-host.ts';
import { whatIsThere, type Built } from './what-is-there.ts';
import { writeFiles, type Place } from './trees.ts';

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

/** Builds the site with a theme; `packages` is a folder with Python packages, for themes that are there and not in the site. */
export type Build = (place: Place, theme: string, packages?: string) => Built;

/** The real builder, started once. */
export interface Builder extends PythonHost {
  readonly build: Build;
}

/** Starts the real builder, which then builds each site in a fork of its own. */
export function startBuilder(place: Place): Builder {
  const host = startPythonHost('sphinx', place);
  return {
    ...host,
    build(site, theme, packages) {
      configure(site, theme);
      const out = site.path('built', theme);
      const env = { ...process.env, PYTHONPATH: packages === undefined ? undefined : site.path(packages) };
      const ended = spawnSync(host.program, ['-q', '-E', '-b', 'html', '.', out], { cwd: site.path('site'), env, encoding: 'utf8' });
      return whatIsThere(site, out, ended, '_static/');
    },
  };
}
