/** Deeper than any manifest or configuration file, and far from where a recursive parser runs out of stack. */
const MAX_DEPTH = 200;

/** Indentation, lists in lists, block texts that never begin, and brackets line after line, which a parser of YAML goes down into without brackets. */
const DEEP_LINE = /^[ \t]{400}|(?:[-?][ \t]+){200}|(?:^[ \t]*[|>][^\r\n]{0,3}\r?\n){100}|(?:^[ \t]*[[{][^\r\n]*\r?\n){200}/m;

/**
 * Whether a text opens so many brackets, lists, maps or elements within each other that a recursive parser would take for
 * ever, or end the program when memory for a pattern cannot be had so deep down. What stands in strings and comments counts
 * too.
 * @param markup whether `<a>` and `</a>` open and close
 */
export function isNestedTooDeeply(text: string, markup = false): boolean {
  let depth = 0;
  let surplus = 0;
  for (const [mark] of text.matchAll(markup ? /<\/|\/>|<\w/g : /[[\]{}()]/g)) {
    if (/^(?:[[{(]|<\w)$/.test(mark)) depth++;
    else if (depth > 0) depth--;
    // Each bracket that closes nothing is a mistake that a parser goes on after, looking back at all before it.
    else if (mark === ']' || mark === '}') surplus++;
    if (depth > MAX_DEPTH || surplus > MAX_DEPTH) return true;
  }
  return !markup && DEEP_LINE.test(text);
}
