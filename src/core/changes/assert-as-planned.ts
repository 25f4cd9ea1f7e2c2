import { promises as fs } from 'node:fs';
import { join } from 'node:path';
import { RefusedError } from '../errors.ts';
import { foldedPath } from '../files/portable-names.ts';
import type { ChangePlan } from './plan.ts';
import type { DiskOrigin } from '../files/file-tree.ts';

/**
 * Compares what a plan touches or copies with what it was planned on: a question may have been on the screen for an hour.
 * @throws RefusedError when a file changed, came or went since
 */
export async function assertAsPlanned(plan: ChangePlan): Promise<void> {
  const changed = new Set<string>();
  for (const tree of treesOf(plan)) for (const path of tree.changes()) changed.add(join(tree.root, path));
  for (const operation of plan.operations) {
    if (operation.op !== 'edit') continue;
    const path = join(plan.root, operation.path);
    const now = await fs.readFile(path).catch(() => undefined);
    if (now?.equals(operation.before) !== true) changed.add(path);
    // The same content under another time does not count as a change.
    else changed.delete(path);
  }
  const leaving = new Set(plan.operations.flatMap(({ op, path }) => (op === 'remove' ? [foldedPath(path)] : [])));
  if (!plan.isNewRoot) {
    for (const { op, path } of plan.operations) {
      const full = join(plan.root, path);
      if (
        (op === 'create' || op === 'link') &&
        !leaving.has(foldedPath(path)) &&
        (await fs.lstat(full).catch(() => undefined)) !== undefined
      )
        changed.add(full);
    }
  }
  if (changed.size === 0) return;
  const [first = '', ...more] = [...changed].sort();
  throw new RefusedError({
    what: `${first}${more.length === 0 ? '' : ` and ${more.length} more`} changed after the plan was made`,
    why: 'applying it would overwrite those changes',
    hint: 'nothing was written; run it again',
  });
}

/** The folders on disk that a plan takes files from. */
function treesOf({ basis, operations }: ChangePlan): Set<DiskOrigin> {
  const contents = operations.flatMap((operation) => (operation.op === 'create' && 'tree' in operation.content ? [operation.content] : []));
  return new Set([basis, ...contents.map(({ tree }) => tree)].flatMap((tree) => tree?.disk ?? []));
}
