import { doubts, type Judge } from './judge.ts';

export const commonName: Judge = doubts(
  {
    code: 'common-name',
    sentence: 'the name is a common word, and the place does not prove that it means the theme',
    examples: [{ file: 'a.md', text: 'Turn the «page».', names: 'page → lumbre' }],
  },
  ({ isCommon }) => isCommon,
);
