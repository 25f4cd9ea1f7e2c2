import { openChain } from '../../theme/chain.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { Theme } from '../../theme/theme.ts';
import { beyondCounts, countFindings } from './baseline.ts';
import { checkTheme, type CheckOptions, type Finding } from './check.ts';

/** Whether a finding means that the theme is broken: an error, or what the host refuses the theme for. */
export function isBreaking({ severity, isRefusal }: Finding): boolean {
  return severity === 'error' || isRefusal;
}

/** The errors of a theme, as a plan leaves it, that it did not have before: what makes a sound theme broken. */
export function errorsBrought(before: Theme, after: Theme, shelves: Shelves, options: CheckOptions): Finding[] {
  const errorsOf = (theme: Theme): Finding[] => checkTheme(theme, openChain(theme, shelves), shelves, options).findings.filter(isBreaking);
  const errors = errorsOf(after);
  // Most changes bring none, and then it does not matter what there was.
  return errors.length === 0 ? [] : beyondCounts(countFindings(errorsOf(before)), errors);
}
