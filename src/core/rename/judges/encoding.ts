import { doubts, type Judge } from './judge.ts';

export const encoding: Judge = doubts(
  {
    code: 'encoding',
    sentence: 'the new name does not fit the file’s encoding',
    examples: [{ file: 'a.txt', text: 'El caf\u00e9 «Albar»', names: 'albar → alto (Альто)', latin1: true }],
  },
  ({ replacement, file }) => replacement !== undefined && file.source.encode(replacement) === undefined,
);
