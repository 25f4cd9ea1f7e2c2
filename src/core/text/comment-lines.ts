/** Whether a line begins as a comment, in whatever language. */
export function isCommentLine(line: string): boolean {
  return /^\s*(?:[#;]|\/\/|\/\*|\*|<!--|--|\{#|\{\{!)/.test(line);
}

/** Whether a line is a comment that says one of some texts; case does not count. */
export function saysSo(line: string, texts: readonly string[]): boolean {
  const low = line.toLowerCase();
  return isCommentLine(line) && texts.some((text) => low.includes(text.toLowerCase()));
}

/** Whether a text holds one of some texts, in any case: quicker than any pattern, where most hold none. */
export function holdsAny(text: string, texts: readonly string[]): boolean {
  const low = text.toLowerCase();
  return texts.some((each) => low.includes(each.toLowerCase()));
}
