import { decodeHTMLStrict } from 'entities';

/**
 * How languages write a character by its number or name: references of HTML (13.5), escapes of strings (ECMA-262, 12.9.4), percent
 * signs of addresses (RFC 3986, 2.1), escapes of stylesheets (CSS Syntax 3, 4.3.7). The source of a pattern, to be used without case.
 */
export const ESCAPED_CHARACTER =
  '(?:&(?:#\\d{1,7}|#x[0-9a-f]{1,6}|[a-z][a-z0-9]{1,8});|\\\\u\\{[0-9a-f]{1,6}\\}|\\\\u[0-9a-f]{4}|\\\\x[0-9a-f]{2}|(?:%[c-f][0-9a-f](?:%[89ab][0-9a-f]){1,3}|%[2-7][0-9a-f])|\\\\[0-9a-f]{1,6}\\s?)';

/** The characters that escapes stand for; what is no escape stays. */
export function decodeEscapes(text: string): string {
  return text.replace(new RegExp(ESCAPED_CHARACTER, 'gi'), (escape) => {
    if (escape.startsWith('&')) return decodeHTMLStrict(escape);
    if (escape.startsWith('%')) return decodePercent(escape);
    return fromCode(/[0-9a-f]+/i.exec(escape.replace(/^\\[ux]/i, ''))?.[0] ?? '') ?? escape;
  });
}

function decodePercent(escape: string): string {
  try {
    return decodeURIComponent(escape);
  } catch {
    return escape;
  }
}

function fromCode(digits: string): string | undefined {
  const code = Number.parseInt(digits, 16);
  return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : undefined;
}

/** In a file's bytes: how an escape, an accented letter or a sign beyond ASCII begins and ends. */
const BYTES = '(?:&[#a-z0-9]{2,9};|\\\\u?x?\\{?[0-9a-f]{1,6}\\}?|\\\\|%[0-9a-f]{2}|[\\x80-\\xff])';

/**
 * A coarse sieve for a file's bytes: whether words may stand there that are not written letter by letter. It looks for three of their
 * letters beside an escape or a byte beyond ASCII, for escapes alone, and for what can stand between two words. Each of its
 * alternatives is short, so that no input makes it slow.
 * @param words in lower case; those with letters beyond ASCII are found by the others
 */
export function encodedSieve(words: readonly string[]): RegExp {
  const pieces = words.flatMap((word) => {
    const size = Math.min(3, word.length);
    return Array.from({ length: word.length - size + 1 }, (_, i) => word.slice(i, i + size)).filter((piece) => /^[a-z0-9]+$/.test(piece));
  });
  const own = pieces.length === 0 ? '' : `(?:${[...new Set(pieces)].join('|')})`;
  const gaps = words.slice(1).flatMap((word, i) => {
    const [before, after] = [words[i]?.slice(-2) ?? '', word.slice(0, 2)];
    return /^[a-z0-9]+$/.test(before + after) ? [`${before}(?:[+]|\\s{0,40}(?:[*#;%>|]|//+|--)?\\s{0,40})${after}`] : [];
  });
  const alone = `(?:&#x?[0-9a-f]{2,5};){3}|(?:\\\\u[0-9a-f]{4}){3}|(?:\\\\x[0-9a-f]{2}){3}|(?:%[0-9a-f]{2}){6}`;
  return new RegExp([...(own === '' ? [] : [`${BYTES}${own}`, `${own}${BYTES}`]), ...gaps, alone].join('|'), 'i');
}
