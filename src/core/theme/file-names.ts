import { NameGuesser } from '../text/nearest.ts';
import type { Theme } from './theme.ts';

/** The paths of a theme's files, to tell which of them a wrong path may have meant. */
export class FileNames {
  readonly #byLowerCase: ReadonlyMap<string, string>;
  readonly #guesser: NameGuesser;

  constructor(theme: Theme) {
    const files = theme.tree.entries.filter((entry) => entry.kind !== 'folder').map((entry) => entry.path);
    this.#guesser = new NameGuesser(files);
    // Of two that differ by case alone the first counts.
    this.#byLowerCase = new Map(files.toReversed().map((path) => [path.toLowerCase(), path]));
  }

  sameButCase(path: string): string | undefined {
    return this.#byLowerCase.get(path.toLowerCase());
  }

  /** @param from the file that the path stands in, which does not mean itself */
  near(path: string, from?: string): string | undefined {
    return this.#guesser.nearest(path, from);
  }
}

/** The file names of a theme; several rules ask for them. */
export function fileNamesOf(theme: Theme): FileNames {
  return new FileNames(theme);
}
