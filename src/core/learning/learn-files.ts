import { imageSize } from 'image-size';
import { baseOf, compareText, isInFolder, withoutEnding, type FileTree } from '../files/file-tree.ts';
import { readPictureHead } from '../files/read-text.ts';
import { escapePattern } from '../text/pattern.ts';
import { isInThirdPartyFolder, kindOfPath, type FileKind } from '../text/file-kinds.ts';
import { holdsId } from './id-shapes.ts';
import { catalogueShape } from './learn-strings.ts';
import type { LearnedFile, LearnedImage } from './learned.ts';
import { ThemeSet } from './theme-set.ts';

/** Pictures that show the theme to people. */
const COVERS = /^(?:cover|screenshot|preview|thumbnail|thumb)\.(png|jpe?g|gif|webp|svg)$/i;
/** Files that people keep beside a theme for themselves. */
const BESIDE =
  /(?:^|\/)(?:\.[^/]*|readme|licen[cs]e|copying|change(?:s|log)|authors|credits|news|todo|contributing|makefile|package-lock\.json|yarn\.lock)(?:\.\w+)?$/i;
/** Kinds of files that name others, and that a host can need. */
const REFERRING: ReadonlySet<FileKind> = new Set(['markup', 'stylesheet', 'script', 'code', 'data', 'other']);

/** Whether a file is for people, or for tools around the theme. */
export function isBeside(path: string): boolean {
  return BESIDE.test(path);
}

/** A share of the themes that has to have a file for it to be worth a line. */
const COMMON = 0.8;

/**
 * Files that nearly all themes have: required where something of the theme refers to them, or where the host must, since nothing
 * of the theme does and all have it at the top.
 * @param known paths that other parts of the file speak of
 */
export function learnFiles(set: ThemeSet, known: ReadonlySet<string>): LearnedFile[] {
  if (set.size < 3) return [];
  const references = referencesIn(set);
  return set
    .commonShapes(COMMON)
    .filter(
      ({ shape }) =>
        !known.has(shape) &&
        !isBeside(shape) &&
        catalogueShape(shape) === undefined &&
        !isInThirdPartyFolder(shape) &&
        !COVERS.test(baseOf(shape)),
    )
    .flatMap(({ shape, count }): LearnedFile[] => {
      if (!REFERRING.has(kindOfPath(shape))) return [];
      const required = ThemeSet.isNeeded(count, set.size) && (!shape.includes('/') || isReferredTo(set, shape, references));
      return [{ path: shape, kind: 'file', required, seen: { count, of: set.size } }];
    })
    .slice(0, 40);
}

/**
 * Folders at the top that nearly all themes have: required where all have them, and most themes name what is in them.
 * @param spoken paths and globs that other parts of the file have
 */
export function learnFolders(set: ThemeSet, spoken: readonly string[]): LearnedFile[] {
  if (set.size < 3) return [];
  return [...set.topFolders()]
    .filter(
      ([folder, count]) =>
        count >= COMMON * set.size &&
        !isBeside(folder) &&
        !isInThirdPartyFolder(`${folder}/`) &&
        spoken.every((path) => !isInFolder(path, folder) && !/^\*+\//.test(path)),
    )
    .sort(([a, x], [b, y]) => y - x || compareText(a, b))
    .map(([path, count]) => ({
      path,
      kind: 'folder',
      required: ThemeSet.isNeeded(count, set.size) && isFolderNamed(set, path),
      seen: { count, of: set.size },
    }));
}

/** Whether a text of most themes names something in a folder. */
function isFolderNamed(set: ThemeSet, folder: string): boolean {
  const named = new RegExp(`(?<![\\w.-])${escapePattern(folder)}/`);
  const naming = set.themes.filter((theme) =>
    theme.tree.entries.some(
      ({ path, kind }) => kind === 'file' && REFERRING.has(kindOfPath(path)) && named.test(set.text(theme, path) ?? ''),
    ),
  );
  return naming.length * 2 > set.size;
}

/** In how many themes a text names a file, by the file's name with its ending and without. */
function referencesIn(set: ThemeSet): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const theme of set.themes) {
    const own = new Set<string>();
    for (const { path, kind } of theme.tree.entries) {
      if (kind !== 'file' || !REFERRING.has(kindOfPath(path))) continue;
      for (const [, name = ''] of (set.text(theme, path) ?? '').matchAll(NAMED)) own.add(name);
    }
    for (const name of own) counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return counts;
}

