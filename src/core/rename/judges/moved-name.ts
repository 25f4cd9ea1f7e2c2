import { changes, type Judge } from './judge.ts';

/** look_oak is the theme's where a file look_oak.po is. */
export const movedName: Judge = changes(
  {
    code: 'moved-name',
    sentence: 'called like a file that is renamed',
    examples: [
      {
        file: 'a.php',
        text: "<?php bind('look_«oak»');",
        becomes: "<?php bind('look_lumbre');",
        names: 'oak → lumbre',
        with: { files: { 'strings/es/look_oak.po': 'msgid ""\nmsgstr ""\n' }, platform: 'horquilla' },
      },
    ],
  },
  'identifier',
  (mention) => mention.edges === 'joined' && mention.matching.moved.isName(mention.identifier),
);
