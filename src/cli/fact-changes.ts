import { planBetween } from '../core/changes/plan-between.ts';
import type { ChangePlan } from '../core/changes/plan.ts';
import { parentMentions } from '../core/contents/parent-mentions.ts';
import { PioneroError, RefusedError } from '../core/errors.ts';
import { writtenPaths } from '../core/facts/set-facts.ts';
import { checkOptionsOf, type Finding } from '../core/rules/engine/check.ts';
import { errorsBrought } from '../core/rules/engine/errors-brought.ts';
import { isSameField, type Fact } from '../core/theme/documents.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Theme } from '../core/theme/theme.ts';
import { count } from '../core/text/sentence.ts';

/** One fact of a theme, before and after. */
export interface FactLine {
  readonly fact: string;
  readonly before: string | null;
  readonly after: string;
  readonly file: string;
}

/** How the facts of a theme change. */
export interface ChangedFacts {
  /** The theme as it becomes. */
  readonly theme: Theme;
  readonly changes: readonly FactLine[];
  readonly plan: ChangePlan;
  /** The files that are written. */
  readonly files: readonly string[];
  /** The errors that this brings. */
  readonly broken: readonly Finding[];
}

/** Plans to write a theme with other facts. @param title the plan’s purpose, without the theme */
export function planFacts({ theme, folder, shelves, configuration }: OpenedTheme, changed: Theme, title: string): ChangedFacts {
  const inDocuments = changed.facts.flatMap((fact): FactLine[] => {
    const before = theme.facts.find(
      (each) => each.name === fact.name && each.document.path === fact.document.path && isSameField(each.field, fact.field),
    );
    return shownFact(fact) === (before === undefined ? undefined : shownFact(before))
      ? []
      : [{ fact: fact.name, before: before === undefined ? null : shownFact(before), after: shownFact(fact), file: fact.document.path }];
  });
  const named = parentMentions(changed);
  const inTemplates = parentMentions(theme).flatMap(({ id, file }, i): FactLine[] =>
    named[i] === undefined || named[i].id === id ? [] : [{ fact: 'parent', before: id, after: named[i].id, file }],
  );
  const touched = writtenPaths(theme, changed);
  const plan = planBetween(`${title} (${theme.names.id})`, folder, theme.asRead(touched), changed.tree, touched);
  const files = plan.operations.flatMap(({ op, path }) => (op === 'folder' ? [] : [path]));
  const broken = files.length === 0 ? [] : errorsBrought(theme, changed, shelves, checkOptionsOf(configuration));
  return { theme: changed, changes: [...inDocuments, ...inTemplates], plan, files, broken };
}

/**
 * Plans to change the facts of many themes in one step.
 * @throws RefusedError with each theme that cannot be changed so, and the reason; the only reason itself where it is the same for all
 */
export function planFactsOfAll(opened: readonly OpenedTheme[], change: (theme: Theme) => Theme, title: string): ChangedFacts[] {
  const refused: { id: string; error: PioneroError }[] = [];
  const planned = opened.flatMap((each) => {
    try {
      return [planFacts(each, change(each.theme), title)];
    } catch (error) {
      if (!(error instanceof PioneroError)) throw error;
      refused.push({ id: each.theme.names.id, error });
      return [];
    }
  });
  const [first] = refused;
  if (first === undefined) return planned;
  if (refused.length === opened.length && refused.every(({ error }) => error.what === first.error.what)) throw first.error;
  throw new RefusedError({
    what: `${count(refused.length, 'theme')} of ${opened.length} cannot be changed this way: nothing was written`,
    why: refused.map(({ id, error }) => `${id}: ${error.what}`).join('; '),
    hint: 'fix these first, or name the others alone',
  });
}

/** The value of a fact, for people. */
export function shownFact({ value }: { readonly value?: Fact['value'] | null }): string {
  if (value === undefined || value === null) return '(not known without running code)';
  if (typeof value === 'string') return value;
  if (Array.isArray(value)) return value.join(', ');
  return Object.entries(value)
    .map(([key, part]) => `${key}: ${part}`)
    .join(', ');
}
