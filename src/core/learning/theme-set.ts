import { RefusedError } from '../errors.ts';
import { baseOf, compareText, folderOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';

/** A theme of a host that nobody has described yet. */
export interface SampleTheme {
  readonly id: string;
  readonly tree: FileTree;
}

/** Texts up to this size can say what a theme is, in characters. */
const LARGEST_DOCUMENT = 128 * 1024;
/** So much of all texts is kept in memory at a time, in characters. */
const KEPT = 32 * 1024 * 1024;

/**
 * The themes that a platform file is learned from, in the order of their ids: how people name them changes nothing.
 * @throws RefusedError when two have the same id
 */
export class ThemeSet {
  readonly themes: readonly SampleTheme[];
  readonly ids: ReadonlySet<string>;
  readonly #texts = new Map<string, string | undefined>();
  readonly #paths = new Map<SampleTheme, ReadonlyMap<string, string>>();
  #kept = 0;

  constructor(themes: readonly SampleTheme[]) {
    this.themes = themes.toSorted((a, b) => compareText(a.id, b.id));
    this.ids = new Set(this.themes.map(({ id }) => id));
    const twin = this.themes.find(({ id }, i) => this.themes[i + 1]?.id === id);
    if (twin !== undefined)
      throw new RefusedError({ what: `two of the themes are called ${twin.id}`, hint: 'name one of them: a host has each name once' });
  }

  get size(): number {
    return this.themes.length;
  }

  /** So many of a number of themes may be exceptions: one in sixteen, and one of eight. */
  static exceptions(size: number): number {
    return size < 8 ? 0 : Math.max(1, Math.round(size / 16));
  }

  /** Whether all but the exceptions bear something out. */
  static isNearlyAll(count: number, of: number): boolean {
    return of > 0 && count >= of - ThemeSet.exceptions(of);
  }

  /** Whether so many have something that a host must need it: all, or all but one of every twenty. */
  static isNeeded(count: number, of: number): boolean {
    return of > 0 && count >= of - Math.floor(of / 20);
  }

  /** A file of a theme as text; undefined when it is not there, no text, or too large. */
  text(theme: SampleTheme, path: string, largest = LARGEST_DOCUMENT): string | undefined {
    const entry = theme.tree.get(path);
    if (entry === undefined || (entry.size ?? 0) > largest * 4) return undefined;
    const key = `${theme.id}\0${path}`;
    if (this.#texts.has(key)) return this.#texts.get(key);
    const text = readText(theme.tree, path)?.text;
    if (this.#kept > KEPT) {
      this.#texts.clear();
      this.#kept = 0;
    }
    this.#kept += text?.length ?? 0;
    this.#texts.set(key, text);
    return text;
  }

  /** The files of a theme by their paths and by their shapes: `albar.sheet` is `{id}.sheet`, too. */
  shapes(theme: SampleTheme): ReadonlyMap<string, string> {
    const known = this.#paths.get(theme);
    if (known !== undefined) return known;
    const made = new Map(
      theme.tree.entries.flatMap(({ path, kind }) =>
        kind === 'folder' ? [] : [[path, path] as const, [shapeOf(path, theme.id), path] as const],
      ),
    );
    this.#paths.set(theme, made);
    return made;
  }

  /** The shapes of files that at least a share of the themes have, with how many do; the commonest first. */
  commonShapes(share: number): { shape: string; count: number }[] {
    const counts = new Map<string, number>();
    /** What else a path that holds an id may be. */
    const named = new Map<string, string>();
    for (const theme of this.themes)
      for (const [shape, path] of this.shapes(theme)) {
        counts.set(shape, (counts.get(shape) ?? 0) + 1);
        if (shape !== path) named.set(path, shape);
      }
    // `albar.sheet` of the theme albar is `{id}.sheet`, unless others have it, too.
    for (const [path, shape] of named) if ((counts.get(shape) ?? 0) >= (counts.get(path) ?? 0)) counts.delete(path);
    return [...counts]
      .filter(([, count]) => count >= Math.min(2, this.size) && count >= share * this.size)
      .map(([shape, count]) => ({ shape, count }))
      .sort((a, b) => b.count - a.count || compareText(a.shape, b.shape));
  }
}

/** A path in which the id, as a word of a file's or folder's name, stands for every theme's. */
function shapeOf(path: string, id: string): string {
  const named = (name: string): string => {
    const at = name.indexOf(id);
    if (at < 0 || id.length < 2) return name;
    const rest = name.slice(at + id.length);
    return /^$|[._-]$/.test(name.slice(0, at)) && /^$|^[._-]/.test(rest) ? `${name.slice(0, at)}{id}${rest}` : name;
  };
  return path.includes(id) ? path.split('/').map(named).join('/') : path;
}

/** The glob of files of one ending in a folder at the top of a theme, and below it. */
export function globOf(path: string): string {
  const [top = ''] = path.split('/');
  const base = baseOf(path);
  const ending = base.includes('.', 1) ? base.slice(base.lastIndexOf('.')) : '';
  return folderOf(path) === '' ? `*${ending}` : `${top}/**/*${ending}`;
}
