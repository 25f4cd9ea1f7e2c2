import { followLinks } from '../files/file-tree.ts';
import type { Chain } from '../theme/chain.ts';
import { builtInServing, sourcesOf } from '../contents/serving.ts';
import { isOffered, layersOf } from './trace.ts';

/** One step of the way to a file: where was looked, and what came of it. */
export interface TraceStep {
  /** The role that was asked for, where one was. */
  readonly role?: string | undefined;
  readonly path: string;
  readonly layer: number;
  readonly found: 'taken' | 'shadowed' | 'not-there' | 'not-inherited' | 'brought' | 'made';
  /** The parts that it is made of. */
  readonly by?: string | undefined;
}

/** How the host comes to a file or the template of a role. */
export interface Explanation {
  readonly steps: readonly TraceStep[];
  /** Whether anything serves it. */
  readonly isServed: boolean;
}

/** Explains step by step where the host looks for a role’s template, or for a file by its path. */
export function explainTrace(chain: Chain, wanted: string): Explanation {
  const roles = chain.themes[0]?.platform.contract.templates?.roles ?? {};
  if (!Object.hasOwn(roles, wanted)) {
    const steps = stepsTo(chain, wanted);
    return { steps, isServed: steps.some(isServing) };
  }
  const steps: TraceStep[] = [];
  const seen = new Set<string>();
  for (let role: string | undefined = wanted; role !== undefined && !seen.has(role); role = roles[role]?.else) {
    seen.add(role);
    const path = roles[role]?.file;
    if (path === undefined) break;
    const own = stepsTo(chain, path).map((step) => ({ ...step, role }));
    steps.push(...own);
    if (own.some(isServing)) return { steps, isServed: true };
  }
  return { steps, isServed: false };
}

function isServing({ found }: TraceStep): boolean {
  return found === 'taken' || found === 'brought' || found === 'made';
}

function stepsTo(chain: Chain, path: string): TraceStep[] {
  let isTaken = false;
  const steps = chain.themes.map((theme, layer): TraceStep => {
    const isThere = followLinks(theme.tree, path)?.kind === 'file';
    if (!isThere) return { path, layer, found: 'not-there' };
    if (!isOffered(chain, layer, path)) return { path, layer, found: 'not-inherited' };
    const found = isTaken ? 'shadowed' : 'taken';
    isTaken = true;
    return { path, layer, found };
  });
  if (isTaken) return steps;
  const [theme] = chain.themes;
  for (const source of theme === undefined ? [] : sourcesOf(theme.platform, path)) {
    const at = chain.themes.findIndex((each, i) => isOffered(chain, i, source) && each.tree.get(source)?.kind === 'file');
    if (at >= 0) return [...steps, { path, layer: at, found: 'made', by: source }];
  }
  const id = builtInServing(chain, path);
  if (id === undefined) return steps;
  const layer = layersOf(chain).findIndex((each) => each.kind === 'built-in' && each.id === id);
  return [...steps, { path, layer, found: 'brought' }];
}
