import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { tally } from './findings-text.ts';
import { checkJson } from './json.ts';

/** A theme as a line of JSON. @param position among all of the run; an entry about a file around themes has none, and the ids that it stands for */
export function lineOf(checked: CheckedFolder, currentFolder: string, position: number | undefined): string {
  const { standsFor } = checked;
  const place = position === undefined ? { around: standsFor ?? [] } : { position };
  return `${JSON.stringify({ ...place, ...checkJson(checked, currentFolder) })}\n`;
}

/** Which part of several a report is. */
interface Part {
  readonly part: number;
  readonly of: number;
}

/** The last line: the sums over all themes, and which part of several it was. */
export class Summary {
  readonly #shard: Part | undefined;
  readonly #sums = { themes: 0, errors: 0, warnings: 0, notes: 0, files: 0, rules: 0, accepted: 0, known: 0 };

  constructor(shard: Part | undefined) {
    this.#shard = shard;
  }

  add({ result, standsFor }: CheckedFolder): void {
    const { error, warning, note } = tally(result.findings);
    const sums = this.#sums;
    if (standsFor === undefined) sums.themes++;
    sums.errors += error;
    sums.warnings += warning;
    sums.notes += note;
    sums.files += result.files;
    sums.rules = Math.max(sums.rules, result.rules);
    sums.accepted += result.accepted;
    sums.known += result.known ?? 0;
  }

  line(): string {
    const { part, of } = this.#shard ?? {};
    return `${JSON.stringify({ summary: this.#sums, ...(part === undefined ? {} : { shard: { part, of } }) })}\n`;
  }
}
