import { readFileSync, readlinkSync } from 'node:fs';
import { listProcesses, type ProcessEntry } from '../changes/process-table.ts';
import { isWithin } from '../files/paths.ts';

/** The name of the variable by which what a site's command starts is known, also when it leaves its group and its session. */
export const MARK = 'PIONERO_SITE_RUN';

/**
 * All that a command started: its children and theirs, also those that made a session of their own, or whose parent has ended. Where
 * the system has no `/proc`, one whose parent ended before it was seen is not found.
 */
export class ProcessTree {
  readonly #root: number;
  readonly #mark: string;
  readonly #folder: string;
  readonly #known = new Map<number, string>();

  /**
   * @param root the number of the first process, which leads a group
   * @param mark the value of {@link MARK} that it was given
   * @param folder nothing else works in this folder; absolute
   */
  constructor(root: number, mark: string, folder: string) {
    this.#root = root;
    this.#mark = mark;
    this.#folder = folder;
  }

  /** How much memory they hold, in MiB; 0 where the system does not tell. To be asked now and then: who is seen once is known later. */
  look(): number {
    return this.#members().reduce((sum, { mebibytes }) => sum + mebibytes, 0);
  }

  /** Ends all of them. One may start another meanwhile: it is looked until none is left. */
  end(): void {
    kill(-this.#root);
    for (let round = 0; round < MOST_ROUNDS; round += 1) {
      const members = this.#members();
      if (members.length === 0) return;
      for (const { id } of members) kill(id);
    }
  }

  #members(): ProcessEntry[] {
    const all = listProcesses().filter(({ id }) => id !== process.pid);
    const isOurs = (each: ProcessEntry): boolean =>
      each.id === this.#root ||
      each.group === this.#root ||
      each.session === this.#root ||
      this.#known.get(each.id) === each.began ||
      this.#known.has(each.parent) ||
      isMarked(each.id, this.#mark) ||
      isIn(each.id, this.#folder);
    // A child is listed after its parent, or found in the next round.
    const members = all.filter((each) => {
      if (!isOurs(each)) return false;
      this.#known.set(each.id, each.began);
      return true;
    });
    const alive = new Map(all.map(({ id, began }) => [id, began]));
    for (const [id, began] of this.#known) if (alive.get(id) !== began) this.#known.delete(id);
    return members;
  }
}

const MOST_ROUNDS = 50;

function kill(id: number): void {
  try {
    process.kill(id, 'SIGKILL');
  } catch {
    // It has ended already.
  }
}

function isMarked(id: number, mark: string): boolean {
  return `\0${read(`/proc/${id}/environ`)}`.includes(`\0${MARK}=${mark}\0`);
}

function isIn(id: number, folder: string): boolean {
  try {
    return isWithin(readlinkSync(`/proc/${id}/cwd`), folder);
  } catch {
    return false;
  }
}

/** The text of a system file; '' of a process that ended meanwhile, or is another user's. */
function read(path: string): string {
  try {
    return readFileSync(path, 'latin1');
  } catch {
    return '';
  }
}
