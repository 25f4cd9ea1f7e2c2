import { readFileSync } from 'node:fs';

/** Which process something belongs to: a number alone may have been given to another one since. */
export interface ProcessIdentity {
  readonly process: number;
  /** When it was started: ticks since the start of the system, and which start that was; undefined where that cannot be told. */
  readonly started?: string | undefined;
}

/** This process. */
export const thisProcess: ProcessIdentity = { process: process.pid, started: startOf(process.pid) };

/** Whether two identities are of one process. */
export function isSameProcess(a: ProcessIdentity, b: ProcessIdentity): boolean {
  return a.process === b.process && a.started === b.started;
}

/** Whether a process still runs. */
export function isAlive({ process: number, started }: ProcessIdentity): boolean {
  try {
    globalThis.process.kill(number, 0);
  } catch (error) {
    // A process of somebody else may not be sent signals, and is there.
    if (!(error instanceof Error && 'code' in error && error.code === 'EPERM')) return false;
  }
  const now = startOf(number);
  return started === undefined || now === undefined || now === started;
}

/** Field 22 of /proc/PID/stat (proc_pid_stat(5)), behind the name of the program, which may hold spaces and brackets. */
function startOf(number: number): string | undefined {
  try {
    const stat = readFileSync(`/proc/${number}/stat`, 'utf8');
    const ticks = stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
    const boot = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
    return ticks === undefined ? undefined : `${boot}/${ticks}`;
  } catch {
    return undefined;
  }
}
