import type { Mention } from '../mention.ts';
import { respell } from '../respell.ts';
import type { Judge } from './judge.ts';
import { isOfLink } from './link.ts';

/** A reference is spelled as the renamed file is. */
export const reference: Judge = {
  code: 'reference',
  sentence: 'leads to a file or a folder that is renamed',
  examples: [
    {
      file: 'a.html',
      text: '<img src="img/«albar»-hut.png">',
      becomes: '<img src="img/cumbre-sur-hut.png">',
      with: { files: { 'img/albar-hut.png': '' } },
    },
  ],
  judge: (mention) => {
    const { moved, occurrence, pair } = mention;
    if (moved === undefined || !isReference(mention)) return undefined;
    const { part, becomes, start } = moved;
    const inPart = { ...occurrence, start: occurrence.start - start, end: occurrence.end - start };
    // The part of the new name in the place of the old one; where it stood twice, the spelling decides.
    const [head, tail] = [part.slice(0, inPart.start), part.slice(inPart.end)];
    const isPlain =
      becomes.startsWith(head) &&
      becomes.endsWith(tail) &&
      becomes.length >= head.length + tail.length &&
      pair.finder.find(part).length === 1;
    const replacement = isPlain
      ? becomes.slice(head.length, becomes.length - tail.length)
      : respell(inPart, pair, { text: part, zone: 'path', file: '' });
    return { kind: 'path', replacement };
  },
};

/** Whether a mention can lead to a file of the theme: addresses elsewhere, titles and paths of binaries do not. */
export function isReference(mention: Mention): boolean {
  return mention.pair.sort !== 'title' && !isOfLink(mention) && !mention.isOnlyInBinary;
}
