import type { Finding } from '../../core/rules/check.ts';
import type { CheckedFolder } from '../../core/rules/check-folders.ts';
import { tally } from './findings-text.ts';

export function findingJson({ rule, severity, file, line, column, message, hint, fix }: Finding): Record<string, unknown> {
  return { rule, severity, file, line, column, message, hint, fixable: fix?.isSafe === true };
}

export function checkJson({ facts, platform, result }: CheckedFolder): Record<string, unknown> {
  const { findings, files, rules, accepted } = result;
  const { error, warning, note } = tally(findings);
  return {
    theme: facts,
    platform: platform.name,
    findings: findings.map(findingJson),
    summary: { errors: error, warnings: warning, notes: note, files, rules, accepted },
  };
}
