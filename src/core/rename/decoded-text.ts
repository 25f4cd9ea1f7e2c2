import { decodeHTMLStrict } from 'entities';

/** A text as readers and browsers have it, and for each of its letters where in the written text it begins. */
export interface DecodedText {
  readonly text: string;
  readonly offsets: readonly number[];
}

const REFERENCE = /&(?:#x?[0-9a-z]+|[a-z][a-z0-9]*);/y.source;
const ESCAPE = /\\u\{[0-9a-f]+\}|\\u[0-9a-f]{4}|\\x[0-9a-f]{2}|\\[0-9a-f]{1,6}[ \t\n]?|\\(?=[-_. ])/.source;
const PERCENT = /(?:%[0-9a-f]{2})+/.source;
/** A line that goes on in a comment of the next, or in flowing text. */
const IN_COMMENT = /[ \t\u00a0]*\r?\n[ \t]*(?:\*(?!\/)|#|\/\/+|;+|%|--|>|\|)[ \t]*/.source;
const IN_PROSE = /[ \t\u00a0]*\r?\n[ \t]*(?![ \t]*\r?\n)/.source;
const BLANKS = /[ \t\u00a0\u2007\u2009\u202f]+/.source;
const SIGNS = /[\u00ad\u2010-\u2013+]|[\u0300-\u036f]/.source;

/**
 * Decodes a text: references, escapes, percent signs, blanks and hyphens that do not break, soft hyphens, several blanks, the ends of
 * lines that go on, letters with marks.
 * @param isFlowing whether a line's end is no more than a blank
 */
export function decodeText(written: string, isFlowing: boolean): DecodedText {
  const parts = [REFERENCE, ESCAPE, PERCENT, IN_COMMENT, ...(isFlowing ? [IN_PROSE] : []), BLANKS, SIGNS];
  const tokens = new RegExp(parts.join('|'), 'gi');
  // In pieces: to take the last letter off a long text copies it.
  const pieces: string[] = [];
  const offsets: number[] = [];
  let at = 0;
  const take = (letters: string, from: number, isOneForOne: boolean): void => {
    for (let i = 0; i < letters.length; i++) offsets.push(isOneForOne ? from + i : from);
    if (letters !== '') pieces.push(letters);
  };
  for (const { 0: token, index } of written.matchAll(tokens)) {
    take(written.slice(at, index), at, true);
    at = index + token.length;
    if (/^[\u0300-\u036f]$/.test(token)) {
      // The letter before it takes the mark.
      const last = pieces.pop() ?? '';
      const from = offsets.pop() ?? index;
      if (last.length > 1) pieces.push(last.slice(0, -1));
      take((last.slice(-1) + token).normalize('NFC'), from, false);
    } else if (token === '+' && !isBlank(written, index)) take('+', index, true);
    else take(meaningOf(token), index, false);
  }
  take(written.slice(at), at, true);
  return { text: pieces.join(''), offsets };
}

/** Whether a plus stands in the query of an address, or in a string of words alone; elsewhere it adds. */
function isBlank(written: string, at: number): boolean {
  let start = at;
  while (start > 0 && at - start < 200 && !/[\s"'`()<>,]/.test(written.charAt(start - 1))) start--;
  if (/[?&%]/.test(written.slice(start, at))) return true;
  const quote = written.charAt(start - 1);
  return /["'`]/.test(quote) && /^[\w+%-]*(["'`])/.exec(written.slice(at, at + 200))?.[1] === quote;
}

function meaningOf(token: string): string {
  if (/^\s/.test(token) || token === '+') return ' ';
  if (token === '\u00ad') return '';
  if (/^[\u2010-\u2013]$/.test(token)) return '-';
  if (token.startsWith('&')) return decodeHTMLStrict(token).replace('\u00a0', ' ').replace('\u00ad', '');
  if (token.startsWith('%')) return percent(token);
  if (token === '\\') return '';
  const code = Number.parseInt(token.replace(/[^0-9a-f]/gi, ''), 16);
  return code > 0 && code < 0x110000 ? String.fromCodePoint(code).replace('\u00a0', ' ') : token;
}

function percent(token: string): string {
  try {
    return decodeURIComponent(token);
  } catch {
    return token;
  }
}
