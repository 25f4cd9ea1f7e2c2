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
