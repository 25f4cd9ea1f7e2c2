import { createHash } from 'node:crypto';
import * as z from 'zod';
import { writeOutput } from '../core/changes/write-output.ts';
import { readIfThere } from '../core/files/disk.ts';
import type { Site } from '../core/configuration/site-schema.ts';
import { shellWord } from '../core/text/shell-word.ts';
import type { Context } from './command.ts';
import { isConfirmed } from './confirm.ts';
import { agreementsFile } from './own-folders.ts';

const Agreements = z.object({ agreed: z.array(z.string()) });

/**
 * Whether a site’s command may be run: it is shown in full and agreed to once, and remembered by what it says.
 * @throws UsageError when nobody can be asked and --yes is missing
 */
export async function isAgreed(context: Context, name: string, site: Site, options: { readonly yes: boolean }): Promise<boolean> {
  const command = site.server ?? site.command ?? [];
  const key = createHash('sha256')
    .update(JSON.stringify([site.folder, site.server, site.command]))
    .digest('hex');
  if (readAgreements(context).includes(key)) return true;
  context.say(
    `The site “${name}” is copied from ${context.shown(site.folder)}, and this is run in the copy:\n  ${command.map((word) => shellWord(word)).join(' ')}`,
  );
  if (!(await isConfirmed(context, { ...options, dryRun: false }, 'Run it, now and later?'))) return false;
  await rememberAgreement(context, key);
  return true;
}

/** The programs of others that the user agreed to run. */
export function readAgreements({ io }: Context): string[] {
  try {
    return Agreements.parse(JSON.parse(readIfThere(agreementsFile(io.env))?.toString('utf8') ?? '')).agreed;
  } catch {
    // What cannot be read agrees to nothing.
    return [];
  }
}

export async function rememberAgreement(context: Context, ...keys: readonly string[]): Promise<void> {
  const agreed = [...new Set([...readAgreements(context), ...keys])];
  await writeOutput(agreementsFile(context.io.env), Buffer.from(`${JSON.stringify({ agreed })}\n`), context.journal);
}
