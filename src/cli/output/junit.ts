import type { Finding } from '../../core/rules/engine/check.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { placeFrom } from './places.ts';
import { escapeMarkup } from '../../core/text/markup.ts';

/**
 * The beginning of findings as JUnit XML, the form that build servers read: a suite for each theme follows, with a case for each finding. A
 * case fails when its finding decides the exit status; the others passed, and say what was found. Paths are relative to the current folder.
 */
export function junitHead(): string {
  return '<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="pionero check">\n';
}

export const JUNIT_TAIL = '</testsuites>\n';

/** All of it at once. */
export function junitXml(checked: readonly CheckedFolder[], currentFolder: string, decides: (finding: Finding) => boolean): string {
  return junitHead() + checked.map((each) => junitSuite(each, currentFolder, decides)).join('') + JUNIT_TAIL;
}

/** A theme without findings is one case that passed. */
function casesIn(findings: number): number {
  return Math.max(1, findings);
}

/** The suite of one theme. */
export function junitSuite(
  { id, folder, result: { findings } }: CheckedFolder,
  currentFolder: string,
  decides: (finding: Finding) => boolean,
): string {
  const cases = findings.map((finding) => {
    const { rule, line, column, message, hint, severity } = finding;
    const path = placeFrom(currentFolder, folder, finding.file);
    const place = `${path}:${line}:${column}`;
    const said = escape(`${place} ${message}\n${hint === undefined ? '' : hint.text}`.trim());
    const outcome = decides(finding)
      ? `<failure type="${severity}" message="${escape(message)}">${said}</failure>`
      : `<system-out>${severity}: ${said}</system-out>`;
    return `    <testcase classname="${escape(`${id}.${rule}`)}" name="${escape(place)}" file="${escape(path)}" line="${line}">${outcome}</testcase>\n`;
  });
  const passed = `    <testcase classname="${escape(id)}" name="check"/>\n`;
  const failures = findings.filter(decides).length;
  const head = `  <testsuite name="${escape(id)}" tests="${casesIn(findings.length)}" failures="${failures}">\n`;
  const where = `    <properties><property name="folder" value="${escape(placeFrom(currentFolder, folder, ''))}"/></properties>\n`;
  return `${head}${where}${cases.length === 0 ? passed : cases.join('')}  </testsuite>\n`;
}

/** XML 1.0 knows no control characters, not even escaped. */
function escape(text: string): string {
  // eslint-disable-next-line no-control-regex
  return escapeMarkup(text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '\ufffd')).replaceAll('\n', '&#10;');
}
