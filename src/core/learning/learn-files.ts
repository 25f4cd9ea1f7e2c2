import { imageSize } from 'image-size';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import { readPictureHead } from '../files/read-text.ts';
import { escapePattern } from '../text/pattern.ts';
import { isInThirdPartyFolder, kindOfPath } from '../text/file-kinds.ts';
import { catalogueShape } from './learn-strings.ts';
import type { LearnedFile, LearnedImage } from './learned.ts';
import { ThemeSet } from './theme-set.ts';

/** Pictures that show the theme to people. */
const COVERS = /^(?:cover|screenshot|preview|thumbnail|thumb)\.(png|jpe?g|gif|webp|svg)$/i;
/** Files that people keep beside a theme for themselves. */
const BESIDE =
  /(?:^|\/)(?:\.[^/]*|readme|licen[cs]e|copying|change(?:s|log)|authors|credits|news|todo|contributing|makefile|package-lock\.json|yarn\.lock)(?:\.\w+)?$/i;
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
      if (!['markup', 'stylesheet', 'script', 'code', 'data', 'other'].includes(kindOfPath(shape))) return [];
      const required = ThemeSet.isNeeded(count, set.size) && (!shape.includes('/') || isReferredTo(set, shape));
      return [{ path: shape, kind: 'file', required, seen: { count, of: set.size } }];
    })
    .slice(0, 40);
}

/** Whether a text of most themes names the file. */
function isReferredTo(set: ThemeSet, shape: string): boolean {
  const refers = set.themes.filter((theme) => {
    const path = set.shapes(theme).get(shape);
    if (path === undefined) return false;
    const base = baseOf(path);
    // A short word is everywhere: only with its ending does it name a file.
    const stem = base.replace(/\.[^.]+$/, '');
    const named = new RegExp(`["'/(\\s](?:${escapePattern(base)}${stem.length > 3 ? `|${escapePattern(stem)}` : ''})["')\\s?#]`);
    return theme.tree.entries.some(
      (entry) =>
        entry.kind === 'file' &&
        entry.path !== path &&
        ['markup', 'stylesheet', 'script', 'code', 'data', 'other'].includes(kindOfPath(entry.path)) &&
        named.test(set.text(theme, entry.path) ?? ''),
    );
  });
  return refers.length * 2 > set.size;
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
  const having = new Map<string, number>();
  const tops = new Set<string>();
  for (const { tree } of set.themes) {
    const own = new Set<string>();
    for (const { path, kind } of tree.entries) {
      if (kind === 'folder' || !path.includes('/') || kindOfPath(path) !== 'picture') continue;
      own.add(baseOf(path));
      tops.add(path.split('/', 1)[0] ?? '');
    }
    for (const name of own) having.set(name, (having.get(name) ?? 0) + 1);
  }
  const names = [...having.values()].filter((count) => count > set.size / 2).length;
  if (set.size < 3 || names < ASKED_FOR) return undefined;
  const [only, ...more] = tops;
  return { globs: [more.length === 0 && only !== undefined ? `${only}/**` : '*/**'], names };
}

/** What some themes have, and no package of a theme should. */
export function learnLeaveOut(set: ThemeSet): string[] {
  const usual = ['node_modules', '__pycache__', '.sass-cache'].filter((folder) =>
    set.themes.some(({ tree }) => tree.get(folder)?.kind === 'folder'),
  );
  return ['.*', '*~', ...usual.filter((each) => !each.startsWith('.')).map((each) => `${each}/`), 'pionero.yaml'];
}
