import spawn from 'cross-spawn';
import type { ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { randomBytes } from 'node:crypto';
import { stripVTControlCharacters } from 'node:util';
import { FailedOperationError } from '../errors.ts';
import { IS_ASKING_SLOW } from '../changes/process-table.ts';
import { realPlace } from '../files/disk.ts';
import { findProgram } from '../files/disk-programs.ts';
import { MARK, ProcessTree } from './disk-processes.ts';
import { MAX_OUTPUT, type SiteCopy } from './disk-site.ts';

/** So often a server may send on to another of its pages. */
const MAX_HOPS = 10;

/** What became of a command. */
export interface CommandOutcome {
  readonly status: number | undefined;
  readonly output: string;
  readonly isTimedOut: boolean;
  readonly isTooLarge: boolean;
}

/** How long a site’s command may run, how much memory its processes may take in MiB, and what breaks it off. */
export interface RunLimits {
  readonly seconds: number;
  readonly memory: number;
  readonly signal?: AbortSignal | undefined;
}

/** What Windows itself needs to start a program. */
const OF_WINDOWS = ['SystemRoot', 'SystemDrive', 'windir', 'ComSpec', 'PATHEXT', 'PROCESSOR_ARCHITECTURE', 'NUMBER_OF_PROCESSORS'];

/** The environment that a site’s command gets: nothing of the user’s but the path and the language. */
function environment({ home }: SiteCopy, mark: string): NodeJS.ProcessEnv {
  const env = { PATH: process.env['PATH'], LANG: process.env['LANG'] ?? 'C.UTF-8', HOME: home, TMPDIR: home, [MARK]: mark };
  if (process.platform !== 'win32') return env;
  const own = { USERPROFILE: home, APPDATA: home, LOCALAPPDATA: home, TEMP: home, TMP: home };
  return { ...env, ...own, ...Object.fromEntries(OF_WINDOWS.map((name) => [name, process.env[name]])) };
}

/** So often it is looked how much memory a site’s processes take, in milliseconds. */
const WATCH_EVERY = IS_ASKING_SLOW ? 3000 : 200;

interface Started {
  readonly child: ChildProcess;
  readonly output: () => string;
  /** Whether it was ended since it took more memory than it may. */
  readonly isTooLarge: () => boolean;
  /** Ends it, and all that it started. */
  readonly end: () => void;
}

/** A program by its absolute path. @throws FailedOperationError when its name alone is given, and it is nowhere */
function programOf([program = '']: readonly string[]): string {
  if (/[/\\]/.test(program)) return program;
  const found = findProgram(program, { path: process.env['PATH'] ?? '' });
  if (found === undefined) throw notStarted([program], new Error(`there is no ${program} in the folders of PATH`));
  return found;
}

function start(command: readonly string[], copy: SiteCopy, memory: number): Started {
  const mark = randomBytes(12).toString('hex');
  const child = spawn(programOf(command), command.slice(1), {
    cwd: copy.site,
    env: environment(copy, mark),
    // A session of its own, so that its children end with it; on Windows that would be a window of its own.
    detached: process.platform !== 'win32',
    windowsHide: true,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const tree = child.pid === undefined ? undefined : new ProcessTree(child.pid, mark, realPlace(copy.site));
  let output = '';
  const keep = (data: Buffer): void => {
    if (output.length < MAX_OUTPUT) output += data.toString('utf8').slice(0, MAX_OUTPUT - output.length);
  };
  child.stdout?.on('data', keep);
  child.stderr?.on('data', keep);
  let isTooLarge = false;
  const watch = setInterval(() => {
    if (tree === undefined || tree.look() <= memory) return;
    isTooLarge = true;
    tree.end();
  }, WATCH_EVERY);
  watch.unref();
  const end = (): void => {
    clearInterval(watch);
    tree?.end();
    // What escaped may hold them open for ever.
    child.stdout?.destroy();
    child.stderr?.destroy();
  };
  child.on('error', () => clearInterval(watch));
  // Colors that a program prints although nobody looks would stand in the way of what is searched for.
  return { child, output: () => stripVTControlCharacters(output), isTooLarge: () => isTooLarge, end };
}

/** Once a command has ended, so long is waited for the last of what it printed, in milliseconds. */
const LAST_WORDS = 300;

/** Waits until a process has ended, and for what it printed: not for its streams, which what it left behind may hold. */
async function ended(child: ChildProcess): Promise<number | undefined> {
  const code = await new Promise<number | undefined>((resolve, reject) => {
    child.on('error', reject);
    child.on('exit', (status) => resolve(status ?? undefined));
  });
  if (child.stdout?.readableEnded === true && child.stderr?.readableEnded === true) return code;
  await Promise.race([
    new Promise<void>((resolve) => child.on('close', () => resolve())),
    new Promise<void>((resolve) => setTimeout(resolve, LAST_WORDS)),
  ]);
  return code;
}

/**
 * Runs a command in a copy of a site until it ends.
 * @throws FailedOperationError when it cannot be started, or the run was interrupted
 */
export async function runToEnd(
  command: readonly string[],
  copy: SiteCopy,
  { seconds, memory, signal }: RunLimits,
): Promise<CommandOutcome> {
  const { child, output, isTooLarge, end } = start(command, copy, memory);
  let isTimedOut = false;
  const timer = setTimeout(() => {
    isTimedOut = true;
    end();
  }, seconds * 1000);
  signal?.addEventListener('abort', end);
  try {
    const status = await ended(child).catch((cause: Error) => {
      throw notStarted(command, cause);
    });
    if (signal?.aborted === true)
      throw new FailedOperationError({ what: 'interrupted: the site’s command was ended', hint: 'nothing was changed' });
    return { status, output: output(), isTimedOut, isTooLarge: isTooLarge() };
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener('abort', end);
    end();
  }
}

function notStarted([program]: readonly string[], cause: Error): FailedOperationError {
  return new FailedOperationError({
    what: `“${program}” cannot be started`,
    why: cause.message,
    hint: 'install it, or correct the site’s command',
    cause,
  });
}

/** The answer of a server. */
export interface Answer {
  readonly status: number;
  readonly text: string;
}

/** A server of a site, while it runs. */
export interface RunningSite {
  /** `http://127.0.0.1:PORT` */
  readonly origin: string;
  /** Asks for an address of the server, from its root; undefined when it ends instead, or takes too long. */
  get(address: string): Promise<Answer | undefined>;
  output(): string;
  /** Whether it was ended since it took more memory than it may. */
  isTooLarge(): boolean;
}

/**
 * Starts a server in a copy of a site, waits until it answers, lets it be used and ends it with its children.
 * @param commandFor the command, with a free port of 127.0.0.1
 * @throws FailedOperationError when it cannot be started, or does not answer in time
 */
export async function withServer<T>(
  commandFor: (port: number) => readonly string[],
  copy: SiteCopy,
  { seconds, memory, signal }: RunLimits,
  work: (running: RunningSite) => Promise<T>,
): Promise<T> {
  const port = await freePort();
  const command = commandFor(port);
  const { child, output, isTooLarge, end: endAll } = start(command, copy, memory);
  let failure: Error | undefined;
  child.on('error', (cause) => (failure = notStarted(command, cause)));
  const end = Date.now() + seconds * 1000;
  const origin = `http://127.0.0.1:${port}`;
  const ask = async (address: string): Promise<Answer> => {
    const left = AbortSignal.timeout(Math.max(1, end - Date.now()));
    let at = new URL(address, origin);
    for (let hops = 0; ; hops += 1) {
      const response = await fetch(at, { redirect: 'manual', signal: left });
      const next = response.headers.get('location');
      const answer = { status: response.status, text: await response.text() };
      if (response.status < 300 || response.status >= 400 || next === null) return answer;
      // Nothing is asked of another machine, whatever the site says.
      at = new URL(next, at);
      if (at.origin !== origin || hops === MAX_HOPS) return answer;
    }
  };
  try {
    while (!(await isReady(ask))) {
      if (failure !== undefined) throw failure;
      if (signal?.aborted === true)
        throw new FailedOperationError({ what: 'interrupted: the site’s server was ended', hint: 'nothing was changed' });
      if (child.exitCode !== null || child.signalCode !== null || Date.now() > end)
        throw new FailedOperationError({
          what: `the site’s server does not answer: ${output().trim().split('\n').at(-1) ?? ''}`,
          hint: 'try its command by hand',
        });
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    return await work({ origin, get: async (address) => ask(address).catch(() => undefined), output, isTooLarge });
  } finally {
    endAll();
  }
}

/** Whether a server listens: that it breaks off instead of answering is the theme's doing, and seen at the page. */
async function isReady(ask: (address: string) => Promise<Answer>): Promise<boolean> {
  return ask('/').then(
    () => true,
    ({ cause }: { cause?: { code?: string } }) => cause?.code !== 'ECONNREFUSED',
  );
}

/** A port of this machine that nothing listens on. */
export async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address !== null ? address.port : 0));
    });
  });
}
