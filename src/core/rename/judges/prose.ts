import { changes, type Judge } from './judge.ts';

export const prose: Judge = changes(
  {
    code: 'prose',
    sentence: 'in prose, and the name means nothing else',
    examples: [{ file: 'a.md', text: 'Welcome to «Albar»!', becomes: 'Welcome to Cumbre Sur!' }],
  },
  'text',
  ({ isDistinctive }) => isDistinctive,
);
