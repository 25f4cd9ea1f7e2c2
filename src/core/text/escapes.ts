import { decodeHTMLStrict } from 'entities';

/**
 * How languages write a character by its number or name: references of HTML (13.5), escapes of strings (ECMA-262, 12.9.4), percent
 * signs of addresses (RFC 3986, 2.1), escapes of stylesheets (CSS Syntax 3, 4.3.7). The source of a pattern, to be used without case.
 */
export const ESCAPED_CHARACTER =
  '(?:&(?:#\\d{1,7}|#x[0-9a-f]{1,6}|[a-z][a-z0-9]{1,8});|\\\\u\\{[0-9a-f]{1,6}\\}|\\\\u[0-9a-f]{4}|\\\\x[0-9a-f]{2}|(?:%[c-f][0-9a-f](?:%[89ab][0-9a-f]){1,3}|%[2-7][0-9a-f])|\\\\[0-9a-f]{1,6}\\s?)';

/** The characters that escapes stand for; all other text stays. */
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

/** The end of an escape, as far as a few bytes show it. */
const ESCAPE_BEFORE = /(?:&[#a-z0-9]{2,9};|\\u?x?\{?[0-9a-f]{0,6}\}?\s?|%[0-9a-f]{2})$/i;
/** Escapes one after another, without a letter between them. */
const ALONE: readonly (readonly [beginning: string, run: RegExp])[] = [
  ['&#', /(?:&#x?[0-9a-f]{2,5};){3}/i],
  ['\\u', /(?:\\u[0-9a-f]{4}){3}/i],
  ['\\x', /(?:\\x[0-9a-f]{2}){3}/i],
  ['%', /(?:%[0-9a-f]{2}){6}/i],
];

/**
 * A coarse sieve for a file's bytes: whether words may stand there that are not written letter by letter. It looks for three of their
 * letters beside an escape or a byte beyond ASCII, for escapes alone, and for what can stand between two words. Every file passes
 * through it, so it looks for plain letters first.
 */
export class EncodedSieve {
  readonly #pieces: RegExp | undefined;
  readonly #gaps: RegExp | undefined;

  /** @param words in lower case; those with letters beyond ASCII are found by the others */
  constructor(words: readonly string[]) {
    const isPlain = (text: string): boolean => /^[a-z0-9]+$/.test(text);
    const pieces = words.flatMap((word) => {
      const bare = word.normalize('NFD').replace(/\p{M}+/gu, '');
      const size = Math.min(3, Math.max(1, bare.length - 1));
      const own = Array.from({ length: bare.length - size + 1 }, (_, i) => bare.slice(i, i + size)).filter(isPlain);
      return bare === word ? own : [...own, ...word.split(/[^a-z0-9]+/).filter((part) => part.length > 1)];
    });
    const gaps = words.slice(1).flatMap((word, i) => {
      const [before, after] = [words[i]?.slice(-2) ?? '', word.slice(0, 2)];
      return isPlain(before + after) ? [`${before}(?:[+]|\\s{1,40}(?:[*#;%>|]|//+|--)?\\s{0,40})${after}`] : [];
    });
    this.#pieces = pieces.length === 0 ? undefined : new RegExp([...new Set(pieces)].join('|'), 'gi');
    this.#gaps = gaps.length === 0 ? undefined : new RegExp(gaps.join('|'), 'i');
  }

  /** @param raw the bytes as ISO 8859-1 */
  test(raw: string): boolean {
    return (
      this.#hasPieces(raw) || this.#gaps?.test(raw) === true || ALONE.some(([beginning, run]) => raw.includes(beginning) && run.test(raw))
    );
  }

  #hasPieces(raw: string): boolean {
    const pieces = this.#pieces;
    if (pieces === undefined) return false;
    pieces.lastIndex = 0;
    for (let match = pieces.exec(raw); match !== null; match = pieces.exec(raw)) {
      const start = match.index;
      // The next piece can begin within this one.
      pieces.lastIndex = start + 1;
      if (isOfEscape(raw.charCodeAt(start + match[0].length), false)) return true;
      if (!isOfEscape(raw.charCodeAt(start - 1), true)) continue;
      if (raw.charCodeAt(start - 1) > 0x7f || ESCAPE_BEFORE.test(raw.slice(Math.max(0, start - 12), start))) return true;
    }
    return false;
  }
}

/** Whether an escape can begin, or end, with a byte. */
function isOfEscape(byte: number, isEnd: boolean): boolean {
  if (byte > 0x7f) return true;
  if (!isEnd) return byte === 0x26 || byte === 0x5c || byte === 0x25;
  return (
    byte === 0x3b ||
    byte === 0x7d ||
    byte === 0x20 ||
    byte === 0x5c ||
    (byte >= 0x30 && byte <= 0x39) ||
    (byte >= 0x41 && byte <= 0x46) ||
    (byte >= 0x61 && byte <= 0x66)
  );
}
