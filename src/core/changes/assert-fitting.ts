import { basename, dirname, join } from 'node:path';
import { RefusedError } from '../errors.ts';
import { kindOnDisk } from '../files/disk.ts';
import { firstTwins, portableProblem } from '../files/portable-names.ts';
import type { ChangePlan } from './plan.ts';
import { listed, plural } from '../text/sentence.ts';

/** What Windows does with a name that it cannot have. */
const WHY = {
  device: 'Windows keeps such names for devices',
  sign: 'they hold signs that no name has on Windows',
  end: 'Windows drops a full stop or a blank at the end of a name',
} as const;

/**
 * Looks before anything is written whether this system can have what a plan makes under its names.
 * @throws RefusedError when it cannot
 */
export function assertNamesFit({ operations, title }: ChangePlan, platform: NodeJS.Platform = process.platform): void {
  if (platform !== 'win32') return;
  const wrong = operations.flatMap(({ path }) => {
    const problem = path
      .split('/')
      .map(portableProblem)
      .find((each) => each !== undefined && each !== 'form');
    return problem === undefined ? [] : [{ path, problem }];
  });
  const first = wrong[0];
  if (first === undefined) return;
  throw new RefusedError({
    what: `${title}: ${plural(wrong.length, 'a name', `${wrong.length} names`)} cannot be on this system: ${quoted(wrong.map(({ path }) => path))}`,
    why: [...new Set(wrong.map(({ problem }) => WHY[problem]))].join('; '),
    hint: 'rename it at its source, with everything that refers to it; nothing was written',
  });
}

/**
 * Looks whether a plan makes two things that the file system of a folder takes for one.
 * @param folder a folder that we made
 * @throws RefusedError when it does
 */
export function assertNoTwins({ operations, title }: ChangePlan, folder: string): void {
  const twins = isCaseless(folder) ? firstTwins(operations.map(({ path }) => path)) : undefined;
  if (twins === undefined) return;
  throw new RefusedError({
    what: `${title}: ${quoted(twins)} would be the same file here`,
    why: 'this file system takes upper and lower case, and letters with their marks in one or apart, for the same',
    hint: 'rename one of them at its source; nothing was written',
  });
}

/** Whether a folder is found under its name in capitals as well. */
function isCaseless(folder: string): boolean {
  return kindOnDisk(join(dirname(folder), basename(folder).toUpperCase())) !== undefined;
}

function quoted(paths: readonly string[]): string {
  return listed(
    paths.map((path) => `“${path}”`),
    5,
  );
}
