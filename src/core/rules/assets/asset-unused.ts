import * as z from 'zod';
import { baseOf, followLinks, isInFolder } from '../../files/file-tree.ts';
import { wholePattern } from '../../names/shape.ts';
import { matchesAny } from '../../files/glob.ts';
import { hasBeginning, pathBeginnings } from '../../text/path-beginnings.ts';
import { WordSearch, wordBefore } from '../../text/word-search.ts';
import type { Theme } from '../../theme/theme.ts';
import { advise } from '../advice.ts';
import { defineRule } from '../rule.ts';
import { type FileKind, endingOf } from '../../text/file-kinds.ts';
import { builtInServing } from '../../contents/serving.ts';
import { kindOfFile } from '../../contents/templates.ts';
import { glob } from '../../configuration/place.ts';

/** More beginnings of paths are not looked for: each is compared with each file that nothing names. */
const MAX_BEGINNINGS = 500;

const LOADED: ReadonlySet<FileKind> = new Set(['stylesheet', 'script', 'picture', 'font']);

/** Stylesheets, scripts, pictures and fonts that nothing in the theme names. */
export const assetUnused = defineRule({
  meta: {
    id: 'asset/unused',
    severity: 'note',
    tag: 'unused',
    isNameBlind: true,
    summary: 'Nothing in the theme refers to a file',
    why: 'It is carried to every site for nothing, or the line that should load it was forgotten.',
    get options() {
      return {
        ignore: z.array(glob()).default([]).describe('Files that are loaded by something outside the theme: globs'),
      };
    },
    messages: { unused: 'nothing in the theme refers to {path}' },
    example: {
      platform: 'vereda',
      wrong: { 'styles/forgotten.css': 'p { margin: 0 }\n' },
      right: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n@import "styles/used.css";\n',
        'styles/used.css': 'p { margin: 0 }\n',
      },
    },
  },
  checkText({ text }, { once }) {
    once(namedWithEnding).look(text);
    return [];
  },
  *check({ chain, options, once }) {
    const { assets, named } = once(namedWithEnding);
    const rest = assets.filter(({ path, stems }) => !stems.some((stem) => named.has(stem)) && !matchesAny(path, options.ignore));
    // A text that is not here may refer to any of them.
    if (rest.length === 0 || chain.themes.some(lacksTexts)) return;
    const words = new WordSearch(new Set(rest.flatMap(({ stems }) => stems)));
    // A page of a parent can load what the theme has in the place of the parent's, and so can what the host brings.
    const beginnings = new Set<string>();
    for (const each of chain.themes)
      for (const text of textsOf(each)) {
        words.search(text);
        for (const beginning of pathBeginnings(text)) if (beginnings.size < MAX_BEGINNINGS) beginnings.add(beginning);
      }
    const isPutTogether = (path: string): boolean => [...beginnings].some((beginning) => hasBeginning(path, beginning));
    // Of pictures that are numbered in a row, settings choose one.
    const chosen = new Set(
      assets.filter(({ stems }) => stems.some((stem) => named.has(stem) || words.finds(stem))).map(({ path }) => seriesOf(path)),
    );
    for (const { path, stems } of rest) {
      if (stems.some((stem) => words.finds(stem)) || builtInServing(chain, path) !== undefined || isPutTogether(path)) continue;
      if (seriesOf(path) !== path && chosen.has(seriesOf(path))) continue;
      yield { message: 'unused', args: { path }, file: path, hint: advise('load-or-remove') };
    }
  },
});

/** Whether a stylesheet, a script or a page of a theme is a link that leads to nothing of it. */
function lacksTexts({ tree }: Theme): boolean {
  return tree.entries.some(
    ({ kind, path }) => kind === 'link' && /\.(?:css|m?js|html?)$/.test(path) && followLinks(tree, path) === undefined,
  );
}

function* textsOf(theme: Theme): Generator<string> {
  for (const { kind, path } of theme.tree.entries) {
    const text = kind === 'folder' ? undefined : theme.source(path)?.text;
    if (text !== undefined) yield text;
  }
}

interface Asset {
  readonly path: string;
  readonly stems: readonly string[];
}

/**
 * The files to name, and the stems of them that stand before a dot in the texts that were looked at. Files are nearly always
 * named with their endings, and dots are found much sooner than words.
 */
function namedWithEnding(theme: Theme): { assets: readonly Asset[]; named: ReadonlySet<string>; look(text: string): void } {
  const assets = [...assetsOf(theme)];
  const stems = new Set(assets.flatMap((each) => each.stems));
  const named = new Set<string>();
  const look = (text: string): void => {
    if (stems.size === 0) return;
    for (let dot = text.indexOf('.'); dot >= 0; dot = text.indexOf('.', dot + 1)) {
      const word = wordBefore(text, dot).toLowerCase();
      if (stems.has(word)) named.add(word);
    }
  };
  return { assets, named, look };
}

function* assetsOf(theme: Theme): Generator<Asset> {
  // Whole folders of pictures are what some themes are made of: there nothing else names them.
  if (theme.platform.contract.templates === undefined) return;
  const isKnown = knownFiles(theme);
  // Where a folder lies at the site's root, nothing else of the theme is carried there.
  const carried = theme.platform.contract.assets.served.filter(({ as }) => as === '');
  const isCarried = (path: string): boolean => carried.length === 0 || carried.some(({ folder }) => isInFolder(path, folder));
  for (const { kind, path } of theme.tree.entries) {
    const isLoaded = kind === 'file' && LOADED.has(kindOfFile(theme, path)) && endingOf(path).isSource !== true;
    if (
      !isLoaded ||
      !isCarried(path) ||
      /\.ico$|\.config\.[cm]?[jt]s$/.test(path) ||
      isKnown(path) ||
      matchesAny(path, theme.platform.contract['host-files'])
    )
      continue;
    yield { path, stems: stemsOf(path) };
  }
}

/** The names under which a file may be used: without its ending, and without the mark of one size or copy among several. */
function stemsOf(path: string): string[] {
  const stem = baseOf(path)
    .replace(/\.[^.]*$/, '')
    .toLowerCase();
  return [...new Set([stem, stem.replace(/(?:\.min|[-_@]\d+x?)$/, '')])];
}

/** Files that differ only by the number at their end have the same. */
function seriesOf(path: string): string {
  return path.replace(/\d+(?=\.[^./]*$)/, '#');
}

/** The files that the platform itself names: its own sheet, its pictures, its bundles. */
function knownFiles(theme: Theme): (path: string) => boolean {
  const { assets, images, files, documents } = theme.platform.contract;
  const shapes = [...images, ...documents, ...files].map(({ path }) => path);
  const mainSheet = assets['main-sheet'];
  const patterns = [...shapes, ...(mainSheet === undefined ? [] : [mainSheet])].map((shape) => wholePattern(shape, theme.names));
  const globs = files.map((file) => file.path);
  return (path) => patterns.some((pattern) => pattern.test(path)) || matchesAny(path, globs) || path.startsWith('docs/');
}
