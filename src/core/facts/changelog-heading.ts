import { headOfChangelog } from '../contents/changelog.ts';
import { lineEndOf } from '../documents/lines.ts';
import { withFile } from '../files/changed-tree.ts';
import { Theme } from '../theme/theme.ts';

/** A heading alone on its line: with marks, or as plain as a title can be. Prose may begin with the word. */
const UNRELEASED = /^[ \t]*(?:(?:#+|=+)[ \t]*)?\[?unreleased\]?[ \t]*(?:#+|=+|[-–(][^\n]*)?[ \t]*\r?$/gim;
const DATE = /\d{4}-\d{2}-\d{2}/;

/**
 * The theme with a heading for its next version in the changelog, written like the one of the version before; a heading “Unreleased”
 * becomes it. Unchanged where the changelog does not begin with the version before. Nothing is written to disk.
 * @param today the date in headings that have one: 2026-06-12
 */
export function withChangelogHeading(theme: Theme, before: string, next: string, today: string): Theme {
  const head = headOfChangelog(theme);
  // A heading may leave out the last of three numbers.
  if (head === undefined || ![head.version, `${head.version}.0`].includes(before)) return theme;
  const { source, range } = head;
  const { text } = source;
  const end = lineEndOf(text);
  const start = text.lastIndexOf('\n', range.start - 1) + 1;
  const lineEnd = lineEndFrom(text, range.end);
  const heading = text.slice(start, range.start) + next + text.slice(range.end, lineEnd).replace(DATE, today);
  const open = [...text.slice(0, start).matchAll(UNRELEASED)].at(-1);
  const at = open === undefined ? start : open.index;
  const openEnd = open === undefined ? start : lineEndFrom(text, open.index);
  // A line of signs under a heading is as long as the heading.
  const under = /^\r?\n([-=~^])\1{2,}[ \t]*(?=\r?\n|$)/.exec(text.slice(open === undefined ? lineEnd : openEnd));
  const lines = [heading, ...(under === null ? [] : [(under[1] ?? '').repeat(heading.length)])];
  const changed =
    open === undefined
      ? `${text.slice(0, start)}${lines.join(end)}${end}${end}${text.slice(start)}`
      : `${text.slice(0, at)}${lines.join(end)}${text.slice(openEnd + (under?.[0].length ?? 0))}`;
  const bytes = source.encode(changed);
  return bytes === undefined ? theme : new Theme(theme.platform, withFile(theme.tree, source.file, bytes), theme.names, theme.location);
}

function lineEndFrom(text: string, offset: number): number {
  const found = /\r?\n|$/.exec(text.slice(offset));
  return offset + (found?.index ?? 0);
}
