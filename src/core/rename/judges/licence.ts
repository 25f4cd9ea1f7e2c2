import { keepsFiles, type Judge } from './judge.ts';
import { isForReaders } from './readers-file.ts';

export const licence: Judge = keepsFiles(
  {
    code: 'licence',
    group: 'licence',
    sentence: 'in a license or credits file',
    examples: [{ file: 'LICENSE', text: '«Albar», a theme' }],
  },
  (file) => isForReaders(file, /^(licen[cs]es?|copying|notice|authors?|credits?|contributors?|thanks)(\.\w+)?$/i),
);
