import { doubts, type Judge } from './judge.ts';

export const binaryPath: Judge = doubts(
  {
    code: 'binary-path',
    sentence: 'refers to a path that exists only inside a binary file',
    examples: [{ file: 'a.md', text: 'Holds img/«albar».raw', with: { files: { 'a.bin': '\0img/albar.raw\0' } } }],
  },
  ({ isOnlyInBinary }) => isOnlyInBinary,
);
