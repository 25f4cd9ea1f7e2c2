import { KEPT, type Judge } from './judge.ts';

export const longerWord: Judge = {
  code: 'longer-word',
  sentence: 'part of the longer word “{about}”',
  together: 'parts of longer words',
  examples: [{ file: 'a.md', text: 'They carry «albar»das.' }],
  judge: (mention) => (mention.edges === 'inside-word' ? { ...KEPT, about: mention.identifier } : undefined),
};
