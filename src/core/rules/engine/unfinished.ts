import type { Chain } from '../../theme/chain.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { Theme } from '../../theme/theme.ts';
import { checkTheme, type Finding } from './check.ts';
import { RULES } from '../rules.ts';

/** Why a theme is not fit to be used or shown yet, whatever the host makes of it: conflicts that nobody has decided. */
export function unfinishedIn(theme: Theme, chain: Chain, shelves: Shelves): readonly Finding[] {
  return checkTheme(theme, chain, shelves, { rules: RULES.filter(({ meta }) => meta.isUnfinished === true) }).findings;
}
