import { doubts, type Judge } from './judge.ts';

export const noSpelling: Judge = doubts(
  {
    code: 'no-spelling',
    sentence: 'written in a spelling that nobody can name',
    examples: [{ file: 'a.md', text: 'the wooden sign of «aLBaR»' }],
  },
  ({ replacement }) => replacement === undefined,
);
