import { setImmediate as turn } from 'node:timers/promises';
import { compareText } from '../files/file-tree.ts';
import { checkInSteps, checkOptionsOf, checkTheme, type CheckOptions, type CheckResult, type Finding } from '../rules/engine/check.ts';
import { hasUnloadedRules } from '../rules/engine/own-rules.ts';
import { RULES } from '../rules/rules.ts';
import { chainOf } from '../theme/chain.ts';
import type { OpenedTheme } from '../theme/open.ts';
import type { EditedFile } from './editor-workspace.ts';
import { FocusTree } from './focus-tree.ts';

/** The rules that can be asked about one file alone; those that look at texts one by one are among them. */
const LOCAL_RULES = RULES.filter(
  (rule) =>
    rule.meta.isOfOneFile === true ||
    ((rule.checkText !== undefined || rule.checkFile !== undefined) && rule.check === undefined && rule.after === undefined),
);
const LOCAL_IDS: ReadonlySet<string> = new Set(LOCAL_RULES.map(({ meta }) => meta.id));

/**
 * Judges one file by the rules that need no other one, in a small part of the time of a whole check.
 * @param before the findings of the last whole check in that file: those of other rules stay as they are
 */
export function judgeFile({ opened, theme, chain, path }: EditedFile, before: readonly Finding[]): Finding[] {
  const focused = theme.over(new FocusTree(theme.tree, path));
  const options = optionsOf(opened);
  const { findings } = checkTheme(focused, chainOf(chain, [focused, ...chain.themes.slice(1)]), opened.shelves, {
    ...options,
    rules: LOCAL_RULES,
  });
  return [...findings.filter(({ file }) => file === path), ...before.filter(({ rule }) => !LOCAL_IDS.has(rule))].sort(
    (a, b) => a.line - b.line || a.column - b.column || a.length - b.length || compareText(a.rule, b.rule),
  );
}

/** Without the modules of extra rules, entries that accept their findings would look unused. */
function optionsOf({ configuration }: OpenedTheme): CheckOptions {
  const options = checkOptionsOf(configuration);
  return hasUnloadedRules(configuration) ? { ...options, severities: { ...options.severities, 'accept/unused': 'off' } } : options;
}

function judgeTheme({ opened, theme, chain }: Omit<EditedFile, 'path'>): Generator<undefined, CheckResult> {
  return checkInSteps(theme, chain, opened.shelves, optionsOf(opened));
}

/** So long a check works before whoever has other work can do it, in milliseconds. */
const SLICE_MS = 12;

/** Judges a whole theme, and lets others work meanwhile; undefined when it is of no use any more. */
export async function judgeInSlices(theme: Omit<EditedFile, 'path'>, isWanted: () => boolean): Promise<CheckResult | undefined> {
  const steps = judgeTheme(theme);
  for (;;) {
    await turn();
    if (!isWanted()) return undefined;
    const end = performance.now() + SLICE_MS;
    do {
      const step = steps.next();
      if (step.done === true) return step.value;
    } while (performance.now() < end);
  }
}
