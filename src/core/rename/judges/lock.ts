import { keepsFiles, type Judge } from './judge.ts';

export const lock: Judge = keepsFiles(
  {
    code: 'lock',
    group: 'lock',
    sentence: 'in a lock file, which a tool writes',
    examples: [{ file: 'huts.lock', text: '«albar» 1.2.0' }],
  },
  ({ path }) => /(\.lock|-lock\.\w+|\.lockfile)$/i.test(path),
);
