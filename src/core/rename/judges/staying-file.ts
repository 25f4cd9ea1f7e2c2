import { isReference } from './reference.ts';
import type { Judge } from './judge.ts';

/** What refers to a file that keeps its name keeps it too, for the same reason. */
export const stayingFile: Judge = {
  code: 'staying-file',
  sentence: 'the name of a file that keeps it',
  examples: [
    {
      file: 'a.html',
      text: '<script src="vendor/«albar».js">',
      with: { files: { 'vendor/albar.js': '/*! Albar 9.1 | MIT license | (c) 2020 others */' }, keep: ['vendor/**'] },
    },
  ],
  judge: (mention) => {
    const stays = mention.moved === undefined ? mention.matching.staying.at(mention.text, mention) : undefined;
    return stays === undefined || !isReference(mention) ? undefined : { kind: stays.kind, reason: stays.reason };
  },
};
