import type { CheckResult, Finding } from '../../core/rules/check.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { tally } from './findings-text.ts';

/** A theme's facts as one object: the id, then every fact by its name. */
export function factsJson(theme: Theme): Record<string, unknown> {
  const facts: Record<string, unknown> = { id: theme.names.id };
  if (theme.names.vendor !== undefined) facts['vendor'] = theme.names.vendor;
  for (const fact of theme.facts) facts[fact.name] ??= fact.value ?? null;
  return facts;
}

export function findingJson({ rule, severity, file, line, column, message, hint, fix }: Finding): Record<string, unknown> {
  return { rule, severity, file, line, column, message, hint, fixable: fix?.isSafe === true };
}

export function checkJson(theme: Theme, { findings, files, rules }: CheckResult): Record<string, unknown> {
  const { error, warning, note } = tally(findings);
  return {
    theme: factsJson(theme),
    platform: theme.platform.contract.name,
    findings: findings.map(findingJson),
    summary: { errors: error, warnings: warning, notes: note, files, rules },
  };
}
