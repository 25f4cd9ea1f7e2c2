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
    {
      file: 'js/menu.js',
      text: "import url from '../vendor/«albar»-url';",
      with: { files: { 'vendor/albar-url.js': 'export default 1;\n' }, keep: ['vendor/**'] },
    },
    {
      file: 'js/menu.js',
      text: "import url from './«albar»-url';",
      with: { files: { 'js/albar-url.js': '', 'img/albar-url.png': '' }, keep: ['js/albar-url.js'] },
    },
  ],
  judge: (mention) => {
    const { text, file, moved } = mention;
    const { staying } = mention.matching;
    // Another file of that name may move: where a path leads is what counts.
    const stays = staying.ledTo(text, mention, file.folder) ?? (moved === undefined ? staying.at(text, mention) : undefined);
    return stays === undefined || !isReference(mention) ? undefined : { kind: stays.kind, reason: stays.reason };
  },
};
