import { spawn, type ChildProcess } from 'node:child_process';
import { cp, mkdir, mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FailedOperationError } from '../errors.ts';

/** More than this of what a command prints is not kept. */
const MAX_OUTPUT = 1 << 20;

/** A copy of a site, thrown away after use. Paths are absolute. */
export interface SiteCopy {
  readonly site: string;
  /** A folder for what a command makes. */
  readonly out: string;
  /** A home folder with nothing in it. */
  readonly home: string;
}

/** Copies a site’s folder to a temporary place, lets it be used, and removes it, whatever happens. */
export async function withSiteCopy<T>(folder: string, work: (copy: SiteCopy) => Promise<T>): Promise<T> {
  const root = await mkdtemp(join(tmpdir(), 'pionero-site-'));
  try {
    const copy = { site: join(root, 'site'), out: join(root, 'out'), home: join(root, 'home') };
    await cp(folder, copy.site, { recursive: true, verbatimSymlinks: true });
    await mkdir(copy.home);
    return await work(copy);
  } finally {
    await rm(root, { recursive: true, force: true });
  }
}

/** What became of a command. */
export interface CommandOutcome {
  readonly status: number | undefined;
  readonly output: string;
  readonly isTimedOut: boolean;
}

/** The environment that a site’s command gets: nothing of the user’s but the path and the language. */
function environment({ home }: SiteCopy): NodeJS.ProcessEnv {
  return { PATH: process.env['PATH'], LANG: process.env['LANG'] ?? 'C.UTF-8', HOME: home, TMPDIR: home };
}

function start([program = '', ...args]: readonly string[], copy: SiteCopy): { child: ChildProcess; output: () => string } {
  // A group of its own, so that its children end with it.
  const child = spawn(program, args, { cwd: copy.site, env: environment(copy), detached: true, stdio: ['ignore', 'pipe', 'pipe'] });
  let output = '';
  const keep = (data: Buffer): void => {
    if (output.length < MAX_OUTPUT) output += data.toString('utf8').slice(0, MAX_OUTPUT - output.length);
  };
  child.stdout?.on('data', keep);
  child.stderr?.on('data', keep);
  return { child, output: () => output };
}

function endGroup(child: ChildProcess): void {
  try {
    if (child.pid !== undefined) process.kill(-child.pid, 'SIGKILL');
  } catch {
    // It has ended already.
  }
}

/**
 * Runs a command in a copy of a site until it ends.
 * @throws FailedOperationError when it cannot be started, or the run was interrupted
 */
export async function runToEnd(
  command: readonly string[],
  copy: SiteCopy,
  { seconds, signal }: { readonly seconds: number; readonly signal?: AbortSignal | undefined },
): Promise<CommandOutcome> {
  const { child, output } = start(command, copy);
  let isTimedOut = false;
  const timer = setTimeout(() => {
    isTimedOut = true;
    endGroup(child);
  }, seconds * 1000);
  const stop = (): void => endGroup(child);
  signal?.addEventListener('abort', stop);
  try {
    const status = await new Promise<number | undefined>((resolve, reject) => {
      child.on('error', (cause) => reject(notStarted(command, cause)));
      child.on('close', (code) => resolve(code ?? undefined));
    });
    if (signal?.aborted === true)
      throw new FailedOperationError({ what: 'interrupted: the site’s command was ended', hint: 'nothing was changed' });
    return { status, output: output(), isTimedOut };
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener('abort', stop);
    endGroup(child);
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

/** A server of a site, while it runs. */
export interface RunningSite {
  /** Asks for an address of the server, from its root. */
  get(address: string): Promise<{ status: number; text: string }>;
  output(): string;
}

/**
 * Starts a server in a copy of a site, waits until it answers, lets it be used and ends it with its children.
 * @param commandFor the command, with a free port of 127.0.0.1
 * @throws FailedOperationError when it cannot be started, or does not answer in time
 */
export async function withServer<T>(
  commandFor: (port: number) => readonly string[],
  copy: SiteCopy,
  { seconds, signal }: { readonly seconds: number; readonly signal?: AbortSignal | undefined },
  work: (running: RunningSite) => Promise<T>,
): Promise<T> {
  const port = await freePort();
  const command = commandFor(port);
  const { child, output } = start(command, copy);
  let failure: Error | undefined;
  child.on('error', (cause) => (failure = notStarted(command, cause)));
  const get = async (address: string): Promise<{ status: number; text: string }> => {
    const response = await fetch(`http://127.0.0.1:${port}${address}`, { redirect: 'follow', signal: AbortSignal.timeout(seconds * 1000) });
    return { status: response.status, text: await response.text() };
  };
  try {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      if (failure !== undefined) throw failure;
      if (signal?.aborted === true)
        throw new FailedOperationError({ what: 'interrupted: the site’s server was ended', hint: 'nothing was changed' });
      if (child.exitCode !== null || Date.now() > end)
        throw new FailedOperationError({
          what: `the site’s server does not answer: ${output().trim().split('\n').at(-1) ?? ''}`,
          hint: 'try its command by hand',
        });
      if (
        await get('/').then(
          () => true,
          () => false,
        )
      )
        break;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    return await work({ get, output });
  } finally {
    endGroup(child);
  }
}

async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address !== null ? address.port : 0));
    });
  });
}
