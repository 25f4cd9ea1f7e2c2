import { flag } from './option.ts';
import type { Decide } from '../core/lineage/merge-files.ts';
import { checkOptionsOf, type Finding } from '../core/rules/engine/check.ts';
import { errorsBrought } from '../core/rules/engine/errors-brought.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Theme } from '../core/theme/theme.ts';
import type { Context } from './command.ts';
import { findingsText } from './output/findings-text.ts';
import { count } from '../core/text/sentence.ts';

/** The option of commands that prove a change before they write it. */
export const forceOption = {
  force: flag('write it even if the proof fails: it leaves or brings what must not be there'),
};

/** Whether a change goes on although its proof failed. Says so, and how to have it all the same. */
export function isForced(context: Context, { force }: { readonly force: boolean }): boolean {
  const { paint } = context;
  if (force) context.warn(`${paint.warn('▲')} The proof failed; it is written only because of --force.`);
  else
    context.warn(
      `${paint.bad('✗')} Nothing was written, because the proof failed.\n  ${paint.name('→')} fix what is listed, or use --force`,
    );
  return force;
}

/**
 * Whether a change may be written: one that brings errors to a theme is shown and refused.
 * @param theme how people know the theme
 */
export function isHarmless(context: Context, options: { readonly force: boolean }, theme: string, errors: readonly Finding[]): boolean {
  if (errors.length === 0) return true;
  const { paint, io } = context;
  context.warn(
    `${paint.bad('✗')} This would break ${theme}: ${count(errors.length, 'new error')}\n\n${findingsText(errors, paint, io.columns)}\n`,
  );
  return isForced(context, options);
}

/**
 * The errors that a merge brings, apart from its conflicts: those are marked for a person to decide, so it is proved as if each
 * had been decided for what is here.
 */
export async function mergeErrors(
  { theme, shelves, configuration }: OpenedTheme,
  merged: { readonly theme: Theme },
  conflicts: number,
  plan: (decide: Decide) => Promise<{ readonly theme: Theme }> | { readonly theme: Theme },
): Promise<Finding[]> {
  const after = conflicts === 0 ? merged : await plan(() => 'ours');
  return errorsBrought(theme, after.theme, shelves, checkOptionsOf(configuration));
}
