import { homedir } from 'node:os';
import { isAbsolute, join } from 'node:path';

/** What the program has around it: streams, clock, environment, and what the terminal can do. */
export interface Io {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown };
  /** The folder that the program was started in; absolute. */
  readonly folder: string;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** Whether somebody can answer questions: both input and output are a terminal. */
  readonly isInteractive: boolean;
  /** Whether colours are shown on standard output. */
  readonly hasColor: boolean;
  /** Whether the terminal on standard error and output takes control sequences: it is one, and nobody asked for plain text. */
  readonly hasControls: boolean;
  /** Why standard output could not be written; undefined while it can. A reader that went away is no failure. */
  readonly outputFailure: () => Error | undefined;
  /** Characters a line. */
  readonly columns: number;
  /** Milliseconds since 1970. */
  now(): number;
  /** Runs work that a Ctrl-C aborts, so that it can take back what it did. */
  withInterrupt<T>(work: (signal: AbortSignal) => Promise<T>): Promise<T>;
}

/** The process's own surroundings. @throws when the current folder is not there any more */
export function processIo(): Io {
  const { stdout, stderr, env } = process;
  let failure: Error | undefined;
  // A reader that goes away (pionero … | head) has seen enough: the work goes on, and what is printed is dropped.
  stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code !== 'EPIPE') failure ??= error;
  });
  stderr.on('error', () => undefined);
  const isPlain = Boolean(env['NO_COLOR']) || env['TERM'] === 'dumb';
  return {
    stdout,
    stderr,
    folder: process.cwd(),
    env,
    // Standard input is not opened where nobody can be asked anyway.
    isInteractive: stdout.isTTY && process.stdin.isTTY,
    hasColor: env['FORCE_COLOR'] !== undefined ? env['FORCE_COLOR'] !== '0' : !isPlain && stdout.isTTY,
    hasControls: !isPlain && stdout.isTTY,
    outputFailure: () => failure,
    columns: columnsOf(stdout),
    now: () => Date.now(),
    async withInterrupt(work) {
      const controller = new AbortController();
      const abort = (): void => controller.abort();
      for (const signal of INTERRUPTS) process.on(signal, abort);
      try {
        return await work(controller.signal);
      } finally {
        for (const signal of INTERRUPTS) process.off(signal, abort);
      }
    },
  };
}

/** Ctrl-C, a polite end, a terminal that was closed. */
const INTERRUPTS = ['SIGINT', 'SIGTERM', 'SIGHUP'] as const;

/** Whether a program of this machine is to be taken for one that is not there: `PIONERO_WITHOUT=chromium,git`, or `all`. */
function isWithout(env: Io['env'], program: string): boolean {
  const named = (env['PIONERO_WITHOUT'] ?? '').split(',');
  return named.includes('all') || named.includes(program);
}

/** The folders in which a browser is looked for, as in `PATH`. */
export function browserPath(env: Io['env']): string {
  return isWithout(env, 'chromium') ? '' : (env['PATH'] ?? '');
}

/** Some terminals say that they have no columns, and mean that they do not know. */
export function columnsOf({ isTTY, columns }: { readonly isTTY: boolean; readonly columns: number }): number {
  if (!isTTY) return 100;
  return columns > 0 ? Math.max(40, columns) : 80;
}

/** Where change plans are recorded: `$XDG_STATE_HOME/pionero/journal` (XDG Base Directory Specification 0.8). */
export function journalFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_STATE_HOME'], '.local/state'), 'pionero', 'journal');
}

/** Where the engine keeps what it compiled: `$XDG_CACHE_HOME/pionero/code`. */
export function codeFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_CACHE_HOME'], '.cache'), 'pionero', 'code');
}

/** Which commands of sites somebody agreed to: `$XDG_STATE_HOME/pionero/agreed.json`. */
export function agreementsFile(env: Io['env']): string {
  return join(baseFolder(env['XDG_STATE_HOME'], '.local/state'), 'pionero', 'agreed.json');
}

/** Where people keep platform files of their own: `$XDG_CONFIG_HOME/pionero/platforms`. */
export function userPlatformFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_CONFIG_HOME'], '.config'), 'pionero', 'platforms');
}

/** Where findings are kept from one check to the next: `$XDG_CACHE_HOME/pionero/checks`. It can be deleted at any time. */
export function checkCacheFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_CACHE_HOME'], '.cache'), 'pionero', 'checks');
}

/** What people want in all their new themes: `$XDG_CONFIG_HOME/pionero/config.yaml`. */
export function userConfigurationFile(env: Io['env']): string {
  return join(baseFolder(env['XDG_CONFIG_HOME'], '.config'), 'pionero', 'config.yaml');
}

/** What catalogues know people by: `$XDG_CONFIG_HOME/pionero/tokens.yaml`, which nobody else may read. */
export function tokensFile(env: Io['env']): string {
  return join(baseFolder(env['XDG_CONFIG_HOME'], '.config'), 'pionero', 'tokens.yaml');
}

/** The specification has a path that is not absolute ignored. */
function baseFolder(given: string | undefined, fallback: string): string {
  return given !== undefined && isAbsolute(given) ? given : join(homedir(), fallback);
}
