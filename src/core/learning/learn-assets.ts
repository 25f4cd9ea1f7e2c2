import { folderOf, resolveInTree } from '../files/file-tree.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import type { ThemeSet, SampleTheme } from './theme-set.ts';

/** What stylesheets ask for and the theme has in another shape: made of another file, or served under another name. */
export interface LearnedAssets {
  /** Endings of what is asked for, and of what it is made of. */
  readonly made: readonly { readonly file: string; readonly from: string; readonly count: number }[];
  readonly served: readonly { readonly folder: string; readonly as: string; readonly count: number }[];
  /** By a theme, the paths that it asks for and that nothing explains. */
  readonly missing: ReadonlyMap<string, readonly string[]>;
}

/** An address of a stylesheet: an import, a picture, a font. */
const ADDRESS = /@import\s+(?:url\(\s*)?["']?([^"')\s;]+)|url\(\s*["']?([^"')\s]+)/g;
/** Endings that compilers make stylesheets and scripts of. */
const SOURCES: Readonly<Record<string, readonly string[]>> = { css: ['scss', 'sass', 'less', 'styl'], js: ['ts', 'coffee'] };

/** What addresses that lead to no file mean, where several mean it. */
export function learnAssets(set: ThemeSet): LearnedAssets {
  const made = new Map<string, number>();
  const served = new Map<string, number>();
  const missing = new Map<string, string[]>();
  const anywhere = new Set(set.themes.flatMap(({ tree }) => tree.entries.map(({ path }) => path)));
  const templates = templatesOf(anywhere);
  for (const theme of set.themes)
    for (const { target, address } of missingIn(set, theme)) {
      const from = sourceOf(target, anywhere, templates);
      if (from !== undefined) made.set(from, (made.get(from) ?? 0) + 1);
      const place = from === undefined ? servedAs(address, theme) : undefined;
      if (place !== undefined) served.set(place, (served.get(place) ?? 0) + 1);
      if (from === undefined && place === undefined) missing.set(theme.id, [...(missing.get(theme.id) ?? []), target]);
    }
  const several = (counts: Map<string, number>): [string, number][] =>
    [...counts].filter(([, count]) => count > 1).sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1));
  return {
    missing,
    made: several(made).map(([key, count]) => {
      const [file = '', from = ''] = key.split('\0');
      return { file, from, count };
    }),
    served: several(served)
      .slice(0, 1)
      .map(([key, count]) => {
        const [folder = '', as = ''] = key.split('\0');
        return { folder, as, count };
      }),
  };
}

function* missingIn(set: ThemeSet, theme: SampleTheme): Generator<{ target: string; address: string }> {
  for (const { path, kind } of theme.tree.entries) {
    if (kind !== 'file' || (kindOfPath(path) !== 'stylesheet' && !/\.css_?\w*$/.test(path))) continue;
    for (const [, imported, plain] of (set.text(theme, path) ?? '').matchAll(ADDRESS)) {
      const address = (imported ?? plain ?? '').replace(/[?#].*$/, '');
      if (address === '' || /^(?:[a-z][a-z0-9+.-]*:|\/|#)|[{}$<>]/i.test(address)) continue;
      const target = resolveInTree(folderOf(path), address);
      if (target !== undefined && theme.tree.get(target) === undefined) yield { target, address };
    }
  }
}

/** Endings that say nothing of how a file is made. */
const BESIDE: ReadonlySet<string> = new Set(['.map', '.gz', '.br', '.zst', '.bak', '.orig', '.old', '.license', '.sha256']);

/** By the name of what is made, what templates of it end with: `frame.css_x` and `frame.css.x` are made into frame.css. */
function templatesOf(paths: Iterable<string>): ReadonlyMap<string, string> {
  return new Map(
    [...paths].flatMap((path) => {
      const [, target = '', more = ''] = /^(.+\.(?:css|js))([._]\w{1,8})$/.exec(path) ?? [];
      return target === '' || BESIDE.has(more) ? [] : [[target, more] as const];
    }),
  );
}

/** The source that a missing file may be made of, as two shapes: the same with more behind it, or a source that compilers know. */
function sourceOf(target: string, paths: ReadonlySet<string>, templates: ReadonlyMap<string, string>): string | undefined {
  const ending = target.slice(target.lastIndexOf('.') + 1);
  const stem = target.slice(0, target.length - ending.length);
  const more = templates.get(target);
  const other = more === undefined ? (SOURCES[ending] ?? []).find((each) => paths.has(`${stem}${each}`)) : `${ending}${more}`;
  return other === undefined ? undefined : `{path}.${ending}\0{path}.${other}`;
}

/** `../_art/a.png` for art/a.png: the folder, and the name that pages know it by. */
function servedAs(address: string, { tree }: SampleTheme): string | undefined {
  const [, as = '', rest = ''] = /^(?:\.\.\/)+([\w.-]+)\/(.+)$/.exec(address) ?? [];
  if (as === '') return undefined;
  const folder = tree.entries.find(
    ({ path, kind }) => kind === 'folder' && !path.includes('/') && tree.get(`${path}/${rest}`) !== undefined,
  );
  return folder === undefined || folder.path === as ? undefined : `${folder.path}\0${as}`;
}
