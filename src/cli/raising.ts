import type { ChangePlan } from '../core/changes/plan.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import type { Theme } from '../core/theme/theme.ts';
import { bumpVersion, type VersionPart } from '../core/facts/sync-facts.ts';
import type { Context } from './command.ts';
import { planFactsOfAll } from './fact-changes.ts';

/** How a theme’s version is raised. */
export interface Raised {
  readonly id: string;
  readonly before: string;
  readonly after: string;
  readonly plan: ChangePlan;
  /** The errors that this brings. */
  readonly broken: readonly Finding[];
}

/** Today, in Coordinated Universal Time: 2026-06-12. */
export function dateOf({ io }: Context): string {
  return new Date(io.now()).toISOString().slice(0, 10);
}

/** Plans to raise the versions of several themes, and shows how. @throws RefusedError with each that cannot be raised */
export function planBumps(context: Context, opened: readonly OpenedTheme[], part: VersionPart): Raised[] {
  const { paint } = context;
  const raise = (theme: Theme): Theme => bumpVersion(theme, part, dateOf(context)).theme;
  const raised = planFactsOfAll(opened, raise, `meta bump ${part}`).map(({ theme, plan, broken }, i): Raised => {
    const before = opened[i]?.theme.text('version') ?? '';
    return { id: theme.names.id, before, after: theme.text('version') ?? '', plan, broken };
  });
  const width = Math.max(...raised.map(({ id }) => id.length));
  for (const { id, before, after } of raised)
    context.say(`  ${paint.strong(id.padEnd(width))}  ${before} ${paint.faint('→')} ${paint.good(after)}`);
  return raised;
}
