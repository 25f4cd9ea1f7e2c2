import { DiagnosticSeverity, DiagnosticTag, type Diagnostic } from 'vscode-languageserver/node';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { ConfigurationProblem } from '../../core/errors.ts';
import type { Told } from './judge.ts';
import { rangeOfFinding } from './places.ts';

const SEVERITIES = { error: DiagnosticSeverity.Error, warning: DiagnosticSeverity.Warning, note: DiagnosticSeverity.Information } as const;

/** Rules whose findings are about what nothing uses: editors fade it. */
const UNUSED: ReadonlySet<string> = new Set(['asset/unused', 'partial/unused', 'bundle/unused', 'accept/unused', 'region/unprinted']);
/** Rules whose findings are about what newer releases call otherwise: editors strike it through. */
const OUTDATED: ReadonlySet<string> = new Set(['release/changed', 'release/field', 'field/replaced']);

const SOURCE = 'pionero';

/** Findings and mistakes in a file, as editors have them. @param page as in {@link diagnosticOf} */
export function diagnosticsOf(told: readonly Told[], page: string | undefined): Diagnostic[] {
  return told.map((each) => (each.kind === 'finding' ? diagnosticOf(each.finding, page) : diagnosticOfProblem(each.problem)));
}

function diagnosticOfProblem({ line, column, message, sourceLine }: ConfigurationProblem): Diagnostic {
  const word = /^\S+/.exec(sourceLine.slice(column - 1))?.[0] ?? '';
  return { range: rangeOfFinding({ line, column, length: word.length }), severity: DiagnosticSeverity.Error, source: SOURCE, message };
}

/** A finding as editors have it. @param page the address of the pages on rules; undefined when they are not here */
function diagnosticOf(finding: Finding, page: string | undefined): Diagnostic {
  const { rule, severity, message, hint, why } = finding;
  const tags = [...(UNUSED.has(rule) ? [DiagnosticTag.Unnecessary] : []), ...(OUTDATED.has(rule) ? [DiagnosticTag.Deprecated] : [])];
  return {
    range: rangeOfFinding(finding),
    severity: SEVERITIES[severity],
    source: SOURCE,
    code: rule,
    ...(page === undefined ? {} : { codeDescription: { href: `${page}#${rule.replace('/', '')}` } }),
    message: hint === undefined ? message : `${message}\n→ ${hint.text}`,
    ...(tags.length === 0 ? {} : { tags }),
    data: { why },
  };
}
