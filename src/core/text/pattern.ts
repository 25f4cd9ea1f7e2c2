/** Whether a text is a regular expression (with the flag `u`). */
export function isPattern(text: string): boolean {
  try {
    return new RegExp(text, 'u').source !== '';
  } catch {
    return false;
  }
}

/** An innermost group that is repeated without end, with what stands in it. */
const REPEATED_GROUP = /\((?:\?:)?((?:[^()\\]|\\.)*)\)(?:[+*]|\{\d+,\})/g;

/** A class, an escape or a character, and the quantifier behind it. */
const ATOM = /(\[(?:[^\]\\]|\\.)*\]|\\[pPu]\{[^}]*\}|\\.|[^\\])([+*?]|\{\d+(?:,\d*)?\})?/gu;

/**
 * Whether a regular expression can take exponential time: a group is repeated that holds a repetition, and nothing in it
 * tells one round from the next. `(_[a-z]+)*` is sound, since no letter is an underscore; `([a-z]+)*` is not.
 */
export function isRunaway(pattern: string): boolean {
  return [...pattern.matchAll(REPEATED_GROUP)].some(([, body = '']) => body.split('|').some(isAmbiguous));
}

function isAmbiguous(body: string): boolean {
  const atoms = [...body.matchAll(ATOM)].map(([, atom = '', quantifier = '']) => ({ atom, quantifier }));
  const repeated = atoms.filter(({ quantifier }) => /^[+*]|,\}$/.test(quantifier));
  const fixed = atoms.filter(({ atom, quantifier }) => quantifier === '' && /^[^[.\\]$/u.test(atom));
  if (repeated.length === 0) return false;
  return !fixed.some(({ atom }) => repeated.every((each) => !canMatch(each.atom, atom)));
}

/** Whether one atom of a pattern matches a character; what is no pattern by itself counts as if it did. */
function canMatch(atom: string, character: string): boolean {
  const source = `^(?:${atom})$`;
  return !isPattern(source) || new RegExp(source, 'u').test(character);
}
