import type { SourceDocument } from '../text/source-document.ts';
import type { TextRange } from '../text/edits.ts';
import type { Theme } from '../theme/theme.ts';

const CHANGELOG = /^(?:changelog|changes|history|news|releases?)(?:\.(?:md|txt|rst))?$/i;
const HEAD = /^(?:#+\s*|=+\s*|)\[?v?(\d+\.\d+(?:\.\d+)?(?:-[\w.]+)?)\]?/gm;

/** The newest entry of a theme’s changelog. */
export interface ChangelogHead {
  readonly version: string;
  /** The text of the section, without its heading. */
  readonly text: string;
  readonly source: SourceDocument;
  /** Where the version stands, as offsets in the source. */
  readonly range: TextRange;
}

/** The path of a theme’s changelog; undefined when it has none. */
export function changelogOf(theme: Theme): string | undefined {
  return theme.tree.entries.find((entry) => entry.kind === 'file' && CHANGELOG.test(entry.path))?.path;
}

/** The newest entry of a theme’s changelog; undefined when there is none, or none with a version. */
export function headOfChangelog(theme: Theme): ChangelogHead | undefined {
  const path = changelogOf(theme);
  const source = path === undefined ? undefined : theme.source(path);
  if (source === undefined) return undefined;
  const [first, next] = source.text.matchAll(HEAD);
  const version = first?.[1];
  if (first === undefined || version === undefined) return undefined;
  const start = first.index + first[0].indexOf(version);
  const lineEnd = source.text.indexOf('\n', first.index);
  const text = lineEnd < 0 ? '' : source.text.slice(lineEnd, next?.index).trim();
  return { version, text, source, range: { start, end: start + version.length } };
}
