/** Reading stylesheets sign by sign, in one pass: what nothing closes is not looked through again from each sign in it. */

/** Where a string that begins at a quote ends, behind its closing quote; undefined where its line, or the text, ends before it does (CSS Syntax 3, 4.3.5). */
export function endOfString(css: string, at: number): { readonly end: number; readonly isClosed: boolean } {
  const quote = css.charAt(at);
  for (let i = at + 1; i < css.length; i += 1) {
    const sign = css.charAt(i);
    if (sign === '\\') i += 1;
    else if (sign === quote) return { end: i + 1, isClosed: true };
    else if (sign === '\n') return { end: i, isClosed: false };
  }
  return { end: css.length, isClosed: false };
}

export function isQuote(sign: string): boolean {
  return sign === '"' || sign === "'";
}

/** Where `url(…)` ends, behind its parenthesis; undefined where it does not end. An address without quotes ends at the first parenthesis. @param at behind `url(` */
export function endOfUrl(css: string, at: number): number | undefined {
  let i = afterSpace(css, at);
  if (isQuote(css.charAt(i))) {
    const { end, isClosed } = endOfString(css, i);
    i = afterSpace(css, end);
    return isClosed && css.charAt(i) === ')' ? i + 1 : undefined;
  }
  for (; i < css.length; i += 1) {
    const sign = css.charAt(i);
    if (sign === '\\') i += 1;
    else if (sign === ')') return i + 1;
  }
  return undefined;
}

/** Where a function ends whose values may be functions themselves, behind its parenthesis; undefined where nothing closes it. @param at behind its `(` */
export function endOfSet(css: string, at: number): number | undefined {
  return endOfGroup(css, at, 2);
}

/** Where the words of an `@import` end. @param at behind `@import` */
export function endOfImport(css: string, at: number): number {
  let i = at;
  while (i < css.length) {
    const sign = css.charAt(i);
    if (isQuote(sign)) {
      const { end, isClosed } = endOfString(css, i);
      if (!isClosed) return i;
      i = end;
    } else if (sign === '(') {
      const end = endOfGroup(css, i + 1, 1);
      if (end === undefined) return i;
      i = end;
    } else if (/[;){}]/.test(sign)) return i;
    else i += 1;
  }
  return i;
}

/** Behind the parenthesis that closes a group; undefined where there is none, or where groups in it go deeper. */
function endOfGroup(css: string, at: number, deepest: number): number | undefined {
  let depth = 1;
  for (let i = at; i < css.length; i += 1) {
    const sign = css.charAt(i);
    if (isQuote(sign)) {
      const { end, isClosed } = endOfString(css, i);
      if (!isClosed) return undefined;
      i = end - 1;
    } else if (sign === '(') {
      depth += 1;
      if (depth > deepest) return undefined;
    } else if (sign === ')') {
      depth -= 1;
      if (depth === 0) return i + 1;
    }
  }
  return undefined;
}

function afterSpace(css: string, at: number): number {
  let i = at;
  while (/\s/.test(css.charAt(i))) i += 1;
  return i;
}
