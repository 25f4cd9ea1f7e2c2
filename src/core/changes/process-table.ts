import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { namesIn } from '../files/disk-names.ts';
import { findProgram } from '../files/disk-programs.ts';

/** A process that runs. */
export interface ProcessEntry {
  readonly id: number;
  readonly parent: number;
  /** The group and the session that it belongs to; 0 where the system has none. */
  readonly group: number;
  readonly session: number;
  /**
   * When it began: with the number it is the same process, and not one that came later. Ticks since the machine began on Linux, elsewhere
   * milliseconds since 1970; '' where the system does not tell.
   */
  readonly began: string;
  /** Memory that it holds, in MiB. */
  readonly mebibytes: number;
}

/** Whether asking for all processes takes a program of its own, and so half a second instead of milliseconds. */
export const IS_ASKING_SLOW = process.platform === 'win32';

/** The processes of the machine, but for those that ended and wait for their parent. */
export function listProcesses(): ProcessEntry[] {
  if (process.platform === 'win32') {
    const asked = told('powershell', ['-NoProfile', '-NonInteractive', '-Command', POWERSHELL]);
    return windowsProcesses(asked.trim() === '' ? told('wmic', ['process', 'get', 'ParentProcessId,ProcessId,WorkingSetSize']) : asked);
  }
  const names = namesIn('/proc').filter((name) => /^\d+$/.test(name));
  return names.length > 0 ? names.flatMap(procEntry) : unixProcesses(told('ps', ['-A', '-o', 'pid=,ppid=,pgid=,rss=,lstart=']));
}

/** When a process began, as {@link ProcessEntry.began} has it; undefined where the system does not tell, or there is none. */
export function beginOf(id: number): string | undefined {
  return process.platform !== 'win32' && namesIn(`/proc/${id}`).length > 0
    ? procEntry(String(id))[0]?.began
    : listProcesses().find((each) => each.id === id)?.began;
}

/** The status of a process (proc_pid_stat(5)); none of one that ended, and waits for its parent. */
function procEntry(name: string): ProcessEntry[] {
  const stat = read(`/proc/${name}/stat`);
  // The name of the program is in brackets, and may hold some.
  const [state, parent, group, session, ...rest] = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  if (state === undefined || state === 'Z' || state === 'X' || rest.length < 18) return [];
  const numbers = { id: Number(name), parent: Number(parent), group: Number(group), session: Number(session) };
  return [{ ...numbers, began: rest[15] ?? '', mebibytes: (Number(rest[17]) * pageSize()) / 1024 }];
}

let knownPageSize: number | undefined;

/** The size of a page of memory in KiB (proc_pid_smaps(5)): 4, on some machines 16 or 64. */
function pageSize(): number {
  knownPageSize ??= Number(/^KernelPageSize: *(\d+) kB$/m.exec(read('/proc/self/smaps'))?.[1] ?? 4);
  return knownPageSize;
}

/** What ps(1) prints where there is no `/proc`: number, parent, group, KiB, and a date of five words. */
export function unixProcesses(text: string): ProcessEntry[] {
  return [...text.matchAll(/^ *(\d+) +(\d+) +(\d+) +(\d+) +(\S.*?) *$/gm)].map(([, id, parent, group, kibibytes, began = '']) => ({
    ...{ id: Number(id), parent: Number(parent), group: Number(group), session: 0 },
    ...{ began: String(Date.parse(began)), mebibytes: Number(kibibytes) / 1024 },
  }));
}

const POWERSHELL = [
  'Get-CimInstance Win32_Process | ForEach-Object {',
  '"$($_.ParentProcessId) $($_.ProcessId) $($_.WorkingSetSize) $(([DateTimeOffset]$_.CreationDate).ToUnixTimeMilliseconds())" }',
].join(' ');

/** Lines of the parent, the number, bytes, and milliseconds since 1970 where the system has them, with blanks between them. */
export function windowsProcesses(text: string): ProcessEntry[] {
  return [...text.matchAll(/^[ \t]*(\d+)[ \t]+(\d+)[ \t]+(\d+)(?:[ \t]+(\d+))?[ \t]*\r?$/gm)].map(([, parent, id, bytes, began = '']) => ({
    ...{ id: Number(id), parent: Number(parent), group: 0, session: 0 },
    ...{ began, mebibytes: Number(bytes) / (1 << 20) },
  }));
}

/** The output of a program of the system; '' where it cannot be started. */
function told(program: string, args: readonly string[]): string {
  const path = findProgram(program, { path: process.env['PATH'] ?? '' });
  if (path === undefined) return '';
  const { stdout } = spawnSync(path, args, { windowsHide: true, timeout: 10_000, env: { ...process.env, LC_ALL: 'C' } });
  const bytes = stdout ?? Buffer.alloc(0);
  // Some programs of Windows print in UTF-16.
  return bytes[0] === 0xff && bytes[1] === 0xfe ? bytes.toString('utf16le', 2) : bytes.toString('utf8');
}

/** The text of a system file; '' of a process that ended meanwhile, or is another user's. */
function read(path: string): string {
  try {
    return readFileSync(path, 'latin1');
  } catch {
    return '';
  }
}
