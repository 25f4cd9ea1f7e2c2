import { readdirSync, readFileSync, readlinkSync } from 'node:fs';
import { isWithin } from '../files/paths.ts';

/** The status of a process (proc_pid_stat(5)). */
interface ProcessStat {
  readonly id: number;
  readonly parent: number;
  readonly group: number;
  readonly session: number;
  /** When it began, in ticks since the machine did: with the number it is the same process, and not one that came later. */
  readonly began: string;
  /** Pages of 4 KiB in memory. */
  readonly pages: number;
}

/** The name of the variable by which what a site's command starts is known, also when it leaves its group and its session. */
export const MARK = 'PIONERO_SITE_RUN';

/**
 * All that a command started: its children and theirs, also those that made a session of their own, or whose parent has ended. Where
 * the system has no `/proc`, only its group is known.
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
    return (this.#members().reduce((sum, { pages }) => sum + pages, 0) * 4) / 1024;
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

  #members(): ProcessStat[] {
    const all = processes();
    const isOurs = (each: ProcessStat): boolean =>
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

/** The processes of the machine, but for this one, and those that ended and wait for their parent. */
function processes(): ProcessStat[] {
  return names('/proc').flatMap((name): ProcessStat[] => {
    const id = Number(name);
    if (!/^\d+$/.test(name) || id === process.pid) return [];
    const stat = read(`/proc/${name}/stat`);
    // The name of the program is in brackets, and may hold some.
    const [state, parent, group, session, ...rest] = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    if (state === undefined || state === 'Z' || state === 'X' || rest.length < 18) return [];
    return [{ id, parent: Number(parent), group: Number(group), session: Number(session), began: rest[15] ?? '', pages: Number(rest[17]) }];
  });
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

function names(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
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
