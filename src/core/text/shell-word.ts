/** A word as it is typed on a command line: in quotes where a shell would take it apart. */
export function shellWord(word: string): string {
  return /^[\w./:{}=-]+$/.test(word) ? word : JSON.stringify(word);
}
