import { findInChain, type Chain, type ChainFile } from '../theme/chain.ts';
import { isInSpan, releasesInRange } from '../platform/platform.ts';
import type { Theme } from '../theme/theme.ts';
import { withEndings } from '../templates/template-index.ts';
import { builtInServing } from './serving.ts';

/** The page roles that the releases ask for which a theme says it is for, in the platform’s order. */
export function rolesOf({ platform, hosts }: Theme): string[] {
  const releases = releasesInRange(platform, hosts);
  return Object.entries(platform.contract.templates?.roles ?? {}).flatMap(([name, role]) =>
    releases.length === 0 || isInSpan(role, releases) ? [name] : [],
  );
}

/** What serves a page role, and the paths that were looked at. */
export interface ServedRole {
  readonly file?: ChainFile | undefined;
  /** When a parent that every host brings serves it: its id, and the path there. */
  readonly builtIn?: { readonly id: string; readonly path: string } | undefined;
  readonly tried: string[];
}

/** Finds the template of a page role along the chain and the order in which roles fall back. */
export function serveRole(chain: Chain, role: string): ServedRole {
  const templates = chain.themes[0]?.platform.contract.templates;
  const roles = templates?.roles ?? {};
  const tried: string[] = [];
  for (let at: string | undefined = role; at !== undefined && tried.length <= Object.keys(roles).length; at = roles[at]?.else) {
    const first = roles[at]?.file;
    if (templates === undefined || first === undefined) break;
    tried.push(first);
    for (const path of withEndings(templates, first)) {
      const file = findInChain(chain, path);
      if (file !== undefined) return { file, tried };
      const id = builtInServing(chain, path);
      if (id !== undefined) return { builtIn: { id, path }, tried };
    }
  }
  return { tried };
}
