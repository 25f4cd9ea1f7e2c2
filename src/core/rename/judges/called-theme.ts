import { changes, type Judge } from './judge.ts';

/** “The theme oak”, “the oak theme”, a package tag. */
export const calledTheme: Judge = changes(
  {
    code: 'called-theme',
    sentence: 'said to be a theme',
    examples: [{ file: 'a.md', text: 'for the theme «page»', becomes: 'for the theme lumbre', names: 'page → lumbre' }],
  },
  'identifier',
  (mention) => {
    if (mention.isDistinctive || mention.edges === 'joined') return false;
    const before = mention.before(24);
    return (
      /@(?:package|subpackage|module|namespace)\s+$/.test(before) ||
      /\bthemes?[ \t:/]+["'“`]?$/i.test(before) ||
      /^["'”`]?[ \t]+theme\b/i.test(mention.after(16))
    );
  },
);
