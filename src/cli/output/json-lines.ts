import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { checkJson } from './json.ts';
import type { Summary } from './summary.ts';

/** A theme as a line of JSON. @param position among all of the run; an entry about a file around themes has none, and the ids that it stands for */
export function lineOf(checked: CheckedFolder, currentFolder: string, position: number | undefined): string {
  const { standsFor } = checked;
  const place = position === undefined ? { around: standsFor ?? [] } : { position };
  return `${JSON.stringify({ ...place, ...checkJson(checked, currentFolder) })}\n`;
}

/** The last line: the sums over all themes, and which part of several it was. */
export function lastLine(summary: Summary, shard: { readonly part: number; readonly of: number } | undefined): string {
  const part = shard === undefined ? {} : { shard: { part: shard.part, of: shard.of } };
  return `${JSON.stringify({ summary: summary.sums, ...part })}\n`;
}
