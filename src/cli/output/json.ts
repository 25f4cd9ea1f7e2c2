import type { Finding, FindingPlace } from '../../core/rules/engine/check.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { tally } from './findings-text.ts';
import { placeFrom } from './places.ts';

export function findingJson({
  sourceLine,
  length,
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
  const said = { message, hint: hint?.text };
  return {
    rule,
    severity,
    file,
    line,
    column,
    ...said,
    fixable: fix?.isSafe === true,
    fix: fix === undefined ? undefined : { title: fix.title, safe: fix.isSafe, file: fix.file, edits: fix.edits },
    refused: isRefusal,
    seen: isSeen,
    code,
    args,
    advice: hint === undefined ? undefined : { code: hint.code, args: hint.args },
    // A line of a file that was made small tells nobody anything, and thousands of findings can stand on it.
    sourceLine: sourceLine !== undefined && sourceLine.length > MAX_LINE ? undefined : sourceLine,
    length,
  };
}

/** Characters of a source line that a report carries along. */
const MAX_LINE = 2000;

/**
 * One shape for one theme and for many. `findings` are those of all themes; `theme` and `platform` are those of the only
 * theme, and null when there are several. `around` is about files around the themes, with the ids of those that are not checked because of it.
 */
export function checksJson(checked: readonly CheckedFolder[], currentFolder: string): Record<string, unknown> {
  const themes = checked.filter(({ standsFor }) => standsFor === undefined).map((each) => checkJson(each, currentFolder));
  const around = checked
    .filter(({ standsFor }) => standsFor !== undefined)
    .map((each) => ({ ...checkJson(each, currentFolder), standsFor: each.standsFor }));
  const [only] = themes.length === 1 ? themes : [];
  const all = checked.flatMap(({ result }) => result.findings);
  const sum = (key: 'files' | 'accepted' | 'known'): number => checked.reduce((total, { result }) => total + (result[key] ?? 0), 0);
  const rules = Math.max(0, ...checked.map(({ result }) => result.rules));
  return {
    theme: only?.theme ?? null,
    platform: only?.platform ?? null,
    findings: [...themes, ...around].flatMap(({ findings }) => findings),
    summary: { themes: themes.length, ...counts(all), files: sum('files'), rules, accepted: sum('accepted'), known: sum('known') },
    themes,
    ...(around.length === 0 ? {} : { around }),
  };
}

export function checkJson({ facts, platform, result, folder, id, failure }: CheckedFolder, currentFolder: string) {
  const { findings, files, rules, accepted } = result;
  return {
    id,
    folder: placeFrom(currentFolder, folder, ''),
    theme: failure === undefined ? facts : null,
    platform: failure === undefined ? platform.name : null,
    platformTitle: failure === undefined ? platform.title : null,
    failure: failure ?? null,
    findings: findings.map((finding) => ({
      ...findingJson(finding),
      path: placeFrom(currentFolder, folder, finding.file),
      related: finding.related?.map((place) => relatedJson(place, folder, currentFolder)),
    })),
    summary: { ...counts(findings), files, rules, accepted },
  };
}

/** Another place of a finding, from the current folder, as `path` is. */
function relatedJson({ message, folder, file, line, column, length }: FindingPlace, own: string, currentFolder: string) {
  return { path: placeFrom(currentFolder, folder ?? own, file), line, column, length, message };
}

function counts(findings: readonly Finding[]): { errors: number; warnings: number; notes: number } {
  const { error, warning, note } = tally(findings);
  return { errors: error, warnings: warning, notes: note };
}
