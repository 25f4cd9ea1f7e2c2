import { fillShape } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';
import type { ThemeNames } from '../names/full-name.ts';
import type { Chain } from './chain.ts';
import type { Theme } from './theme.ts';

/** A theme, or a bag of shared files, and where it lies in a host, from the host's root. */
export interface Installed {
  readonly theme: Theme;
  readonly home: string;
}

/** Where a theme of these names lies in a host. */
export function homeOf(platform: Platform, names: ThemeNames): string {
  return fillShape(platform.contract.home, names);
}

/**
 * All that a host must have for a theme: itself, its parents, and the commons of each; in the order of the chain.
 * @param home where a site keeps themes, when that is elsewhere than the platform says
 */
export function installedOf({ themes, commons }: Chain, home?: string): Installed[] {
  return themes.map((theme) => {
    const shared = commons.has(theme) ? theme.platform.contract.inheritance.commons?.home : undefined;
    return { theme, home: fillShape(shared ?? home ?? theme.platform.contract.home, theme.names) };
  });
}
