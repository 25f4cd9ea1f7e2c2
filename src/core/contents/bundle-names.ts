import { wholePattern } from '../names/shape.ts';
import type { Chain } from '../theme/chain.ts';

/** The names of the bundles that a theme and those that it builds on have documents for. */
export function bundleNames({ themes: [theme, ...parents] }: Chain): ReadonlySet<string> {
  const file = theme?.platform.contract.bundles?.file;
  if (theme === undefined || file === undefined) return new Set();
  const pattern = wholePattern(file);
  const entries = [theme, ...parents].flatMap(({ tree }) => (tree.whole ?? tree).entries);
  return new Set(entries.flatMap(({ path }) => pattern.exec(path)?.groups?.['name'] ?? []));
}
