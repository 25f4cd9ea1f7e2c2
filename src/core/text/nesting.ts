/** Deeper than any manifest or configuration file, and far from where a recursive parser runs out of stack. */
const MAX_DEPTH = 200;

/** Indentation, lists in lists, block texts that never begin, and brackets line after line, which a parser of YAML goes down into without brackets. */
const DEEP_LINE = /^[ \t]{400}|(?:[-?][ \t]+){200}|(?:^[ \t]*[|>][^\r\n]{0,3}\r?\n){100}|(?:^[ \t]*[[{][^\r\n]*\r?\n){200}/m;

/** No text that the pattern fits is shorter. */
const SHORTEST_DEEP = 200;

const [ROUND, ROUND_END, SQUARE, SQUARE_END, CURLY, CURLY_END] = [0x28, 0x29, 0x5b, 0x5d, 0x7b, 0x7d];

/**
 * Whether a text opens so many brackets, lists, maps or elements within each other that a recursive parser would take for
 * ever, or end the program when memory for a pattern cannot be had so deep down. The text in strings and comments counts
 * too.
 * @param markup whether `<a>` and `</a>` open and close
 */
export function isNestedTooDeeply(text: string, markup = false): boolean {
  if (markup) return hasDeepElements(text);
  return hasDeepBrackets(text) || (text.length >= SHORTEST_DEEP && DEEP_LINE.test(text));
}

/** The same of a text in which nothing but brackets opens anything. Sign by sign: a pattern would take ten times as long. */
export function hasDeepBrackets(text: string): boolean {
  let depth = 0;
  let surplus = 0;
  for (let i = 0; i < text.length; i++) {
    const sign = text.charCodeAt(i);
    if (sign === ROUND || sign === SQUARE || sign === CURLY) depth++;
    else if (sign === ROUND_END || sign === SQUARE_END || sign === CURLY_END) {
      if (depth > 0) depth--;
      // Each bracket that closes nothing is a mistake that a parser goes on after, looking back at all before it.
      else if (sign !== ROUND_END) surplus++;
    } else continue;
    if (depth > MAX_DEPTH || surplus > MAX_DEPTH) return true;
  }
  return false;
}

function hasDeepElements(text: string): boolean {
  let depth = 0;
  for (const [mark] of text.matchAll(/<\/|\/>|<\w/g)) {
    if (mark !== '</' && mark !== '/>') depth++;
    else if (depth > 0) depth--;
    if (depth > MAX_DEPTH) return true;
  }
  return false;
}
