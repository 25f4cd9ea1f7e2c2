import { DiagnosticSeverity, DiagnosticTag, type Diagnostic } from 'vscode-languageserver/node';
import type { Finding } from '../../core/rules/engine/check.ts';
import { RULES } from '../../core/rules/rules.ts';
import type { ConfigurationProblem } from '../../core/errors.ts';
import type { Told } from './judge.ts';
import { rangeOfFinding } from './places.ts';

const SEVERITIES = { error: DiagnosticSeverity.Error, warning: DiagnosticSeverity.Warning, note: DiagnosticSeverity.Information } as const;

/** How editors show it: faded, or struck through. */
const TAGS = { unused: DiagnosticTag.Unnecessary, outdated: DiagnosticTag.Deprecated } as const;
const RULE_TAGS = new Map(RULES.flatMap(({ meta: { id, tag } }) => (tag === undefined ? [] : [[id, TAGS[tag]] as const])));

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
  const tag = RULE_TAGS.get(rule);
  return {
    range: rangeOfFinding(finding),
    severity: SEVERITIES[severity],
    source: SOURCE,
    code: rule,
    ...(page === undefined ? {} : { codeDescription: { href: `${page}#${rule.replace('/', '')}` } }),
    message: hint === undefined ? message : `${message}\n→ ${hint.text}`,
    ...(tag === undefined ? {} : { tags: [tag] }),
    data: { why },
  };
}
