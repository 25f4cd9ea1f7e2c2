/** A slash begins a regular expression of a script only where a value can begin. */
export const REGEX = /(?<=[(,=:[!&|?{};+\n]\s{0,8}|\breturn\s{1,8})\/(?![*/])(?:[^\\/[\n]|\\.|\[(?:[^\\\]\n]|\\.)*\])+\/[a-z]*/.source;

/** What ends the text of a template, or what code within it opens and closes; strings and comments of the code are read whole. */
const IN_TEXT = /\\[^]|`|\$\{/g;
const IN_CODE = new RegExp(`"(?:[^"\\\\\\n]|\\\\[^])*"|'(?:[^'\\\\\\n]|\\\\[^])*'|/\\*[^]*?\\*/|//[^\\n]*|${REGEX}|[\`{}]`, 'g');

/**
 * Where a template literal of a script ends, behind its last sign: code in it may hold templates again
 * (ECMAScript 2024, 12.9.6). One that never ends as a nested one is taken to end at the next sign, so that one misread
 * does not swallow the rest of a file.
 * @param start where its first sign stands
 */
export function endOfTemplate(text: string, start: number): number {
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
    if (sign === undefined) return endOfPlain(text, start);
    at = pattern.lastIndex;
    if (sign === '`' && depth === 0) open.pop();
    else if (sign === '`') open.push(0);
    else if (sign === '${' || sign === '{') open[open.length - 1] = depth + 1;
    else if (sign === '}') open[open.length - 1] = depth - 1;
  }
  return at;
}

function endOfPlain(text: string, start: number): number {
  const plain = /`(?:[^`\\]|\\[^])*`?/y;
  plain.lastIndex = start;
  plain.exec(text);
  return plain.lastIndex;
}
