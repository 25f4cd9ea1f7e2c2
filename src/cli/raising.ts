import { planBetween } from '../core/changes/plan-between.ts';
import type { ChangePlan } from '../core/changes/plan.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { writtenPaths } from '../core/facts/set-facts.ts';
import { bumpVersion, type VersionPart } from '../core/facts/sync-facts.ts';
import type { Context } from './command.ts';

/** How a theme’s version is raised. */
export interface Raised {
  readonly id: string;
  readonly before: string;
  readonly after: string;
  readonly plan: ChangePlan;
}

/** Today, in Coordinated Universal Time: 2026-06-12. */
export function dateOf({ io }: Context): string {
  return new Date(io.now()).toISOString().slice(0, 10);
}

/** Plans to raise the versions of several themes, and shows how. */
export function planBumps(context: Context, opened: readonly OpenedTheme[], part: VersionPart): Raised[] {
  const { paint } = context;
  const raised = opened.map(({ theme, folder }) => {
    const { theme: after } = bumpVersion(theme, part, dateOf(context));
    const touched = writtenPaths(theme, after);
    const plan = planBetween(`meta bump ${part} (${theme.names.id})`, folder, theme.asRead(touched), after.tree, touched);
    return { id: theme.names.id, before: theme.text('version') ?? '', after: after.text('version') ?? '', plan };
  });
  const width = Math.max(...raised.map(({ id }) => id.length));
  for (const { id, before, after } of raised)
    context.say(`  ${paint.strong(id.padEnd(width))}  ${before} ${paint.faint('→')} ${paint.good(after)}`);
  return raised;
}
