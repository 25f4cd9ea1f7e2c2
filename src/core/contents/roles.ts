import { findInChain, type Chain, type ChainFile } from '../theme/chain.ts';
import { builtInServing } from './serving.ts';

/** What serves a page role, and the paths that were looked at. */
export interface ServedRole {
  readonly file?: ChainFile | undefined;
  /** When a parent that every host brings serves it: its id, and the path there. */
  readonly builtIn?: { readonly id: string; readonly path: string } | undefined;
  readonly tried: string[];
}

/** Finds the template of a page role along the chain and the order in which roles fall back. */
export function serveRole(chain: Chain, role: string): ServedRole {
  const roles = chain.themes[0]?.platform.contract.templates?.roles ?? {};
  const tried: string[] = [];
  for (let at: string | undefined = role; at !== undefined && tried.length <= Object.keys(roles).length; at = roles[at]?.else) {
    const path = roles[at]?.file;
    if (path === undefined) break;
    tried.push(path);
    const file = findInChain(chain, path);
    if (file !== undefined) return { file, tried };
    const id = builtInServing(chain, path);
    if (id !== undefined) return { builtIn: { id, path }, tried };
  }
  return { tried };
}
