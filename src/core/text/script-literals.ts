/**
 * A slash begins a regular expression of a script only where a value can begin. A set of signs in it has an end not far away: one
 * that is never closed must not be looked for through its whole line, again from each slash.
 */
export const REGEX = /(?<=[(,=:[!&|?{};+\n]\s{0,8}|\breturn\s{1,8})\/(?![*/])(?:[^\\/[\n]|\\.|\[(?:[^\\\]\n]|\\.){0,500}\])+\/[a-z]*/
  .source;

/** What ends the text of a template, or what code within it opens and closes; strings and comments of the code are read whole. */
const IN_TEXT = /\\[^]|`|\$\{/g;
/** What opens and never ends is taken to the end of its line, or of the text: it must not be looked for again from each sign in it. */
const IN_CODE = new RegExp(
  `"(?:[^"\\\\\\n]|\\\\[^])*(?:"|(?=\\n)|$)|'(?:[^'\\\\\\n]|\\\\[^])*(?:'|(?=\\n)|$)|/\\*[^]*?(?:\\*/|$)|//[^\\n]*|${REGEX}|[\`{}]`,
  'g',
);

/**
 * Where a template literal of a script ends, behind its last sign: code in it may hold templates again
 * (ECMAScript 2024, 12.9.6).
 * @param start where its first sign stands
 * @returns undefined when it never ends
 */
export function endOfTemplate(text: string, start: number): number | undefined {
  const inText = new RegExp(IN_TEXT);
  const inCode = new RegExp(IN_CODE);
  /** Of each template that is open, the braces that its code has open; 0 in its text. */
  const open = [0];
  let at = start + 1;
  while (open.length > 0) {
    const depth = open.at(-1) ?? 0;
    const pattern = depth === 0 ? inText : inCode;
    pattern.lastIndex = at;
    const sign = pattern.exec(text)?.[0];
    if (sign === undefined) return undefined;
    at = pattern.lastIndex;
    if (sign === '`' && depth === 0) open.pop();
    else if (sign === '`') open.push(0);
    else if (sign === '${' || sign === '{') open[open.length - 1] = depth + 1;
    else if (sign === '}') open[open.length - 1] = depth - 1;
  }
  return at;
}

/** Where it ends at the latest: at the next sign, whatever stands around that, so that one misread does not swallow the rest of a file. */
export function endOfPlainTemplate(text: string, start: number): number {
  const plain = /`(?:[^`\\]|\\[^])*`?/y;
  plain.lastIndex = start;
  plain.exec(text);
  return plain.lastIndex;
}
