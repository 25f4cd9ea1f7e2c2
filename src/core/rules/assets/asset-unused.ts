import { baseOf } from '../../files/file-tree.ts';
import { wholePattern } from '../../platform/shape.ts';
import { matchesGlob } from '../../files/glob.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Rule } from '../rule.ts';

const ASSET = /\.(?:css|m?js|png|jpe?g|gif|webp|avif|svg|woff2?|ttf|otf|eot)$/i;

/** Stylesheets, scripts, pictures and fonts that nothing in the theme names. */
export const assetUnused: Rule = {
  meta: {
    id: 'asset/unused',
    severity: 'note',
    isNameBlind: true,
    summary: 'Nothing in the theme refers to a file',
    why: 'It is carried to every site for nothing, or the line that should load it was forgotten.',
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
  *check({ theme }) {
    // Whole folders of pictures are what some themes are made of: there nothing else names them.
    if (theme.platform.contract.templates === undefined) return;
    const assets = theme.tree.entries.filter(({ kind, path }) => kind === 'file' && ASSET.test(path) && !isKnown(theme, path));
    const isNamed = assets.length === 0 ? () => true : namedStems(theme, new Set(assets.map(({ path }) => stemOf(path))));
    for (const { path } of assets) {
      if (isNamed(stemOf(path))) continue;
      yield { message: 'unused', args: { path }, file: path, hint: 'load it where it is wanted, or remove it' };
    }
  },
};

/** Tells which stems stand in the theme's texts; what code puts together (`hut-` and a name) stands there in part. */
function namedStems(theme: Theme, stems: ReadonlySet<string>): (stem: string) => boolean {
  const named = new Set<string>();
  const beginnings = new Set<string>();
  const dotted = [...stems].filter((stem) => stem.includes('.'));
  const lengths = new Set([...stems].map((stem) => stem.length));
  for (const { kind, path } of theme.tree.entries) {
    const text = (kind === 'folder' ? undefined : theme.source(path)?.text) ?? '';
    for (const stem of dotted) if (text.toLowerCase().includes(stem)) named.add(stem);
    // Letter by letter: a pattern that yields every word of a large theme takes most of the time of a check.
    for (let start = 0; start < text.length; start++) {
      if (!isWordUnit(text.charCodeAt(start))) continue;
      let end = start + 1;
      while (end < text.length && isWordUnit(text.charCodeAt(end))) end++;
      const last = text.charCodeAt(end - 1);
      const isBeginning = last === HYPHEN || last === UNDERSCORE;
      if (isBeginning || lengths.has(end - start)) {
        const word = text.slice(start, end).toLowerCase();
        if (isBeginning) beginnings.add(word);
        if (stems.has(word)) named.add(word);
      }
      start = end;
    }
  }
  const started = [...beginnings];
  return (stem) => named.has(stem) || started.some((beginning) => stem.startsWith(beginning));
}

const HYPHEN = 45;
const UNDERSCORE = 95;

/** Letters, digits, `-` and `_`; everything beyond ASCII counts as a letter. */
function isWordUnit(unit: number): boolean {
  return (
    (unit >= 97 && unit <= 122) ||
    (unit >= 48 && unit <= 57) ||
    (unit >= 65 && unit <= 90) ||
    unit === HYPHEN ||
    unit === UNDERSCORE ||
    unit > 127
  );
}

function stemOf(path: string): string {
  return baseOf(path)
    .replace(/\.[^.]*$/, '')
    .replace(/(?:\.min|[-_@]\d+x?)$/, '')
    .toLowerCase();
}

/** What the platform itself names: its own sheet, its pictures, its bundles. */
function isKnown(theme: Theme, path: string): boolean {
  const { assets, images, files, documents } = theme.platform.contract;
  const shapes = [...images.map((image) => image.path), ...documents.map((document) => document.path), assets['main-sheet'] ?? ''];
  if (shapes.some((shape) => shape !== '' && wholePattern(shape, theme.names).test(path))) return true;
  return files.some((file) => wholePattern(file.path, theme.names).test(path) || matchesGlob(path, file.path)) || path.startsWith('docs/');
}
