import { doubts, type Judge } from './judge.ts';

export const titleSyntax: Judge = doubts(
  {
    code: 'title-syntax',
    sentence: 'the new title holds signs that could break the file’s syntax here',
    examples: [{ file: 'a.yaml', text: 'menu: «Hut Albar»\n', names: 'albar (Hut Albar) → sol (Sol: alto)' }],
  },
  ({ replacement, pair, found }) => replacement === undefined && pair.sort === 'title' && found === pair.from,
);
