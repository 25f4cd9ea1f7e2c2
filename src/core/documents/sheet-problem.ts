import { endOfString, endOfUrl, isQuote } from '../text/sheet-scan.ts';
import type { SyntaxProblem } from './syntax.ts';

/** Whether something can begin, end or be left out with a character, by its code. */
const SIGNS = Uint8Array.from({ length: 128 }, (_, code) => (/["'\\{}()[\];:/u]/i.test(String.fromCharCode(code)) ? 1 : 0));
const [SLASH, SMALL_R, SMALL_U, LARGE_U] = [0x2f, 0x72, 0x75, 0x55];
/** The bit that makes a letter of ASCII small. */
const CASE = 0x20;

/** Where the next sign stands: a bracket, quote or separator, or where a comment or an address begins; -1 when there is none. */
function nextSign(text: string, from: number): number {
  for (let at = from; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (code >= 128 || SIGNS[code] === 0) continue;
    if (code === SLASH && text.charAt(at + 1) !== '*') continue;
    if (code === SMALL_U || code === LARGE_U) {
      // Most words with a “u” are something else: they are told by the letter behind it.
      if ((text.charCodeAt(at + 1) | CASE) !== SMALL_R || !/^url\($/i.test(text.slice(at, at + 4)) || /\w/.test(text.charAt(at - 1)))
        continue;
    }
    return at;
  }
  return -1;
}

/** A template language in a sheet: what the sheet will be is not known. */
const TEMPLATE = /<\?|\{[{%]|<%/;

/** A name and a value with nothing between them; anything else may be a way of some tool’s. */
const WITHOUT_COLON = /^-{0,2}[a-z][\w-]*[ \t]+[^\s@$&<>=%#{}][^@$<>={}]*$|^-{0,2}[a-z][\w-]*[ \t]+#[0-9a-f]{3,8}$/i;

/** A bracket or a brace that is open. */
interface Open {
  readonly sign: string;
  readonly at: number;
}

/**
 * What of a stylesheet cannot be meant, the first of it. A browser reads on after any mistake (CSS Syntax 3, section 2.2), but what is not
 * closed swallows what follows, and a declaration without its colon is dropped.
 */
export function problemOfSheet(text: string): SyntaxProblem | undefined {
  if (TEMPLATE.test(text)) return undefined;
  const open: Open[] = [];
  // Where the statement began, and whether a colon or a comment was in it.
  let begin = 0;
  let isPlain = true;
  const next = (at: number): void => {
    begin = at;
    isPlain = true;
  };
  let after = 0;
  for (let at = nextSign(text, 0); at >= 0; at = nextSign(text, after)) {
    const sign = text.charAt(at);
    after = at + 1;
    if (sign === '/') {
      const end = text.indexOf('*/', at + 2);
      if (end < 0) return problem(at, 'the comment is not closed: “*/” is missing');
      after = end + 2;
      if (text.slice(begin, at).trim() === '') begin = end + 2;
      else isPlain = false;
    } else if (isQuote(sign)) {
      const { end, isClosed } = endOfString(text, at);
      if (!isClosed) return problem(at, `the string is not closed: ${sign} is missing before its line ends`);
      after = end;
    } else if (sign === '\\') after = at + 2;
    else if (sign === 'u' || sign === 'U') {
      const end = endOfUrl(text, at + 'url('.length);
      if (end === undefined) return problem(at, 'the address is not closed: “)” is missing');
      after = end;
    } else if (sign === ':') isPlain = false;
    else if (sign === '(' || sign === '[') open.push({ sign, at });
    else if (sign === ')' || sign === ']') {
      if (open.at(-1)?.sign === (sign === ')' ? '(' : '[')) open.pop();
    } else if (sign === ';' && isBracket(open.at(-1))) continue;
    else {
      const bracket = open.at(-1);
      if (isBracket(bracket)) return problem(bracket.at, `the bracket is not closed: “${bracket.sign === '(' ? ')' : ']'}” is missing`);
      if (sign !== '{' && isPlain && open.length > 0) {
        const said = text.slice(begin, at).trim();
        if (WITHOUT_COLON.test(said)) return problem(begin + text.slice(begin, at).indexOf(said), 'the declaration has no colon');
      }
      if (sign === '{') open.push({ sign, at });
      else if (sign === '}' && open.pop() === undefined) return problem(at, 'there is a “}” too many');
      next(at + 1);
    }
  }
  const last = open.at(-1);
  return last === undefined ? undefined : problem(last.at, `the block is not closed: “${last.sign === '{' ? '}' : ')'}” is missing`);
}

function isBracket(open: Open | undefined): open is Open {
  return open !== undefined && open.sign !== '{';
}

function problem(start: number, message: string): SyntaxProblem {
  return { message, start, end: start + 1 };
}
