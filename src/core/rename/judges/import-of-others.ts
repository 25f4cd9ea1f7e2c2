import { keeps, type Judge } from './judge.ts';

/** The words before a string that names a module. */
const IMPORT = /(?:\bfrom|\bimport|\brequire(?:\.resolve)?|@use|@forward|@import|\bimport\.meta\.resolve)\s*\(?\s*$/;

/** `import x from 'albar-icons'`, `@use "albar-grid"`: a package, where no file of the theme is called so. */
export const importOfOthers: Judge = keeps(
  {
    code: 'import',
    group: 'theirs',
    sentence: 'an import that leads to no file of the theme',
    examples: [
      { file: 'a.js', text: "import x from '«albar»-icons';" },
      { file: 'a.scss', text: '@use "«albar»-grid";' },
    ],
  },
  (mention) => {
    // In other languages the same words take files, or modules of the theme.
    if (mention.pair.sort === 'title' || (mention.language !== 'script' && mention.file.kind !== 'stylesheet')) return false;
    const head = mention.lineHead;
    const quote = /["'`](?=[^"'`]*$)/.exec(head);
    if (quote === null || !IMPORT.test(head.slice(0, quote.index))) return false;
    const module = mention.line.slice(quote.index + 1).split(quote[0], 1)[0] ?? '';
    // Relative ones lead to files.
    if (/^(?:[./#~]|\w+:)/.test(module)) return false;
    const name = /^(?:@[^/]+\/)?[^/]+/.exec(module)?.[0] ?? '';
    const last = module.slice(module.lastIndexOf('/') + 1);
    const { moved } = mention.matching;
    return name !== mention.pair.from && !moved.isStem(last.replace(/\.\w+$/, '')) && !moved.isStem(name);
  },
);
