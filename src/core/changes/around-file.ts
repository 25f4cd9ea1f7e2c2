import { readFileSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { RefusedError } from '../errors.ts';
import { isSameFolder, kindOnDisk, linkTarget } from '../files/disk.ts';
import { readContent } from '../files/memory-tree.ts';
import type { ChangePlan, Operation } from './plan.ts';

/**
 * Turns a plan for a root that is one file into a plan for the folder around it: others have their files there, so it cannot be built beside and
 * put into its place. Any other plan stays as it is.
 */
export function planAroundFile(plan: ChangePlan): ChangePlan {
  const { title, root, isNewRoot, isFile, replaces, basis } = plan;
  if (!(isFile ?? kindOnDisk(root) === 'file')) return plan;
  const target = linkTarget(root);
  if (target !== undefined)
    throw new RefusedError({
      what: `${root} is a link to ${target}`,
      why: 'a file would take the place of the link, and the theme itself would stay as it is',
      hint: 'change the theme where it really lies',
    });
  const operations = plan.operations.flatMap((operation) =>
    isNewRoot ? inPlaceOf(operation, replaces === root ? root : undefined) : operation,
  );
  const leaves: Operation[] = replaces === undefined || replaces === root ? [] : [{ op: 'remove', path: basename(replaces) }];
  // Under a name that the system takes for the same, the old file goes first.
  const isOne = replaces !== undefined && kindOnDisk(root) !== undefined && isSameFolder(root, replaces);
  return {
    title,
    root: dirname(root),
    isNewRoot: false,
    basis,
    operations: isOne ? [...leaves, ...operations] : [...operations, ...leaves],
  };
}

/** Making a file where one lies already is a change. */
function inPlaceOf(operation: Operation, there: string | undefined): Operation[] {
  if (operation.op !== 'create' || there === undefined) return [operation];
  const [before, bytes] = [readFileSync(there), readContent(operation.content)];
  return before.equals(bytes) ? [] : [{ op: 'edit', path: operation.path, before, bytes }];
}
