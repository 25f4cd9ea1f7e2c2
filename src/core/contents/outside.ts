import { posix } from 'node:path';
import { pathBelow, resolveInTree } from '../files/file-tree.ts';
import type { Chain } from '../theme/chain.ts';
import type { ThemeNames } from '../names/full-name.ts';
import type { Platform } from '../platform/platform.ts';
import { homeOf } from '../theme/layout.ts';
import { pathOfAddress, servedAt } from './serving.ts';
import type { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';

/** The target of an address that leaves its theme, in a host. */
export type Outside =
  /** A theme that is at hand, and the path in it. */
  | { readonly kind: 'theme'; readonly theme: Theme; readonly path: string; readonly isServed: boolean }
  /** A place where the host keeps a theme that is not at hand. */
  | { readonly kind: 'stranger'; readonly name: string }
  /** A place of the host's own, of which nothing is known here. */
  | { readonly kind: 'host' };

/** The address of a file of another theme from a folder of this one, as both lie in a host. */
export function addressInto(other: Theme, path: string, platform: Platform, names: ThemeNames, folder: string): string {
  return posix.relative(posix.join(homeOf(platform, names), folder), posix.join(homeOf(platform, other.names), path));
}

/**
 * Resolves an address that leads out of a theme from where the theme lies in a host; undefined when it leads out of the host.
 * @param folder where the address stands, from the theme’s root
 */
export function outsideOf(chain: Chain, shelves: Shelves, folder: string, address: string): Outside | undefined {
  const [theme] = chain.themes;
  if (theme === undefined) return undefined;
  const { platform } = theme;
  const home = homeOf(platform, theme.names);
  const place = resolveInTree(posix.join(home, folder), address);
  if (place === undefined) return undefined;
  const inTheme = (other: Theme): Outside | undefined => {
    const below = pathBelow(homeOf(platform, other.names), place);
    if (below === undefined) return undefined;
    const path = pathOfAddress(platform, below);
    return { kind: 'theme', theme: other, path, isServed: servedAt({ themes: [other], commons: new Set() }, path) !== undefined };
  };
  for (const other of chain.themes) {
    const found = chain.commons.has(other) ? undefined : inTheme(other);
    if (found !== undefined) return found;
  }
  for (const shelved of shelves.list()) {
    const found = pathBelow(homeOf(platform, shelved.names), place) === undefined ? undefined : inTheme(shelves.open(shelved));
    if (found !== undefined) return found;
  }
  const name = pathBelow(posix.dirname(home), place)?.split('/')[0];
  const isKnown = name === undefined || name === '' || platform.contract.inheritance['built-in'].includes(name);
  return isKnown ? { kind: 'host' } : { kind: 'stranger', name };
}
