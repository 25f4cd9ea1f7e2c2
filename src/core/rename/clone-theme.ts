import { resolve } from 'node:path';
import { plannedTree, type ChangePlan } from '../changes/plan.ts';
import { fillPlace } from '../platform/platform.ts';
import { assertFree, assertNamesAllowed, fullNameOf } from '../scaffold/new-theme.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { Shelves } from '../theme/shelf.ts';
import { newName, type FullName } from './names.ts';
import { renameTree, type RenamedTree } from './rename-tree.ts';
import { scanForLeftovers, type Leftover } from './second-scan.ts';

export interface CloneRequest {
  readonly source: OpenedTheme;
  readonly id: string;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  /** The shelf that the clone is made on; absolute. */
  readonly into: string;
  /** Texts in which the old name stays. */
  readonly keep: readonly string[];
}

export interface ThemeClone extends RenamedTree {
  readonly from: FullName;
  readonly to: FullName;
  readonly plan: ChangePlan;
  /** What a second scan of the planned result found that is neither kept nor unsure. */
  readonly leftovers: readonly Leftover[];
}

/**
 * Plans a copy of a theme under another name. Writes nothing.
 * @throws UsageError when the new name cannot be used
 * @throws RefusedError when it is taken
 */
export function planClone(request: CloneRequest): ThemeClone {
  const { source, into } = request;
  const { theme, shelves } = source;
  const from = fullNameOf(theme);
  const to = newName(from, request, theme.platform);
  assertNamesAllowed(to, theme.platform);
  const root = resolve(into, fillPlace(theme.platform, to));
  assertFree(to, root, new Shelves(theme.platform, [into, ...shelves.folders]));
  const renamed = renameTree({ theme, from, to, otherThemes: namesOfOthers(source), keep: request.keep });
  const leftovers = scanForLeftovers(plannedTree(renamed.operations), from, to, [...renamed.kept, ...renamed.unsure]);
  const plan: ChangePlan = { title: `clone ${from.id} → ${to.id}`, root, isNewRoot: true, operations: renamed.operations };
  return { ...renamed, from, to, plan, leftovers };
}

/** Ids and titles of the other themes on the shelves and in the chain. */
function namesOfOthers({ theme, chain, shelves }: OpenedTheme): string[] {
  const shelved = shelves.list().filter((each) => each.names.id !== theme.names.id);
  const names = shelved.flatMap((each) => [each.names.id, shelves.open(each).names.title ?? '']);
  const parents = chain.themes.slice(1).flatMap((each) => [each.names.id, each.names.title ?? '']);
  return [...new Set([...names, ...parents])].filter((name) => name !== '' && name !== theme.names.title);
}
