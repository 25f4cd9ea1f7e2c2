import { homedir } from 'node:os';
import { join } from 'node:path';

/** What the program has around it: streams, clock, environment, and what the terminal can do. */
export interface Io {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown };
  readonly env: Readonly<Record<string, string | undefined>>;
  /** Whether somebody can answer questions: both input and output are a terminal. */
  readonly isInteractive: boolean;
  /** Whether colours are shown on standard output. */
  readonly hasColor: boolean;
  /** Characters a line. */
  readonly columns: number;
  /** Milliseconds since 1970. */
  now(): number;
  /** Runs work that a Ctrl-C aborts, so that it can take back what it did. */
  withInterrupt<T>(work: (signal: AbortSignal) => Promise<T>): Promise<T>;
}

/** The process's own surroundings. */
export function processIo(): Io {
  const { stdout, stderr, stdin, env } = process;
  // A reader that goes away (pionero check | head) ends the program quietly.
  stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 70));
  return {
    stdout,
    stderr,
    env,
    isInteractive: stdin.isTTY && stdout.isTTY,
    hasColor: env['FORCE_COLOR'] !== undefined ? env['FORCE_COLOR'] !== '0' : !env['NO_COLOR'] && stdout.isTTY && env['TERM'] !== 'dumb',
    columns: stdout.columns > 40 ? stdout.columns : 100,
    now: () => Date.now(),
    async withInterrupt(work) {
      const controller = new AbortController();
      const abort = (): void => controller.abort();
      process.on('SIGINT', abort).on('SIGTERM', abort);
      try {
        return await work(controller.signal);
      } finally {
        process.off('SIGINT', abort).off('SIGTERM', abort);
      }
    },
  };
}

/** Where change plans are recorded: `$XDG_STATE_HOME/pionero/journal` (XDG Base Directory Specification 0.8). */
export function journalFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_STATE_HOME'], '.local/state'), 'pionero', 'journal');
}

/** Where people keep platform files of their own: `$XDG_CONFIG_HOME/pionero/platforms`. */
export function userPlatformFolder(env: Io['env']): string {
  return join(baseFolder(env['XDG_CONFIG_HOME'], '.config'), 'pionero', 'platforms');
}

/** The specification has a path that is not absolute ignored. */
function baseFolder(given: string | undefined, fallback: string): string {
  return given !== undefined && given.startsWith('/') ? given : join(homedir(), fallback);
}
