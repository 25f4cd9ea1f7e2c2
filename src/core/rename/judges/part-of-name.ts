import { doubts, type Judge } from './judge.ts';

export const partOfName: Judge = doubts(
  {
    code: 'part-of-name',
    sentence: 'another theme’s name holds this one, and the place does not prove which is meant',
    examples: [{ file: 'a.md', text: 'Take «albar» up.', with: { others: ['albar-noche'] } }],
  },
  ({ pair }) => pair.weight === 'part',
);
