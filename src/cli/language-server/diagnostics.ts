import { DiagnosticSeverity, DiagnosticTag, type Diagnostic } from 'vscode-languageserver/node';
import type { Finding } from '../../core/rules/engine/check.ts';
import { RULES } from '../../core/rules/rules.ts';
import type { ConfigurationProblem } from '../../core/errors.ts';
import type { Told } from './judge.ts';
import { placeOfFile } from '../output/places.ts';
import { rangeOfFinding, uriOf } from './places.ts';

const SEVERITIES = { error: DiagnosticSeverity.Error, warning: DiagnosticSeverity.Warning, note: DiagnosticSeverity.Information } as const;

/** How editors show it: faded, or struck through. */
const TAGS = { unused: DiagnosticTag.Unnecessary, outdated: DiagnosticTag.Deprecated } as const;
const RULE_TAGS = new Map(RULES.flatMap(({ meta: { id, tag } }) => (tag === undefined ? [] : [[id, TAGS[tag]] as const])));

/** The rules that have a page. */
const OWN_IDS = new Set(RULES.map(({ meta }) => meta.id));

const SOURCE = 'pionero';

/**
 * Findings and mistakes in a file, as editors have them.
 * @param page the address of the pages on rules; undefined when they are not here
 * @param folder the theme's; undefined where the file belongs to none
 */
export function diagnosticsOf(told: readonly Told[], page: string | undefined, folder: string | undefined): Diagnostic[] {
  return told.map((each) => (each.kind === 'finding' ? diagnosticOf(each.finding, page, folder ?? '') : diagnosticOfProblem(each.problem)));
}

function diagnosticOfProblem({ line, column, message, sourceLine }: ConfigurationProblem): Diagnostic {
  const word = /^\S+/.exec(sourceLine.slice(column - 1))?.[0] ?? '';
  return { range: rangeOfFinding({ line, column, length: word.length }), severity: DiagnosticSeverity.Error, source: SOURCE, message };
}

function diagnosticOf(finding: Finding, page: string | undefined, folder: string): Diagnostic {
  const { rule, severity, message, hint, why, related = [] } = finding;
  const tag = RULE_TAGS.get(rule);
  return {
    range: rangeOfFinding(finding),
    severity: SEVERITIES[severity],
    source: SOURCE,
    code: rule,
    ...(page === undefined || !OWN_IDS.has(rule) ? {} : { codeDescription: { href: `${page}#${rule.replace('/', '')}` } }),
    message: hint === undefined ? message : `${message}\n→ ${hint.text}`,
    ...(related.length === 0
      ? {}
      : {
          relatedInformation: related.map((place) => ({
            location: { uri: uriOf(placeOfFile(place.folder ?? folder, place.file)), range: rangeOfFinding(place) },
            message: place.message,
          })),
        }),
    ...(tag === undefined ? {} : { tags: [tag] }),
    data: { why },
  };
}
