import { fileToTake } from '../rules/advice.ts';
import type { CheckOptions, Finding } from '../rules/engine/check.ts';
import { errorsBrought } from '../rules/engine/errors-brought.ts';
import { withProposals } from '../rules/engine/fix.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { takeFromParent, type TakenFiles, type TakeRequest } from './take.ts';

/** What to do about files of a parent that copies ask for and the host does not take from there: copy them, or lead the copies to them. */
export type NeedAnswer = 'take' | 'address';

/** A file of a parent that copies ask for, and the host does not take from there. */
export interface Need {
  /** From the root of the theme that has it. */
  readonly path: string;
  /** The id of that theme. */
  readonly theme: string;
  /** The places that ask for it. */
  readonly by: readonly Finding[];
  /** Whether each of these places can be led to the parent’s. */
  readonly canAddress: boolean;
}

export interface TakenWithNeeds extends TakenFiles {
  /** The files that are still needed. */
  readonly needs: readonly Need[];
  /** The errors that the copies bring besides. */
  readonly errors: readonly Finding[];
}

export interface NeedsRequest extends TakeRequest {
  /** The child as it is without the copies. */
  readonly before: Theme;
  readonly shelves: Shelves;
  readonly options: CheckOptions;
  /** The answer to needs; they stay when left out. */
  readonly answer?: NeedAnswer | undefined;
}

/**
 * Puts copies of a parent's files into a child with what they need there.
 * @throws UsageError when nothing serves one of them
 */
export function takeWithNeeds(request: NeedsRequest): TakenWithNeeds {
  const { before, shelves, options, answer } = request;
  const themeOf = (taken: TakenFiles): Theme => new Theme(before.platform, taken.tree, before.names, before.location);
  const judged = (taken: TakenFiles): TakenWithNeeds => {
    const errors = errorsBrought(before, themeOf(taken), shelves, options);
    return { ...taken, needs: needsOf(errors), errors: errors.filter(({ hint }) => fileToTake(hint) === undefined) };
  };
  let result = judged(takeFromParent(request));
  if (answer === 'address') {
    const addressed = result.needs.filter(({ canAddress }) => canAddress).flatMap(({ by }) => by);
    const notes = addressed.flatMap(({ file, args, fix }) => {
      const to = fix?.title.args['to'];
      return to === undefined ? [] : [{ code: 'address-changed' as const, file, from: String(args['target']), to: String(to) }];
    });
    return judged({ ...result, tree: withProposals(themeOf(result), addressed).tree, notes: [...result.notes, ...notes] });
  }
  // A copy can need more files.
  let wanted = request.wanted;
  for (;;) {
    const known = wanted;
    const more = answer === 'take' ? result.needs.map(({ path }) => path).filter((path) => !known.includes(path)) : [];
    if (more.length === 0) return result;
    wanted = [...known, ...more];
    result = judged(takeFromParent({ ...request, wanted }));
  }
}

function needsOf(errors: readonly Finding[]): Need[] {
  const needs = new Map<string, Need>();
  for (const finding of errors) {
    const wanted = fileToTake(finding.hint);
    if (wanted === undefined) continue;
    const known = needs.get(wanted.path);
    const canAddress = finding.fix !== undefined && known?.canAddress !== false;
    needs.set(wanted.path, { path: wanted.path, theme: wanted.id, by: [...(known?.by ?? []), finding], canAddress });
  }
  return [...needs.values()];
}
