import { delimiter, join } from 'node:path';
import { asWritten } from '../core/files/disk.ts';
import { standardOutput } from './standard-output.ts';

/** The program's surroundings: streams, clock, environment, and what the terminal can do. */
export interface Io {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown };
  /** The folder that the program was started in; absolute. */
  readonly folder: string;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** Whether a person can answer questions: both input and output are a terminal. */
  readonly isInteractive: boolean;
  /** Whether colors are shown on standard output. */
  readonly hasColor: boolean;
  /** Whether the terminal on standard error and output takes control sequences: it is one, and nobody asked for plain text. */
  readonly hasControls: boolean;
  /** Whether standard error is a terminal that takes control sequences: it may be while the output goes to a file. */
  readonly isErrorTerminal: boolean;
  /** Whether another program reads standard output. */
  readonly isPiped: boolean;
  /** Waits until standard output is written, and says why it could not be. A reader that went away does not count. */
  readonly outputFailure: () => Promise<Error | undefined>;
  /** Characters a line. */
  readonly columns: number;
  /** Milliseconds since 1970. */
  now(): number;
  /** Runs work that a Ctrl-C aborts, so that it can take back what it did. */
  withInterrupt<T>(work: (signal: AbortSignal) => Promise<T>): Promise<T>;
}

/** The process's own surroundings. @throws when the current folder is not there any more */
export function processIo(): Io {
  const { env } = process;
  // A reader that goes away (pionero … | head) has seen enough: the work goes on, and what is printed is dropped.
  const [stdout, stderr] = [standardOutput(1), standardOutput(2)];
  const isPlain = Boolean(env['NO_COLOR']) || env['TERM'] === 'dumb';
  const current = process.cwd();
  let folder: string | undefined;
  return {
    stdout,
    stderr,
    // Help needs nothing of the core.
    get folder() {
      return (folder ??= asWritten(current));
    },
    env,
    // Standard input is not opened where nobody can be asked anyway.
    isInteractive: stdout.isTTY && process.stdin.isTTY,
    hasColor: env['FORCE_COLOR'] !== undefined ? env['FORCE_COLOR'] !== '0' : !isPlain && stdout.isTTY,
    hasControls: !isPlain && stdout.isTTY,
    // Its stream is made only for whoever asks.
    get isErrorTerminal() {
      return env['TERM'] !== 'dumb' && stderr.isTTY;
    },
    get isPiped() {
      return stdout.isPipe;
    },
    outputFailure: async () => stdout.failure(),
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

/** Ctrl-C, a polite end, a terminal that was closed; Ctrl-Break. */
const INTERRUPTS: readonly NodeJS.Signals[] = [
  'SIGINT',
  'SIGTERM',
  'SIGHUP',
  ...(process.platform === 'win32' ? (['SIGBREAK'] as const) : []),
];

/** Whether a program of this machine is to be taken for one that is not there: `PIONERO_WITHOUT=chromium,git`, or `all`. */
function isWithout(env: Io['env'], program: string): boolean {
  const named = (env['PIONERO_WITHOUT'] ?? '').split(',');
  return named.includes('all') || named.includes(program);
}

/** Where browsers are installed on systems that do not put them on the `PATH`: below folders that variables name. */
const BROWSERS: Readonly<Partial<Record<NodeJS.Platform, { readonly below: readonly string[]; readonly folders: readonly string[] }>>> = {
  win32: {
    below: ['ProgramFiles', 'ProgramFiles(x86)', 'LOCALAPPDATA'],
    folders: ['Chromium/Application', 'Google/Chrome/Application', 'Microsoft/Edge/Application'],
  },
  darwin: {
    below: ['/', 'HOME'],
    folders: ['Chromium', 'Google Chrome', 'Microsoft Edge'].map((name) => `Applications/${name}.app/Contents/MacOS`),
  },
};

/** The folders in which a browser is looked for, as in `PATH`. */
export function browserPath(env: Io['env'], platform: NodeJS.Platform = process.platform): string {
  if (isWithout(env, 'chromium')) return '';
  const { below = [], folders = [] } = BROWSERS[platform] ?? {};
  const places = below
    .flatMap((name) => (name === '/' ? name : (env[name] ?? [])))
    .flatMap((place) => folders.map((each) => join(place, each)));
  return [env['PATH'] ?? '', ...places].join(delimiter);
}

/** Some terminals say that they have no columns, and mean that they do not know. */
export function columnsOf({ isTTY, columns }: { readonly isTTY: boolean; readonly columns: number }): number {
  if (!isTTY) return 100;
  return columns > 0 ? Math.max(40, columns) : 80;
}
