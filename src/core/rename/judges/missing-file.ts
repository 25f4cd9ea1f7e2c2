import { baseOf } from '../../files/file-tree.ts';
import { kindOfPath, type FileKind } from '../../text/file-kinds.ts';
import { keeps, type Judge } from './judge.ts';

/** What pages and texts ask for by its name; archives, catalogues and data are made under the theme’s name when they are not there. */
const ASKED_FOR: ReadonlySet<FileKind> = new Set(['markup', 'stylesheet', 'script', 'picture', 'font', 'media']);

/** A file that is named with its ending, and is not in the theme. */
export const missingFile: Judge = keeps(
  {
    code: 'missing-file',
    group: 'theirs',
    sentence: 'a file that the theme does not have',
    examples: [
      { file: 'a.css', text: 'a { background: url(img/«albar».png) }' },
      { file: 'a.md', text: 'It loads «albar»-player.js from the shop.' },
    ],
  },
  (mention) => {
    if (mention.pair.sort === 'title' || mention.language === 'settings') return false;
    const path = mention.address.replace(/[.,]+$/, '');
    const name = baseOf(path);
    if (!ASKED_FOR.has(kindOfPath(name)) || !mention.pair.finder.isIn(name)) return false;
    // A bare name can be of a file that the theme’s own tools make.
    const isSaid = path.includes('/') || mention.file.kind === 'prose' || ADDRESS.test(mention.lineHead);
    // In the last part of the path alone: folders of the theme are its own.
    const isLast = !mention
      .after(name.length)
      .split(/[^\p{L}\p{N}\p{M}_./@-]/u, 1)[0]
      ?.includes('/');
    return isSaid && isLast && !mention.matching.hasFileCalled(name);
  },
);

/** The signs before an address of a page or a stylesheet. */
const ADDRESS = /(?:\burl\(\s*["']?|\b(?:href|src|poster|data)\s*=\s*["'])[^"'()]*$/i;
