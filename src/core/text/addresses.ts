import type { TextRange } from './edits.ts';

/**
 * Addresses with a host of their own, those of repositories as Git has them, and e-mail addresses (RFC 5322, 3.4.1). The end of a host is a word of letters, and
 * none by which files end: `logo@2x.png` and `hut@1.2.0` are neither.
 */
const LINK =
  /\b[a-z][a-z0-9+.-]*:\/\/[^\s"'<>()[\]{}|\\^`]+|(?<=["'`(=]\s*)\/\/[a-z0-9-]+(?:\.[a-z0-9-]+)+[^\s"'<>()[\]{}]*|\bwww\.[^\s"'<>()]+|\bgit@[\w.-]+:[^\s"'<>]+|[\w.+-]+@(?!\d+(?:\.\d+)?x\.)[\w-]+(?:\.[\w-]+)*\.(?!(?:png|jpe?g|gif|webp|avif|svg|css|scss|less|m?js|ts|json|map|woff2?|ttf)\b)[a-z]{2,}\b/gi;

/** Quick to tell, and true of next to no line. */
const MAYBE_LINK = /\/\/|@|www\./i;

/** The address of a host or of a person on a line, around a stretch of it. */
export function linkIn(line: string, { start, end }: TextRange): TextRange | undefined {
  for (const link of MAYBE_LINK.test(line) ? line.matchAll(LINK) : []) {
    const until = link.index + link[0].length;
    if (link.index <= start && end <= until) return { start: link.index, end: until };
  }
  return undefined;
}
