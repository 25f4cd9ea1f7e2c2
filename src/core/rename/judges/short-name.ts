import { doubts, type Judge } from './judge.ts';

export const shortName: Judge = doubts(
  {
    code: 'short-name',
    sentence: 'the name is short, and the place does not prove that it means the theme',
    examples: [{ file: 'a.md', text: 'An «oak» grows.', names: 'oak → lumbre' }],
  },
  ({ pair }) => pair.weight === 'short',
);
