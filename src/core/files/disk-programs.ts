import { accessSync, constants } from 'node:fs';
import { posix, win32 } from 'node:path';
import { kindOnDisk } from './disk.ts';

/** Where programs are looked for, and on which system. */
export interface ProgramSearch {
  /** The folders, divided as in `PATH`. */
  readonly path: string;
  readonly platform?: NodeJS.Platform | undefined;
  /** The ends of the names of programs on Windows, as in `PATHEXT`. */
  readonly endings?: string | undefined;
}

/**
 * The absolute path of a program among some folders; undefined where there is none. Some systems look in the current folder first, and
 * others allow it in `PATH`: a downloaded theme may lie there, so only absolute folders count.
 * @param name without a folder; on Windows with or without its ending
 */
export function findProgram(
  name: string,
  { path, platform = process.platform, endings = process.env['PATHEXT'] ?? '.COM;.EXE;.BAT;.CMD' }: ProgramSearch,
): string | undefined {
  const system = platform === 'win32' ? win32 : posix;
  const isWhole = platform !== 'win32' || endings.toLowerCase().split(';').includes(system.extname(name).toLowerCase());
  const names = isWhole ? [name] : endings.split(';').map((ending) => name + ending.toLowerCase());
  for (const folder of path.split(system.delimiter).filter((each) => system.isAbsolute(each)))
    for (const each of names) if (isProgram(system.join(folder, each))) return system.join(folder, each);
  return undefined;
}

/** A file that may be run; where systems know no such right, each file. */
function isProgram(path: string): boolean {
  try {
    accessSync(path, constants.X_OK);
    return kindOnDisk(path) === 'file';
  } catch {
    return false;
  }
}
