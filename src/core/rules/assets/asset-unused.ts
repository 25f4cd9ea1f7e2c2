import { baseOf } from '../../files/file-tree.ts';
import { wholePattern } from '../../platform/shape.ts';
import { matchesAny } from '../../files/glob.ts';
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
    const isKnown = knownFiles(theme);
    const assets = theme.tree.entries
      .filter(({ kind, path }) => kind === 'file' && ASSET.test(path) && !isKnown(path))
      .map(({ path }) => ({ path, stems: stemsOf(path) }));
    if (assets.length === 0) return;
    const named = namedWithEnding(theme, new Set(assets.flatMap(({ stems }) => stems)));
    const rest = assets.filter(({ stems }) => !stems.some((stem) => named.has(stem)));
    if (rest.length === 0) return;
    const words = new WordSearch(new Set(rest.flatMap(({ stems }) => stems)));
    for (const text of textsOf(theme)) words.search(text);
    for (const { path, stems } of rest) {
      if (stems.some((stem) => words.finds(stem))) continue;
      yield { message: 'unused', args: { path }, file: path, hint: 'load it where it is wanted, or remove it' };
    }
  },
};

function* textsOf(theme: Theme): Generator<string> {
  for (const { kind, path } of theme.tree.entries) {
    const text = kind === 'folder' ? undefined : theme.source(path)?.text;
    if (text !== undefined) yield text;
  }
}

/** The stems that stand before a dot. Files are nearly always named with their endings, and dots are found much sooner than words. */
function namedWithEnding(theme: Theme, stems: ReadonlySet<string>): Set<string> {
  const named = new Set<string>();
  for (const text of textsOf(theme)) {
    for (let dot = text.indexOf('.'); dot >= 0; dot = text.indexOf('.', dot + 1)) {
      const word = wordBefore(text, dot).toLowerCase();
      if (stems.has(word)) named.add(word);
    }
  }
  return named;
}

/** Up to so many stems, looking for each is faster than looking at each word. */
const FEW = 12;

/** Finds stems as words of texts, in any case; what code puts together (`hut-` and a name) stands there in part. */
class WordSearch {
  readonly #stems: ReadonlySet<string>;
  readonly #named = new Set<string>();
  readonly #beginnings = new Set<string>();
  readonly #isFew: boolean;
  readonly #lengths: ReadonlySet<number>;
  /** Those that are more than one word, and those that are looked for one by one. */
  readonly #wholes: readonly string[];

  constructor(stems: ReadonlySet<string>) {
    this.#stems = stems;
    this.#lengths = new Set([...stems].map((stem) => stem.length));
    this.#isFew = stems.size <= FEW;
    this.#wholes = [...stems].filter((stem) => this.#isFew || stem.includes('.'));
  }

  search(text: string): void {
    const lower = this.#wholes.length === 0 ? text : text.toLowerCase();
    for (const stem of this.#wholes) if (!this.#named.has(stem) && hasWord(lower, stem)) this.#named.add(stem);
    for (const joint of ['-', '_']) this.#addBeginnings(text, joint);
    if (!this.#isFew) this.#addWords(text);
  }

  /** Letter by letter: a pattern that yields every word of a large theme takes most of the time of a check. */
  #addWords(text: string): void {
    for (let start = 0; start < text.length; start++) {
      if (!isWordUnit(text.charCodeAt(start))) continue;
      let end = start + 1;
      while (end < text.length && isWordUnit(text.charCodeAt(end))) end++;
      const word = this.#lengths.has(end - start) ? text.slice(start, end).toLowerCase() : '';
      if (this.#stems.has(word)) this.#named.add(word);
      start = end;
    }
  }

  #addBeginnings(text: string, joint: string): void {
    for (let at = text.indexOf(joint); at >= 0; at = text.indexOf(joint, at + 1)) {
      if (!isWordUnit(text.charCodeAt(at + 1))) this.#beginnings.add(wordBefore(text, at + 1).toLowerCase());
    }
  }

  finds(stem: string): boolean {
    return this.#named.has(stem) || [...this.#beginnings].some((beginning) => stem.startsWith(beginning));
  }
}

function hasWord(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1)) {
    if (!isWordUnit(text.charCodeAt(at - 1)) && !isWordUnit(text.charCodeAt(at + word.length))) return true;
  }
  return false;
}

/** The word that ends at an offset; empty when none does. */
function wordBefore(text: string, end: number): string {
  let start = end;
  while (start > 0 && isWordUnit(text.charCodeAt(start - 1))) start--;
  return text.slice(start, end);
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

/** What a file may be called where it is used: without its ending, and without the mark of one size or copy among several. */
function stemsOf(path: string): string[] {
  const stem = baseOf(path)
    .replace(/\.[^.]*$/, '')
    .toLowerCase();
  return [...new Set([stem, stem.replace(/(?:\.min|[-_@]\d+x?)$/, '')])];
}

/** What the platform itself names: its own sheet, its pictures, its bundles. */
function knownFiles(theme: Theme): (path: string) => boolean {
  const { assets, images, files, documents } = theme.platform.contract;
  const shapes = [...images, ...documents, ...files].map(({ path }) => path);
  const mainSheet = assets['main-sheet'];
  const patterns = [...shapes, ...(mainSheet === undefined ? [] : [mainSheet])].map((shape) => wholePattern(shape, theme.names));
  const globs = files.map((file) => file.path);
  return (path) => patterns.some((pattern) => pattern.test(path)) || matchesAny(path, globs) || path.startsWith('docs/');
}
