import { spell, splitWords } from '../names/spelling.ts';
import { spellingOf, type Occurrence } from '../names/name-finder.ts';
import { isAlone } from './alone.ts';
import { escapeTitle, isInQuotes, isProse, respell, touchOf, type Renaming } from './respell.ts';
import type { TokenContext } from './token-context.ts';

/**
 * Returns the spelling of a new title in the place of the old one; undefined when it cannot be found. A title stands in prose.
 * In one token there are only its words, joined as the place joins them: `zirrus_setup` becomes `hohe_wolken_setup`.
 */
export function respellTitle(occurrence: Occurrence, { from, to }: Renaming, where: TokenContext): string | undefined {
  const { text } = occurrence;
  if (!text.includes(' ') && !isFreeWord(occurrence, from, where)) return inToken(occurrence, { from, to }, where);
  if (text === from || text.normalize('NFC') === from.normalize('NFC')) {
    const written = escapeTitle(to, where);
    return text === from ? written : written?.normalize('NFD');
  }
  if (text === from.toUpperCase()) return escapeTitle(to.toUpperCase(), where);
  if (text === from.toLowerCase()) return escapeTitle(to.toLowerCase(), where);
  const spelling = spellingOf(occurrence);
  return spelling === undefined ? undefined : spell(splitWords(to), spelling);
}

function inToken(occurrence: Occurrence, { from, to }: Renaming, where: TokenContext): string | undefined {
  const [old, now] = [from, to].map((title) => spell(splitWords(title), 'kebab')) as [string, string];
  return respell(occurrence, { from: old, to: now, fromTitle: from, toTitle: to }, where);
}

/** Whether a word may become several with blanks between them: the title as it is wherever it is prose, another case of it in a sentence. */
function isFreeWord({ start, end, edges, text: found }: Occurrence, title: string, where: TokenContext): boolean {
  const { text } = where;
  if (edges !== 'free' || touchOf(text, start, end) !== undefined || !isProse(where)) return false;
  if (found.normalize('NFC') === title.normalize('NFC') && found !== found.toLowerCase()) return true;
  const isJoined = /[./\\#@=:]$/.test(text.charAt(start - 1)) || /^(?:[/\\=]|[.:][\p{L}\p{N}])/u.test(text.slice(end, end + 2));
  return !isJoined && !isAlone({ start, end }, where) && !isInQuotes(text, start, end);
}
