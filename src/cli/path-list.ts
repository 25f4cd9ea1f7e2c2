import { text as readAll } from 'node:stream/consumers';
import { UsageError } from '../core/errors.ts';
import { readIfThere } from '../core/files/disk.ts';
import type { Context } from './command.ts';

/** The paths that a file lists, one a line; empty lines do not count. @param file “-” for standard input @throws UsageError when it lists none */
export async function pathsIn(context: Context, file: string): Promise<string[]> {
  const text = file === '-' ? await readAll(process.stdin) : readIfThere(context.path(file))?.toString('utf8');
  if (text === undefined) throw new UsageError({ what: `there is no file ${file}`, hint: 'name a file that lists paths, one a line' });
  const paths = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  if (paths.length === 0)
    throw new UsageError({ what: `${file === '-' ? 'standard input' : file} lists no paths`, hint: 'write one path a line' });
  return paths;
}
