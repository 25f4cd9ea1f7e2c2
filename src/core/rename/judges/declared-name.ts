import type { Mention } from '../mention.ts';
import { changes, type Judge } from './judge.ts';

export const declaredName: Judge = changes(
  {
    code: 'declared-name',
    sentence: 'has a shape that the platform gives to the theme’s identifiers',
    examples: [{ file: 'a.php', text: '<?php «stone»_setup();', becomes: '<?php lumbre_setup();', names: 'stone → lumbre' }],
  },
  'identifier',
  (mention) => !mention.isDistinctive && isShape(mention),
);

function isShape({ matching: { shapes }, start, end, text }: Mention): boolean {
  if (shapes.length === 0) return false;
  const from = Math.max(0, start - 80);
  const window = text.slice(from, end + 80);
  return shapes.some((shape) =>
    [...window.matchAll(shape)].some((match) => {
      const begins = from + match.index;
      const isWhole = !/[\p{L}\p{N}_]/u.test(text.charAt(begins - 1));
      return isWhole && begins <= start && end <= begins + match[0].length;
    }),
  );
}
