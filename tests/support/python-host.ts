import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll } from 'vitest';
import type { Place } from './trees.ts';

/** Debian's: the one that its packages of the builders belong to. */
export const PYTHON = '/usr/bin/python3';

/** What a documentation builder made of a site with a theme. */
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

/** A real builder, started once. */
export interface PythonHost {
  /** A program that takes what the builder's own takes, and has it built. */
  readonly program: string;
  readonly isReady: Promise<unknown>;
}

/** Starts a builder, which then builds each site in a fork of its own: to load it takes as long as to build. */
export function startPythonHost(name: 'sphinx' | 'mkdocs', place: Place): PythonHost {
  const [socket, program, script] = [place.path('socket'), place.path(name), join(import.meta.dirname, 'host-builder.py')];
  writeFileSync(program, `#!/bin/sh\nexec ${PYTHON} -Ss "${script}" ask "${socket}" "$@"\n`, { mode: 0o755 });
  const builder = spawn(PYTHON, [script, name, socket], { stdio: ['ignore', 'pipe', 'inherit'] });
  afterAll(() => void builder.kill());
  return { program, isReady: once(builder.stdout, 'data') };
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
  const said = stderr
    .replaceAll(place.folder, '')
    .replace(/\/tmp\/[^\s']+/g, 'LOG')
    .trim();
  return { isBuilt: status === 0 && page !== '', said, page, assets, missing };
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
