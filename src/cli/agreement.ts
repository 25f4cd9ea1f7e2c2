import { createHash } from 'node:crypto';
import * as z from 'zod';
import { writeOutput } from '../core/changes/write-output.ts';
import { readIfThere } from '../core/files/disk.ts';
import type { Site } from '../core/configuration/site-schema.ts';
import { shellWord } from '../core/text/shell-word.ts';
import type { Context } from './command.ts';
import { isConfirmed } from './confirm.ts';
import { agreementsFile } from './own-folders.ts';

/** Made when it is asked for, and not whenever a command is loaded. */
const agreements = () => z.object({ agreed: z.array(z.string()) });

/**
 * Whether a site’s commands may be run: they are shown in full and agreed to once, and remembered by what they say.
 * @throws UsageError when nobody can be asked and --yes is missing
 */
export async function isAgreed(context: Context, name: string, site: Site, options: { readonly yes: boolean }): Promise<boolean> {
  const { folder, server, command, prepare, lint } = site;
  const commands = [...prepare, ...lint.map((each) => each.command), server ?? command ?? []];
  const more = prepare.length + lint.length === 0 ? [] : [prepare, lint];
  const key = createHash('sha256')
    .update(JSON.stringify([folder, server, command, ...more]))
    .digest('hex');
  if (readAgreements(context).includes(key)) return true;
  context.say(
    `The site “${name}” is copied from ${context.shown(folder)}, and ${commands.length === 1 ? 'this is' : 'these are'} run in the copy:\n${commands.map((words) => `  ${words.map((word) => shellWord(word)).join(' ')}`).join('\n')}`,
  );
  if (
    !(await isConfirmed(
      context,
      { ...options, dryRun: false },
      commands.length === 1 ? 'Run it, now and later?' : 'Run them, now and later?',
    ))
  )
    return false;
  await rememberAgreement(context, key);
  return true;
}

/** The programs of others that the user agreed to run. */
export function readAgreements({ io }: Context): string[] {
  try {
    return agreements().parse(JSON.parse(readIfThere(agreementsFile(io.env))?.toString('utf8') ?? '')).agreed;
  } catch {
    // An unreadable file agrees to nothing.
    return [];
  }
}

export async function rememberAgreement(context: Context, ...keys: readonly string[]): Promise<void> {
  const agreed = [...new Set([...readAgreements(context), ...keys])];
  await writeOutput(agreementsFile(context.io.env), Buffer.from(`${JSON.stringify({ agreed })}\n`), context.journal);
}
