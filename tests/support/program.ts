import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { onTestFinished } from 'vitest';
import { runTool } from './needs.ts';
import type { Io } from '../../src/cli/io.ts';

export const PROGRAM = join(import.meta.dirname, '../../dist/pionero.cjs');
export const DEMO_SHELVES = join(import.meta.dirname, '../../demo/shelves');
export const DEMO_SHELF = join(import.meta.dirname, '../../demo/shelf');

/** Runs a command line: of the sources, so that a change is seen at once; with PIONERO_BUILT=1, of the program as it was built. */
const { run } =
  process.env['PIONERO_BUILT'] === '1'
    ? (createRequire(import.meta.url)('../../dist/program.cjs') as typeof import('../../src/cli/run.ts'))
    : await import('../../src/cli/run.ts');

export interface Outcome {
  readonly status: number | null;
  readonly stdout: string;
  readonly stderr: string;
}

/** A temporary folder to work in, removed after the test, or when else it is told; the journal of what is run there is its own. */
export class Workplace {
  readonly folder: string;

  constructor(afterwards: (remove: () => void) => void = onTestFinished) {
    this.folder = mkdtempSync(join(tmpdir(), 'pionero-test-'));
    // On some systems a folder stays for a moment after who worked in it has ended.
    afterwards(() => rmSync(this.folder, { recursive: true, force: true, maxRetries: 10 }));
  }

  /** Copies the demo shelf into it. */
  withShelf(): this {
    cpSync(DEMO_SHELF, this.path('demo/shelf'), { recursive: true });
    return this;
  }

  path(...parts: string[]): string {
    return join(this.folder, ...parts);
  }

  get env(): NodeJS.ProcessEnv {
    return {
      ...process.env,
      XDG_STATE_HOME: this.path('.state'),
      XDG_CONFIG_HOME: this.path('.config'),
      XDG_CACHE_HOME: this.path('.cache'),
      // Else every first command of a place would compile the program anew, and leave more in it than what it did.
      NODE_DISABLE_COMPILE_CACHE: '1',
      NODE_OPTIONS: [process.env['NODE_OPTIONS'] ?? '', `--require=${join(import.meta.dirname, 'compiled.cjs')}`].join(' ').trim(),
      NO_COLOR: '1',
      FORCE_COLOR: undefined,
    };
  }

  /** Runs a command line here, in this process. */
  async run(...argv: string[]): Promise<Outcome> {
    return this.runThere('.', {}, ...argv);
  }

  async runIn(folder: string, ...argv: string[]): Promise<Outcome> {
    return this.runThere(folder, {}, ...argv);
  }

  /** Runs a command line here, in this process, with more in its environment. */
  async runUnder(env: Record<string, string>, ...argv: string[]): Promise<Outcome> {
    return this.runThere('.', env, ...argv);
  }

  async runThere(folder: string, env: Record<string, string>, ...argv: string[]): Promise<Outcome> {
    const out = { stdout: '', stderr: '' };
    const status = await run(argv, { ...this.io(folder, out), env: { ...this.env, ...env } }, '0.0.0');
    return { status, ...out };
  }

  /** Runs a command line here, in this process, that goes on until it is interrupted; what is printed is added to `out`. */
  async runUntil(interrupt: AbortSignal, out: { stdout: string; stderr: string }, ...argv: string[]): Promise<number> {
    return run(argv, { ...this.io('.', out), withInterrupt: async (work) => work(interrupt) }, '0.0.0');
  }

  /** Surroundings in which nobody answers questions; what is printed is added to `out`. */
  io(folder = '.', out = { stdout: '', stderr: '' }): Io {
    const stream = (name: keyof typeof out) => ({ write: (text: string) => void (out[name] += text) });
    return {
      stdout: stream('stdout'),
      stderr: stream('stderr'),
      folder: this.path(folder),
      env: this.env,
      isInteractive: false,
      hasColor: false,
      hasControls: false,
      isPiped: false,
      isErrorTerminal: false,
      outputFailure: async () => undefined,
      columns: 100,
      now: () => Date.now(),
      withInterrupt: async (work) => work(new AbortController().signal),
    };
  }

  /** Starts the built program here: for what a process of its own does. */
  startAndWait(...argv: string[]): Outcome {
    return this.startIn('.', ...argv);
  }

  startIn(folder: string, ...argv: string[]): Outcome {
    return spawnSync(process.execPath, [PROGRAM, ...argv], { cwd: this.path(folder), env: this.env, encoding: 'utf8', maxBuffer: 1 << 26 });
  }

  /** Runs the built program here with more in its environment. */
  runWith(env: NodeJS.ProcessEnv, ...argv: string[]): Outcome {
    return spawnSync(process.execPath, [PROGRAM, ...argv], { cwd: this.folder, env: { ...this.env, ...env }, encoding: 'utf8' });
  }

  /** Runs the built program in a folder and measures it: memory at its most, and processor time. */
  measureIn(folder: string, ...argv: string[]): Outcome & { mebibytes: number; seconds: number } {
    const file = this.path('.measured');
    const env = { ...this.env, NODE_OPTIONS: `--import=${pathToFileURL(join(import.meta.dirname, 'measure.mjs')).href}`, MEASURE_TO: file };
    const outcome = spawnSync(process.execPath, [PROGRAM, ...argv], { cwd: this.path(folder), env, encoding: 'utf8' });
    const measured = JSON.parse(readFileSync(file, 'utf8')) as { mebibytes: number; seconds: number };
    rmSync(file);
    return { ...outcome, ...measured };
  }

  /** Runs a line of shell with `pionero` in it. */
  shell(line: string): Outcome {
    const script = `pionero() { "${process.execPath}" "${PROGRAM}" "$@"; }\n${line}`;
    return runTool('bash', ['-c', script], { cwd: this.folder, env: this.env });
  }

  /** Starts the program and leaves it running. */
  start(...argv: string[]): ReturnType<typeof spawn> {
    return spawn(process.execPath, [PROGRAM, ...argv], { cwd: this.folder, env: this.env, stdio: 'ignore' });
  }

  /** Starts the program and leaves it running, with its output to be read. */
  startPiped(...argv: string[]): ReturnType<typeof spawn> {
    return spawn(process.execPath, [PROGRAM, ...argv], { cwd: this.folder, env: this.env, stdio: ['ignore', 'pipe', 'inherit'] });
  }

  async json(...argv: string[]): Promise<Record<string, unknown>> {
    const outcome = await this.run(...argv, '--format', 'json');
    try {
      return JSON.parse(outcome.stdout) as Record<string, unknown>;
    } catch {
      throw new Error(`no JSON from ${argv.join(' ')}:\n${outcome.stdout}\n${outcome.stderr}`);
    }
  }
}
