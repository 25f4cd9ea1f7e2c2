import { RefusedError } from '../errors.ts';
import { baseOf, compareText, folderOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { spelledIds } from './id-shapes.ts';

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

  /** The files of a theme by their paths and by their shapes: `albar.sheet` is `{id}.sheet` and `{id:snake}.sheet`, too. */
  shapes(theme: SampleTheme): ReadonlyMap<string, string> {
    const known = this.#paths.get(theme);
    if (known !== undefined) return known;
    const made = new Map(
      theme.tree.entries.flatMap(({ path, kind }) =>
        kind === 'folder' ? [] : [path, ...shapesOf(path, theme.id)].map((shape) => [shape, path] as const),
      ),
    );
    this.#paths.set(theme, made);
    return made;
  }

  /** The folders at the top of themes, with how many have each. */
  topFolders(): ReadonlyMap<string, number> {
    const counts = new Map<string, number>();
    for (const { tree } of this.themes)
      for (const { path, kind } of tree.entries)
        if (kind === 'folder' && !path.includes('/')) counts.set(path, (counts.get(path) ?? 0) + 1);
    return counts;
  }

  /** The shapes of files that at least a share of the themes have, with how many do; the commonest first. */
  commonShapes(share: number): { shape: string; count: number }[] {
    const counts = new Map<string, number>();
    /** What else a path that holds an id may be. */
    const named = new Map<string, Set<string>>();
    for (const theme of this.themes)
      for (const [shape, path] of this.shapes(theme)) {
        counts.set(shape, (counts.get(shape) ?? 0) + 1);
        if (shape !== path) named.set(path, (named.get(path) ?? new Set()).add(shape));
      }
    const count = (shape: string): number => counts.get(shape) ?? 0;
    const best = new Map([...named].map(([path, shapes]) => [path, [...shapes].reduce((a, b) => (count(b) > count(a) ? b : a))] as const));
    const kept = new Set(best.values());
    // `albar.sheet` of the theme albar is `{id}.sheet`, unless others have it, too; of several spellings it is the one that most have.
    const others = [...named].flatMap(([path, shapes]) => [
      ...[...shapes].filter((shape) => !kept.has(shape)),
      ...(count(best.get(path) ?? '') >= count(path) ? [path] : []),
    ]);
    for (const each of others) counts.delete(each);
    return [...counts]
      .filter(([, count]) => count >= Math.min(2, this.size) && count >= share * this.size)
      .map(([shape, count]) => ({ shape, count }))
      .sort((a, b) => b.count - a.count || compareText(a.shape, b.shape));
  }
}

/** The shapes of a path in which the id, as a word of a file's or folder's name, stands for every theme's: one for each spelling that fits. */
function shapesOf(path: string, id: string): string[] {
  if (id.length < 2) return [];
  return spelledIds(id).flatMap(({ placeholder, text }) => {
    if (!path.includes(text)) return [];
    const shape = path
      .split('/')
      .map((name) => withPlaceholder(name, text, placeholder))
      .join('/');
    return shape === path ? [] : [shape];
  });
}

function withPlaceholder(name: string, text: string, placeholder: string): string {
  const at = name.indexOf(text);
  if (at < 0) return name;
  const rest = name.slice(at + text.length);
  return /^$|[._-]$/.test(name.slice(0, at)) && /^$|^[._-]/.test(rest) ? `${name.slice(0, at)}${placeholder}${rest}` : name;
}

/** The glob of files of one ending in a folder at the top of a theme, and below it. */
export function globOf(path: string): string {
  const [top = ''] = path.split('/');
  const base = baseOf(path);
  const ending = base.includes('.', 1) ? base.slice(base.lastIndexOf('.')) : '';
  return folderOf(path) === '' ? `*${ending}` : `${top}/**/*${ending}`;
}
