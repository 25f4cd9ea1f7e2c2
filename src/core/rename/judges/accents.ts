import { doubts, type Judge } from './judge.ts';

export const accents: Judge = doubts(
  {
    code: 'accents',
    sentence: 'written with other accents than the name',
    examples: [{ file: 'a.md', text: 'The «Álbar» huts.' }],
  },
  ({ occurrence }) => occurrence.encoded?.isAccented === true,
);
