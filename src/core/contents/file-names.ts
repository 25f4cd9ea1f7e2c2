import { kindOfPath, type FileKind } from '../text/file-kinds.ts';
import { NameGuesser } from '../text/nearest.ts';
import type { Theme } from '../theme/theme.ts';

/** The paths of a theme's files, to tell which of them a wrong path may have meant. */
export class FileNames {
  readonly #byLowerCase: ReadonlyMap<string, string>;
  readonly #files: readonly string[];
  readonly #guessers = new Map<FileKind, NameGuesser>();

  constructor(theme: Theme) {
    const files = (theme.tree.whole ?? theme.tree).entries.filter((entry) => entry.kind !== 'folder').map((entry) => entry.path);
    this.#files = files;
    // Of two that differ by case alone the first counts.
    this.#byLowerCase = new Map(files.toReversed().map((path) => [path.toLowerCase(), path]));
  }

  sameButCase(path: string): string | undefined {
    return this.#byLowerCase.get(path.toLowerCase());
  }

  /** @param from the file that the path stands in, which does not mean itself */
  near(path: string, from?: string): string | undefined {
    // Who names a picture never means a stylesheet; an ending that is not known can be a slip for any.
    const kind = kindOfPath(path);
    const isMeant = (each: string): boolean => kind === 'other' || kindOfPath(each) === kind;
    const guesser = this.#guessers.get(kind) ?? new NameGuesser(this.#files.filter(isMeant));
    this.#guessers.set(kind, guesser);
    return guesser.nearest(path, from);
  }
}

/** The file names of a theme; several rules ask for them. */
export function fileNamesOf(theme: Theme): FileNames {
  return new FileNames(theme);
}
