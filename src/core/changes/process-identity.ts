import { readFileSync } from 'node:fs';
import { beginOf } from './process-table.ts';

/** Which process something belongs to: a number alone may have been given to another one since. */
export interface ProcessIdentity {
  readonly process: number;
  /** When it was started: ticks since the start of the system, and which start that was; elsewhere than on Linux milliseconds since 1970. */
  readonly started?: string | undefined;
}

let started: string | undefined;

/** This process. When it was started is asked for by whoever changes something: most programs only read. */
export const thisProcess: ProcessIdentity = {
  process: process.pid,
  get started() {
    return (started ??= ownStart());
  },
};

/** Whether two identities are of one process. */
export function isSameProcess(a: ProcessIdentity, b: ProcessIdentity): boolean {
  return a.process === b.process && a.started === b.started;
}

/** Whether a process still runs. */
export function isAlive({ process: number, started }: ProcessIdentity): boolean {
  try {
    globalThis.process.kill(number, 0);
  } catch (error) {
    // A process of someone else may not be sent signals, and is there.
    if (!(error instanceof Error && 'code' in error && error.code === 'EPERM')) return false;
  }
  const now = started === undefined ? undefined : startOf(number);
  return started === undefined || now === undefined || isSameStart(now, started);
}

/** Two clocks tell the same moment up to this difference, in milliseconds. */
const CLOCKS_DIFFER = 5000;

/** Whether two tell one start; dates are not told to the millisecond. */
export function isSameStart(a: string, b: string): boolean {
  return a === b || Math.abs(Number(a) - Number(b)) <= CLOCKS_DIFFER;
}

/** Without asking the system, where asking takes a while. */
function ownStart(): string {
  return startOnBoot(process.pid) ?? String(Math.round(Date.now() - process.uptime() * 1000));
}

function startOf(number: number): string | undefined {
  return startOnBoot(number) ?? (beginOf(number) || undefined);
}

/** The ticks of `/proc`, with the start of the system that they are counted from; undefined where there is none. */
function startOnBoot(number: number): string | undefined {
  try {
    const boot = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
    const ticks = beginOf(number);
    return ticks === undefined ? undefined : `${boot}/${ticks}`;
  } catch {
    return undefined;
  }
}
