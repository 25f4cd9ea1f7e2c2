import { linkIn } from '../../text/addresses.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

export const link: Judge = keeps(
  {
    code: 'link',
    group: 'link',
    sentence: 'part of a link or an e-mail address',
    examples: [
      { file: 'a.md', text: 'See https://albar.example/«albar».' },
      { file: 'a.md', text: '[«Albar»](https://albar.example)' },
      { file: 'a.html', text: '<a href="https://albar.example">«Albar»</a>' },
    ],
  },
  (mention) => isOfLink(mention),
);

/** Whether a mention lies in an address of another host or of a person, or is the text of a link to one of that name. */
export function isOfLink(mention: Mention): boolean {
  return isInLink(mention) || isTextOfLink(mention);
}

function isInLink({ line, lineStart, start, end }: Mention): boolean {
  return linkIn(line, { start: start - lineStart, end: end - lineStart }) !== undefined;
}

/** How far the ends of a link are looked for. */
const REACH = 300;

/** `[Albar](https://albar.example)`, `<a href="https://albar.example">Albar</a>`. */
function isTextOfLink(mention: Mention): boolean {
  const tail = mention.after(REACH);
  const head = mention.before(REACH);
  const address =
    (/\[\W*$/.test(head) ? /^\W*?\]\(\s*<?([^)\s>]+)/.exec(tail)?.[1] : undefined) ??
    (/^\W*?<\/a\s*>/i.test(tail) ? /<a\b[^<>]*\bhref\s*=\s*["']([^"'<>]*)["'][^<>]*>[^\w<]*$/i.exec(head)?.[1] : undefined);
  return address !== undefined && /^(?:[a-z][a-z0-9+.-]*:)?\/\/./i.test(address) && mention.pair.finder.isIn(address);
}
