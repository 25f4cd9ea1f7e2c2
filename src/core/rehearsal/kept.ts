import { DiskTree } from '../files/disk-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { copyOperations, plannedItems, type Operation } from '../changes/plan.ts';
import type { StandInHost } from './host.ts';
import { rehearse, type Rehearsal, type RehearsalRequest } from './rehearse.ts';

/** A rehearsal with the files of its host, which is gone by then. */
export interface KeptRehearsal extends Rehearsal {
  /** From the site’s root. */
  readonly files: FileTree;
}

/** Rehearses a theme and keeps the files of the host in memory. */
export async function rehearseKept(request: Omit<RehearsalRequest, 'keep'>): Promise<KeptRehearsal> {
  let files: FileTree = MemoryTree.of({});
  const keep = async (host: StandInHost): Promise<void> => {
    const tree = new DiskTree(host.folder);
    files = new MemoryTree(plannedItems(copyOperations(tree).map((operation) => inMemory(operation, tree))));
  };
  return { ...(await rehearse({ ...request, keep })), files };
}

/** A file whose bytes are here, and not in a tree that will be gone. */
function inMemory(operation: Operation, tree: FileTree): Operation {
  return operation.op === 'create' ? { ...operation, content: { bytes: tree.read(operation.path) } } : operation;
}
