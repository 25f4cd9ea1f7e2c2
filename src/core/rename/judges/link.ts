import { linkIn } from '../../text/addresses.ts';
import type { FileView, Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

export const link: Judge = keeps(
  {
    code: 'link',
    group: 'link',
    sentence: 'part of a link or an e-mail address',
    examples: [
      { file: 'a.md', text: 'See https://albar.example/«albar».' },
      { file: 'a.md', text: '[The «Albar» hut book](https://albar.example)' },
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

/** `[The Albar book](https://albar.example)`, `<a href="https://albar.example">About Albar</a>`, `` `Albar <https://albar.example>`_ ``. */
function isTextOfLink(mention: Mention): boolean {
  const head = mention.before(REACH);
  // Values that a template puts into the text are called as its code calls them.
  if (mention.zoneKind === 'code' || /(?:\{\{[^{}]*|\{%[^%]*|<%[^%]*)$/.test(head)) return false;
  const address = addressOfLink(head, mention.after(REACH), mention.file);
  return address !== undefined && /^(?:[a-z][a-z0-9+.-]*:)?\/\/./i.test(address) && mention.pair.finder.isIn(address);
}

/** Where a link leads whose text lies around a place; undefined when no link is there. */
function addressOfLink(head: string, tail: string, file: FileView): string | undefined {
  if (/(?<!!)\[[^[\]\n]*$/.test(head)) {
    const inline = /^[^[\]\n]*\]\(\s*<?([^)\s>]+)/.exec(tail)?.[1];
    const label = inline === undefined ? /^[^[\]\n]*\]\[([^[\]\n]+)\]/.exec(tail)?.[1] : undefined;
    return inline ?? (label === undefined ? undefined : file.once('labels', () => labelsIn(file.text)).get(label.toLowerCase()));
  }
  if (/`[^`<>]*$/.test(head) && /^[^`<>]*<[^<>`]+>`_/.test(tail)) return /^[^`<>]*<([^<>`\s]+)>`_/.exec(tail)?.[1];
  if (!tail.includes('</')) return undefined;
  const isElement = /^(?:[^<]|<(?!a\b)[^<>]*>)*<\/a\s*>/i.test(tail);
  return isElement ? /<a\b[^<>]*\bhref\s*=\s*["']([^"'<>]*)["'][^<>]*>(?:[^<>]|<(?!\/?a\b)[^<>]*>)*$/i.exec(head)?.[1] : undefined;
}

/** The addresses that a text gives names to: `[book]: https://albar.example/book` (CommonMark 0.31, 4.7). */
function labelsIn(text: string): ReadonlyMap<string, string> {
  const labels = [...text.matchAll(/^ {0,3}\[([^[\]\n]+)\]:[ \t]*<?(\S+)/gm)];
  return new Map(labels.map(([, label = '', address = '']) => [label.toLowerCase(), address]));
}
