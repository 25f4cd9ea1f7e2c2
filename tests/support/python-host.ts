import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll } from 'vitest';
import type { Place } from './trees.ts';

/** Debian's: the one that its packages of the builders belong to. */
export const PYTHON = '/usr/bin/python3';

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
