import { baseOf, folderOf, resolveInTree, withoutEnding } from '../files/file-tree.ts';
import type { TextRange } from '../text/edits.ts';
import { stretchAround } from '../text/stretch.ts';
import type { Reason } from './reason.ts';

/** A reference to something that moves, cut down to the one part of the path that an occurrence lies in. */
export interface MovedPart {
  readonly part: string;
  /** The name of the file or folder afterward. */
  readonly becomes: string;
  /** Where the part begins in the text. */
  readonly start: number;
}

/** The paths that a rename moves, so that what refers to them can be told from other text. */
export class MovedPaths {
  /** By the name that a file or folder had, the one that it gets. */
  readonly #names: ReadonlyMap<string, string>;
  /** Names with their endings, and those of folders. */
  readonly #whole: ReadonlySet<string>;
  /** By the name without its ending, the folders in which such files lie. */
  readonly #folders = new Map<string, Set<string>>();

  /**
   * @param staying names of files that keep them
   * @param canLeaveEndings whether a reference may leave the ending out: partials/albar-nav for partials/albar-nav.html
   */
  constructor(moved: Iterable<readonly [from: string, to: string]>, staying: Iterable<string> = [], canLeaveEndings = true) {
    // What moves with its folder alone keeps its name.
    const renamed = [...moved].filter(([from, to]) => !canLeaveEndings || baseOf(from) !== baseOf(to));
    for (const [from] of renamed) {
      const stem = baseOf(withoutEnding(from));
      if (stem !== baseOf(from)) this.#folders.set(stem, (this.#folders.get(stem) ?? new Set()).add(baseOf(folderOf(from))));
    }
    const stems = canLeaveEndings ? renamed.map(([from, to]) => [baseOf(withoutEnding(from)), baseOf(withoutEnding(to))] as const) : [];
    // Where sheet.css stays, sheet.css.map has no say in what is called sheet.css.
    const others = new Set(staying);
    this.#whole = new Set(renamed.map(([from]) => baseOf(from)));
    this.#names = new Map([
      ...stems.filter(([stem]) => !others.has(stem)),
      ...renamed.map(([from, to]) => [baseOf(from), baseOf(to)] as const),
    ]);
  }

  /** Whether something that moves is called so, with or without its extension. */
  isName(name: string): boolean {
    return this.#names.has(name);
  }

  /** Whether something that moves is called so without its ending, or as a part of a stylesheet is (`_albar.scss`). */
  isStem(stem: string): boolean {
    return this.isName(stem) || this.isName(`_${stem}`);
  }

  /** The part of an address that an occurrence lies in, when it names something that moves; undefined when it does not. */
  partAt(text: string, { start, end }: TextRange): MovedPart | undefined {
    if (this.#names.size === 0) return undefined;
    const address = addressAround(text, { start, end });
    const within = address.text.lastIndexOf('/', start - address.start - 1) + 1;
    const part = address.text.slice(within).split('/')[0] ?? '';
    // A bare word is an address only with its extension, so that prose is not taken for one.
    const isAddress = address.text.includes('/') || /\.\w+$/.test(part);
    const sentence = part.replace(/\.$/, '');
    // owner/albar does not mean the file albar.css: without its ending, a file is named in its folder.
    const folder = address.text.slice(0, within).split('/').at(-2) ?? '';
    const isElsewhere = !/^\.{0,2}$/.test(folder) && this.#folders.get(sentence)?.has(folder) === false && !this.#whole.has(sentence);
    return isAddress && !isElsewhere && (this.#names.has(part) || this.#names.has(sentence))
      ? { part: sentence, becomes: this.#names.get(part) ?? this.#names.get(sentence) ?? sentence, start: address.start + within }
      : undefined;
  }
}

/** Names of files that stay though they hold the old name: what refers to them stays with them. */
export class StayingNames {
  /** By what they are called, with their endings and without. */
  readonly #called = new Map<string, StayingName[]>();
  readonly #paths: MovedPaths;
  readonly #byName: ReadonlyMap<string, StayingName>;

  constructor(staying: readonly StayingName[]) {
    for (const each of staying)
      for (const name of new Set([baseOf(each.path), baseOf(withoutEnding(each.path))]))
        this.#called.set(name, [...(this.#called.get(name) ?? []), each]);
    this.#paths = new MovedPaths(
      staying.map(({ path }) => [path, path]),
      [],
      false,
    );
    this.#byName = new Map(staying.map((each) => [baseOf(each.path), each]));
  }

  /** Whether a file of a name stays. */
  isName(name: string): boolean {
    return this.#byName.has(name);
  }

  /** The file that a place names with its ending, or by a path without it, and that stays. */
  at(text: string, range: TextRange): StayingName | undefined {
    const part = this.#paths.partAt(text, range)?.part;
    const named = part === undefined || !part.includes('.') ? undefined : this.#byName.get(part);
    if (named !== undefined || this.#called.size === 0) return named;
    const path = pathThrough(text, range);
    return !path.includes('/') || path.startsWith('.') ? undefined : this.#find(path, (name) => `/${name}`.endsWith(`/${path}`));
  }

  /**
   * The staying file or folder that a path from a file’s folder leads to or through: albar-url.js for `./albar-url`.
   * @param folder the folder of the file that the text stands in
   */
  ledTo(text: string, range: TextRange, folder: string): StayingName | undefined {
    if (this.#called.size === 0) return undefined;
    const path = pathThrough(text, range);
    const place = /^\.\.?\//.test(path) ? resolveInTree(folder, path) : undefined;
    return place === undefined ? undefined : this.#find(place, (name) => name === place);
  }

  #find(path: string, isIt: (path: string) => boolean): StayingName | undefined {
    return this.#called.get(baseOf(path))?.find((each) => isIt(each.path) || isIt(withoutEnding(each.path)));
  }
}

interface StayingName {
  readonly path: string;
  readonly kind: 'kept' | 'unsure';
  readonly reason: Reason;
}

/** The path that a range stands in, up to the end of the part that it lies in. */
function pathThrough(text: string, range: TextRange): string {
  const address = addressAround(text, range);
  const end = address.text.indexOf('/', range.end - address.start);
  return (end < 0 ? address.text : address.text.slice(0, end)).replace(/\.$/, '');
}

const REACH = 200;

/** The longest stretch around a range that can be a path or an address. */
export function addressAround(text: string, { start, end }: TextRange): { text: string; start: number } {
  return stretchAround(text, { start, end }, /[\p{L}\p{N}\p{M}_./@-]/u, REACH);
}

/** `script.script`: the ending says what kind of file it is. */
export function isEnding(name: string, { start, end }: TextRange): boolean {
  return end === name.length && start > 1 && name.charAt(start - 1) === '.';
}
