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
    if (assets.length === 0) return;
    const words = wordsOf(theme);
    const beginnings = [...words].filter((word) => /[-_]$/.test(word));
    const isNamed = (stem: string): boolean => words.has(stem) || beginnings.some((beginning) => stem.startsWith(beginning));
    for (const { path } of assets) {
      if (isNamed(stemOf(path))) continue;
      yield { message: 'unused', args: { path }, file: path, hint: 'load it where it is wanted, or remove it' };
    }
  },
};

/** Every word in the theme's texts, in lower case. What code puts together (`hut-` and a name) is among them in part. */
function wordsOf(theme: Theme): ReadonlySet<string> {
  const words = new Set<string>();
  for (const { kind, path } of theme.tree.entries) {
    const text = kind === 'folder' ? undefined : theme.source(path)?.text;
    for (const [word] of text?.matchAll(/[\p{L}\p{N}_-]+/gu) ?? []) words.add(word.toLowerCase());
    // The last part of a name with full stops in it: jquery.menu.js, hut.v2.png.
    for (const [word] of text?.matchAll(/[\p{L}\p{N}_-]+(?:\.[\p{L}\p{N}_-]+)+(?=\.)/gu) ?? []) words.add(word.toLowerCase());
  }
  return words;
}

function stemOf(path: string): string {
  return baseOf(path)
    .replace(/\.[^.]+$/, '')
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
