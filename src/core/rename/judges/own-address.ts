import type { Mention } from '../mention.ts';
import { changes, type Judge } from './judge.ts';

/** `themes/oak`, and `oak/css/hut.css` where the theme has such a file: an address of the theme, or of what is in it. */
export const ownAddress: Judge = changes(
  {
    code: 'own-address',
    sentence: 'an address of the theme, or of a file that it has',
    examples: [
      {
        file: 'a.md',
        text: 'Copy «page»/css/hut.css.',
        becomes: 'Copy lumbre/css/hut.css.',
        names: 'page → lumbre',
        with: { files: { 'css/hut.css': '' } },
      },
    ],
  },
  'identifier',
  (mention) => !mention.isDistinctive && isOwnAddress(mention),
);

function isOwnAddress(mention: Mention): boolean {
  const { home, files } = mention.matching;
  const [before, after] = [mention.before(1), mention.after(1)];
  if (/[\w-]/.test(before) || /[\w-]/.test(after)) return false;
  const lead = home?.slice(0, -mention.found.length) ?? '';
  if (home?.endsWith(mention.found) === true && lead !== '' && mention.before(lead.length) === lead) return true;
  if (after !== '/') return false;
  const rest = /^[\w./@-]+/.exec(mention.after(300).slice(1))?.[0] ?? '';
  return files.has(rest) || files.has(rest.replace(/[/.]$/, ''));
}