/** A name between quotes, in brackets, or at the end of a path. */
const NAMED = /["'/(\s]([\w@.-]{2,80})(?=["')\s?#])/g;

/** Whether most themes name the file. A short word is everywhere: only with its ending does it name a file. */
function isReferredTo(set: ThemeSet, shape: string, references: ReadonlyMap<string, number>): boolean {
  const counts = set.themes.map((theme) => {
    const base = baseOf(set.shapes(theme).get(shape) ?? '');
    const stem = withoutEnding(base);
    return Math.max(references.get(base) ?? 0, stem.length > 3 ? (references.get(stem) ?? 0) : 0);
  });
  // A file that is called like the theme has a name of its own in each.
  const naming = holdsId(shape) ? counts.filter((count) => count > 0).length : Math.max(...counts);
  return naming * 2 > set.size;
}

/** Pictures that most themes show themselves with; with their size in pixels where nearly all agree. */
export function learnImages(set: ThemeSet): LearnedImage[] {
  return set.commonShapes(0.5).flatMap(({ shape, count }): LearnedImage[] => {
    const ending = COVERS.exec(baseOf(shape))?.[1]?.toLowerCase();
    if (ending === undefined || shape.split('/').length > 2) return [];
    const sizes = set.themes.flatMap((theme) => {
      const path = set.shapes(theme).get(shape);
      const size = path === undefined ? undefined : sizeOf(theme.tree, path);
      return size === undefined ? [] : [size];
    });
    const [first] = sizes;
    const agreeing = sizes.filter(([width, height]) => width === first?.[0] && height === first[1]).length;
    return [
      {
        role: baseOf(shape).replace(/\..*$/, '').toLowerCase(),
        path: shape,
        formats: [ending === 'jpeg' ? 'jpg' : ending],
        ...((sizes.length > 1 || set.size === 1) && ThemeSet.isNearlyAll(agreeing, sizes.length) ? { size: first } : {}),
        seen: { count, of: set.size },
      },
    ];
  });
}

function sizeOf(tree: FileTree, path: string): readonly [number, number] | undefined {
  try {
    const { width, height } = imageSize(readPictureHead(tree, path));
    return width > 0 && height > 0 ? [width, height] : undefined;
  } catch {
    return undefined;
  }
}

/** The stylesheet that the host probably loads by itself: in nearly all themes one at the top. */
export function learnMainSheet(set: ThemeSet): { path: string; count: number } | undefined {
  const [first, ...more] = set.commonShapes(0.8).filter(({ shape }) => /^[^/]+\.css$/.test(shape));
  return first === undefined || more.length > 0 ? undefined : { path: first.shape, count: first.count };
}

/** Most themes do not have so many names of pictures in common by chance. */
const ASKED_FOR = 20;

/** Where the host asks for pictures by their names, whatever theme they are of: most themes have many that are called alike. */
export function learnHostFiles(set: ThemeSet): { globs: string[]; names: number } | undefined {
  const having = new Map<string, { themes: number; tops: Set<string> }>();
  for (const { tree } of set.themes) {
    const own = new Map<string, Set<string>>();
    for (const { path, kind } of tree.entries) {
      if (kind === 'folder' || !path.includes('/') || kindOfPath(path) !== 'picture') continue;
      own.set(baseOf(path), (own.get(baseOf(path)) ?? new Set()).add(path.split('/', 1)[0] ?? ''));
    }
    for (const [name, tops] of own) {
      const known = having.get(name) ?? { themes: 0, tops: new Set() };
      having.set(name, { themes: known.themes + 1, tops: new Set([...known.tops, ...tops]) });
    }
  }
  const shared = [...having.values()].filter(({ themes }) => themes > set.size / 2);
  if (set.size < 3 || shared.length < ASKED_FOR) return undefined;
  const tops = new Map<string, number>();
  for (const each of shared) for (const top of each.tops) tops.set(top, (tops.get(top) ?? 0) + 1);
  const main = [...tops].filter(([, count]) => count >= ASKED_FOR).map(([top]) => `${top}/**`);
  return { globs: main.length === 1 ? main : ['*/**'], names: shared.length };
}

/** What some themes have, and no package of a theme should. */
export function learnLeaveOut(set: ThemeSet): string[] {
  const usual = ['node_modules', '__pycache__', '.sass-cache'].filter((folder) =>
    set.themes.some(({ tree }) => tree.get(folder)?.kind === 'folder'),
  );
  return ['.*', '*~', ...usual.filter((each) => !each.startsWith('.')).map((each) => `${each}/`), 'pionero.yaml'];
}
