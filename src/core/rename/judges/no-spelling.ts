import { doubts, type Judge } from './judge.ts';

export const noSpelling: Judge = doubts(
  {
    code: 'no-spelling',
    sentence: 'written in no spelling that can be told',
    examples: [{ file: 'a.md', text: 'the wooden sign of «aLBaR»' }],
  },
  ({ replacement }) => replacement === undefined,
);
