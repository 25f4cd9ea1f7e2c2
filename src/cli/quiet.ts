import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** Editors save in several steps: so many milliseconds of quiet end one. */
const QUIET_MS = 120;
/** Of a change of many files, another branch or a long copy, longer pauses are part. */
const FEW = 3;
const MANY_QUIET_MS = 500;
const MOST_QUIET_MS = 1500;
/** What never comes to an end is looked at all the same. */
const MOST_WAIT_MS = 15_000;

/** Gathers changes of files until they have come to an end, and then reports all of them. */
export class QuietTime {
  readonly #tell: (paths: readonly string[]) => void;
  readonly #changed = new Set<string>();
  #timer: NodeJS.Timeout | undefined;
  #since = 0;

  /** @param tell is given the absolute paths of what changed, each once */
  constructor(tell: (paths: readonly string[]) => void) {
    this.#tell = tell;
  }

  /** Takes in that something changed. @param path absolute */
  add(path: string): void {
    if (this.#changed.size === 0) this.#since = Date.now();
    this.#changed.add(path);
    this.#wait();
  }

  close(): void {
    clearTimeout(this.#timer);
    this.#changed.clear();
  }

  #wait(): void {
    clearTimeout(this.#timer);
    const { size } = this.#changed;
    const quiet = size <= FEW ? QUIET_MS : Math.min(MOST_QUIET_MS, MANY_QUIET_MS + size);
    this.#timer = setTimeout(() => {
      const paths = [...this.#changed];
      // Git holds its index locked for as long as it changes files.
      const isBusy = Date.now() - this.#since < MOST_WAIT_MS && paths.some(isIndexLocked);
      if (isBusy) return this.#wait();
      this.#changed.clear();
      this.#tell(paths);
    }, quiet);
  }
}

/** Whether the repository that a path lies in is being changed by Git. */
function isIndexLocked(path: string): boolean {
  for (let at = dirname(path); dirname(at) !== at; at = dirname(at)) {
    const folder = join(at, '.git');
    if (existsSync(folder)) return existsSync(join(folder, 'index.lock'));
  }
  return false;
}
