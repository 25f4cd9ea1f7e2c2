import { findInChain, type Chain, type ChainFile } from './chain.ts';

/** Finds the template of a page role along the chain and the order in which roles fall back. */
export function serveRole(chain: Chain, role: string): { file?: ChainFile | undefined; tried: string[] } {
  const roles = chain.themes[0]?.platform.contract.templates?.roles ?? {};
  const tried: string[] = [];
  for (let at: string | undefined = role; at !== undefined && tried.length <= Object.keys(roles).length; at = roles[at]?.else) {
    const path = roles[at]?.file;
    if (path === undefined) break;
    tried.push(path);
    const file = findInChain(chain, path);
    if (file !== undefined) return { file, tried };
  }
  return { tried };
}
