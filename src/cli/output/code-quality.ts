import { createHash } from 'node:crypto';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { placeFrom } from './places.ts';

/** One entry of a code-quality report. */
interface QualityIssue {
  readonly description: string;
  readonly check_name: string;
  /** The same for the same finding, whatever else changes: a host compares two reports by it. */
  readonly fingerprint: string;
  readonly severity: 'blocker' | 'major' | 'minor' | 'info';
  readonly location: { readonly path: string; readonly lines: { readonly begin: number } };
}

/**
 * Findings as the JSON list of issues that code hosts show as annotations beside the lines of a change. Paths are relative to
 * the current folder.
 */
export function codeQuality(checked: readonly CheckedFolder[], currentFolder: string): QualityIssue[] {
  const report = new QualityReport(currentFolder);
  return checked.flatMap((each) => report.issuesOf(each));
}

/** The same theme by theme: see {@link codeQuality}. */
export class QualityReport {
  readonly #currentFolder: string;
  readonly #seen = new Map<string, number>();

  constructor(currentFolder: string) {
    this.#currentFolder = currentFolder;
  }

  issuesOf({ folder, result }: CheckedFolder): QualityIssue[] {
    return result.findings.map((finding) => {
      const path = placeFrom(this.#currentFolder, folder, finding.file);
      const key = `${finding.rule} ${path} ${finding.message}`;
      const times = this.#seen.get(key) ?? 0;
      this.#seen.set(key, times + 1);
      return {
        description: finding.message,
        check_name: finding.rule,
        fingerprint: createHash('sha256').update(`${key} ${times}`).digest('hex'),
        severity: severityOf(finding),
        location: { path, lines: { begin: finding.line } },
      };
    });
  }
}

function severityOf({ severity, isRefusal }: Finding): QualityIssue['severity'] {
  if (severity === 'error') return isRefusal ? 'blocker' : 'major';
  return severity === 'warning' ? 'minor' : 'info';
}
