import type { Finding } from '../../core/rules/check.ts';
import type { CheckedFolder } from '../../core/rules/check-folders.ts';
import { adviceText } from './advice-text.ts';
import { tally } from './findings-text.ts';

export function findingJson({
  rule,
  severity,
  file,
  line,
  column,
  message,
  hint,
  fix,
  isRefusal,
  isSeen,
  code,
  args,
}: Finding): Record<string, unknown> {
  const said = { message, hint: hint === undefined ? undefined : adviceText(hint) };
  return {
    rule,
    severity,
    file,
    line,
    column,
    ...said,
    fixable: fix?.isSafe === true,
    refused: isRefusal,
    seen: isSeen,
    code,
    args,
    advice: hint,
  };
}

/** One shape for one theme and for many; of one theme alone its own keys stand at the top as well. */
export function checksJson(checked: readonly CheckedFolder[]): Record<string, unknown> {
  const themes = checked.map(checkJson);
  const all = checked.flatMap(({ result }) => result.findings);
  const { error, warning, note } = tally(all);
  const files = checked.reduce((sum, { result }) => sum + result.files, 0);
  const [only] = themes;
  const summary = { themes: themes.length, errors: error, warnings: warning, notes: note, files };
  return {
    ...(themes.length === 1 ? only : {}),
    themes,
    summary: themes.length === 1 ? { ...(only?.['summary'] as object), themes: 1 } : summary,
  };
}

function checkJson({ facts, platform, result }: CheckedFolder): Record<string, unknown> {
  const { findings, files, rules, accepted } = result;
  const { error, warning, note } = tally(findings);
  return {
    theme: facts,
    platform: platform.name,
    findings: findings.map(findingJson),
    summary: { errors: error, warnings: warning, notes: note, files, rules, accepted },
  };
}
