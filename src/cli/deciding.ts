import { flag, whole, type Values } from './option.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import { ExitStatus } from './exit-status.ts';
import { tally } from './output/findings-text.ts';

/** Options that say which findings decide the exit status. */
export const decisionOptions = {
  strict: flag('warnings count as errors for the exit status'),
  maxWarnings: whole('N', 'more warnings than this count as errors for the exit status', { from: 0 }),
};
export type DecisionOptions = Values<typeof decisionOptions>;

/** Errors decide the exit status; warnings do with --strict, and when there are more than --max-warnings. */
export function decidingFindings(
  checked: readonly CheckedFolder[],
  { strict, maxWarnings }: DecisionOptions,
): (finding: Finding) => boolean {
  return decidingAmong(
    checked.reduce((sum, { result }) => sum + tally(result.findings).warning, 0),
    { strict, maxWarnings },
  );
}

/** The same where there are so many warnings. */
export function decidingAmong(warnings: number, { strict, maxWarnings }: DecisionOptions): (finding: Finding) => boolean {
  const doWarnings = strict || (maxWarnings !== undefined && warnings > maxWarnings);
  return ({ severity }) => severity === 'error' || (severity === 'warning' && doWarnings);
}

/**
 * The exit status of a check, without its findings: see {@link decidingFindings}. What could not be opened, or is configured wrongly, counts
 * for more than what was found elsewhere.
 */
export class StatusCount {
  #errors = 0;
  #warnings = 0;
  #isMisused = false;

  add({ failure, result }: CheckedFolder): void {
    const { error, warning } = tally(result.findings);
    this.#errors += error;
    this.#warnings += warning;
    this.#isMisused ||= isMisuse(failure);
  }

  status({ strict, maxWarnings = Infinity }: DecisionOptions): ExitStatus {
    if (this.#isMisused) return ExitStatus.usage;
    const isDecided = this.#errors > 0 || (this.#warnings > 0 && (strict || this.#warnings > maxWarnings));
    return isDecided ? ExitStatus.findings : ExitStatus.ok;
  }
}

function isMisuse(failure: CheckedFolder['failure']): boolean {
  return failure?.code === 'usage' || failure?.code === 'configuration';
}
