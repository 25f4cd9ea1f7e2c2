import { changes, type Judge } from './judge.ts';

export const title: Judge = changes(
  {
    code: 'title',
    sentence: 'written just as the title is',
    examples: [
      { file: 'a.md', text: 'made for «Stone»', becomes: 'made for Lumbre', names: 'stone → lumbre' },
      { file: 'a.md', text: '# «Page»\n', becomes: '# Lumbre\n', names: 'page → lumbre' },
    ],
  },
  'text',
  ({ isTitle }) => isTitle,
);
