import { writeOutput } from '../core/changes/write-output.ts';
import { UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import type { Context } from './command.ts';
import { isConfirmed } from './confirm.ts';

/**
 * Writes a page for a browser; asks before it writes over another file.
 * @param out the file, as people typed it
 * @param page made when it is to be written
 * @returns the file, absolute; undefined when it was not written
 * @throws UsageError when it is a folder, or nobody can be asked and --yes is missing
 */
export async function writePage(
  context: Context,
  out: string,
  options: { readonly yes: boolean },
  page: () => string,
): Promise<string | undefined> {
  const file = context.path(out);
  const kind = kindOnDisk(file);
  if (kind === 'folder') throw new UsageError({ what: `${out} is a folder`, hint: 'name a file: --out page.html' });
  const isWanted = kind === undefined || (await isConfirmed(context, { ...options, dryRun: false }, `Write over ${context.shown(file)}?`));
  if (!isWanted) return undefined;
  await writeOutput(file, Buffer.from(page()), context.journal);
  return file;
}
