import { planPapers } from '../core/package/papers.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { VersionPart } from '../core/facts/sync-facts.ts';
import type { ChangeOptions, Context } from './command.ts';
import { isConfirmed } from './confirm.ts';
import { openArgument } from './theme-argument.ts';
import { planBumps } from './raising.ts';
import { count, plural } from '../core/text/sentence.ts';

/** Shows how versions are raised, asks, and raises them. @returns whether that was done */
export async function bumpFirst(
  context: Context,
  opened: readonly OpenedTheme[],
  part: VersionPart,
  options: ChangeOptions,
): Promise<boolean> {
  const raised = planBumps(context, opened, part);
  const isWanted = await isConfirmed(context, options, `Raise the ${plural(raised.length, 'version', 'versions')} and pack?`);
  if (isWanted) await context.applyAll(raised.map(({ plan }) => plan));
  return isWanted;
}

/** Shows the papers that themes lack, asks, and writes them. */
export async function writePapers(
  context: Context,
  opened: readonly OpenedTheme[],
  options: ChangeOptions,
): Promise<'none' | 'written' | 'refused'> {
  const { paint } = context;
  const year = new Date(context.io.now()).getUTCFullYear();
  const all = opened.map(({ theme, folder }) => ({ theme, ...planPapers(theme, folder, year) }));
  for (const { theme, files, unwritten } of all) {
    for (const file of files) context.say(`  ${paint.good('+')} ${theme.names.id}/${file}`);
    for (const { license } of unwritten)
      context.warn(
        `${paint.warn('▲')} ${theme.names.id}: no license is written: ${license === undefined ? 'the theme does not say which' : `put in the text of ${license} by hand, with who made the theme`}`,
      );
  }
  const plans = all.filter(({ files }) => files.length > 0).map(({ plan }) => plan);
  if (plans.length === 0) return 'none';
  const files = all.reduce((sum, each) => sum + each.files.length, 0);
  if (!(await isConfirmed(context, options, `Write ${count(files, 'file')} and pack?`))) return 'refused';
  await context.applyAll(plans);
  context.say(`${paint.good('✓')} ${count(files, 'file')} written; “pionero undo” reverts it.\n`);
  return 'written';
}

/** Themes and, where that is wished, what they build on: parents, shared files; what comes first in a chain comes first. */
export async function withBelow(
  context: Context,
  opened: readonly OpenedTheme[],
  { withParents, withCommons }: { readonly withParents: boolean; readonly withCommons: boolean },
): Promise<readonly OpenedTheme[]> {
  const all = new Map<string, OpenedTheme>();
  for (const each of opened) {
    const { themes, commons } = each.chain;
    for (const theme of themes.slice(1).toReversed()) {
      const folder = theme.place;
      if (folder === undefined || all.has(folder)) continue;
      if (commons.has(theme)) {
        const chain = { themes: [theme], commons: new Set([theme]) };
        if (withCommons) all.set(folder, { ...each, theme, folder, chain });
      } else if (withParents) all.set(folder, await openArgument(context.shown(folder), context));
    }
    all.delete(each.folder);
    all.set(each.folder, each);
  }
  return [...all.values()];
}
