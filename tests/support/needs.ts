import { spawnSync, type StdioOptions, type SpawnSyncOptionsWithStringEncoding, type SpawnSyncReturns } from 'node:child_process';
import { symlinkSync } from 'node:fs';
import { getCurrentTest } from 'vitest/suite';
import { has, isHidden, NEEDS, type NeedName } from '../../scripts/needs.mjs';

/**
 * Whether a test is to be skipped because something is not on this machine. Where a change is to land (CI), nothing is skipped but
 * what PIONERO_WITHOUT hides: a test then fails by what it misses.
 */
export function lacks(...names: readonly NeedName[]): boolean {
  return names.some((name) => (process.env['CI'] === undefined ? !has(name) : isHidden(name)));
}

/** Skips the test that is running when something that it needs is not on this machine. */
export function need(...names: readonly NeedName[]): void {
  const first = names.find((name) => lacks(name));
  if (first !== undefined) getCurrentTest()?.context.skip(`there is no ${NEEDS[first].what}`);
}

/** Makes a symbolic link; skips the test where there are none. */
export function makeSymlink(target: string, path: string): void {
  need('links');
  symlinkSync(target, path);
}

/** Which entry of the table a program belongs to. */
const OF_TOOL: Readonly<Record<string, NeedName>> = {
  nvim: 'neovim',
  ...{ munged: 'cluster', slurmctld: 'cluster', slurmd: 'cluster', scontrol: 'cluster', squeue: 'cluster' },
  sh: 'shell',
  ...{ bash: 'shell', script: 'shell', git: 'git', make: 'make', pgrep: 'processes', python3: 'python' },
  ...{ '7z': 'archivers', bsdtar: 'archivers', tar: 'archivers', unzip: 'archivers', zip: 'archivers' },
};

/** Runs a program that is not everywhere, and waits for it; skips the test where it is not. */
export function runTool(
  program: string,
  args: readonly string[],
  options: Omit<SpawnSyncOptionsWithStringEncoding, 'encoding'> = {},
): SpawnSyncReturns<string> {
  const name = OF_TOOL[program];
  if (name === undefined) throw new TypeError(`${program} is in no table of what tests need`);
  need(name);
  // A shell whose input is a socket takes itself for a remote one, and reads what its user has set up.
  const stdio: StdioOptions = [options.input === undefined ? 'ignore' : 'pipe', 'pipe', 'pipe'];
  return spawnSync(program, args, { maxBuffer: 1 << 28, stdio, ...options, encoding: 'utf8' });
}
