import { isEnding } from '../moved-paths.ts';
import { KEPT, type Judge } from './judge.ts';
import { isReference } from './reference.ts';

export const ending: Judge = {
  code: 'ending',
  sentence: 'the ending of a file’s name',
  examples: [
    {
      file: 'a.txt',
      text: 'See img/cima-a.«cima».',
      becomes: 'See img/lumbre-a.cima.',
      names: 'cima → lumbre',
      with: { files: { 'img/cima-a.cima': '' } },
    },
  ],
  judge: (mention) => {
    const { moved, start, end } = mention;
    if (moved === undefined || !isReference(mention)) return undefined;
    return isEnding(moved.part, { start: start - moved.start, end: end - moved.start }) ? KEPT : undefined;
  },
};
