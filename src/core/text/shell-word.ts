import { platform } from 'node:os';

/**
 * A word as it is typed on a command line: in quotes where a shell would take it apart. On Windows as PowerShell takes it, and cmd as far as
 * both are the same; elsewhere as POSIX has it (Shell Command Language, 2.2).
 */
export function shellWord(word: string, system: NodeJS.Platform = platform()): string {
  const isWindows = system === 'win32';
  if ((isWindows ? /^[\w./\\:=-]+$/ : /^[\w./:{}=-]+$/).test(word)) return word;
  // Within double quotes these mean something.
  if (!/[$`"!\\]/.test(word) || (isWindows && !/[$`"%]/.test(word))) return `"${word}"`;
  return `'${word.replaceAll("'", isWindows ? "''" : String.raw`'\''`)}'`;
}
