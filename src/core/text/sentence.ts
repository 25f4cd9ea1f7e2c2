/** `1 file`, `2 files`: a count with its noun; a plural that is not made by an s is given. */
export function count(number: number, noun: string, nouns = `${noun}s`): string {
  return `${digits(number)} ${plural(number, noun, nouns)}`;
}

/** The form of a word that a number asks for: `is` or `are`. */
export function plural(number: number, one: string, several: string): string {
  // Not Intl.PluralRules, which says the same of English: to set up the language data takes longer than most commands.
  return number === 1 ? one : several;
}

/** A whole number in groups of three digits. */
export function digits(number: number): string {
  return String(number).replace(/\B(?=(?:\d{3})+$)/g, ',');
}

/** Names in a sentence: `a, b, c`, and of many the first: `a, b, and 5 more`. */
export function listed(names: readonly string[], most: number): string {
  const rest = names.length - most;
  return [...names.slice(0, most), ...(rest > 0 ? [`and ${digits(rest)} more`] : [])].join(', ');
}

/** What to do about a name that nothing has: the near one that may be meant, or something else. */
export function didYouMean(near: string | undefined, otherwise: string): string {
  return near === undefined ? otherwise : `did you mean “${near}”?`;
}
