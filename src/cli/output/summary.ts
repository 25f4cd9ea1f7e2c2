import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { tally } from './findings-text.ts';

/** The sums over all themes of a check. */
export class Summary {
  readonly sums = { themes: 0, errors: 0, warnings: 0, notes: 0, files: 0, rules: 0, accepted: 0, known: 0 };

  add({ result, standsFor }: CheckedFolder): void {
    const { error, warning, note } = tally(result.findings);
    const { sums } = this;
    if (standsFor === undefined) sums.themes++;
    sums.errors += error;
    sums.warnings += warning;
    sums.notes += note;
    sums.files += result.files;
    sums.rules = Math.max(sums.rules, result.rules);
    sums.accepted += result.accepted;
    sums.known += result.known ?? 0;
  }
}
