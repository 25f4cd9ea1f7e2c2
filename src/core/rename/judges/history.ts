import { keepsFiles, type Judge } from './judge.ts';
import { isForReaders } from './readers-file.ts';

export const history: Judge = keepsFiles(
  {
    code: 'history',
    group: 'history',
    sentence: 'changelog: the name at that time',
    examples: [{ file: 'CHANGELOG.md', text: '- «Albar» prints pages' }],
  },
  (file) => isForReaders(file, /^(changelog|changes|history|news|releases?)(\.\w+)?$/i),
);
