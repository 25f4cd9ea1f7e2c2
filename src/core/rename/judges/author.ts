import { doubts, type Judge } from './judge.ts';

export const author: Judge = doubts(
  {
    code: 'author',
    sentence: 'it is also the name of the author, and the place does not tell which is meant',
    examples: [
      {
        file: 'a.md',
        text: 'The house of «Albar» stands.',
        with: { files: { 'sheet.css': '/*---\ntitle: Albar\nauthor: Albar\n---*/\n' } },
      },
    ],
  },
  (mention) => mention.pair.isPersons && (mention.isDistinctive || mention.isTitle),
);
