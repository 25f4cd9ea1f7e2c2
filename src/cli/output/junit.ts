import { displayPath } from '../../core/files/disk.ts';
import type { CheckedFolder } from '../../core/rules/check-folders.ts';
import { adviceText } from './advice-text.ts';

/** Findings as JUnit XML, the form that build servers read: a suite for each theme, a failed case for each finding. */
export function junitXml(checked: readonly CheckedFolder[], currentFolder: string): string {
  const failures = checked.reduce((sum, { result }) => sum + result.findings.length, 0);
  const suites = checked.map((each) => suiteOf(each, currentFolder)).join('');
  const tests = checked.reduce((sum, { result }) => sum + casesIn(result.findings.length), 0);
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="pionero check" tests="${tests}" failures="${failures}">\n${suites}</testsuites>\n`;
}

/** A theme without findings is one case that passed. */
function casesIn(findings: number): number {
  return Math.max(1, findings);
}

function suiteOf({ id, folder, result: { findings } }: CheckedFolder, currentFolder: string): string {
  const cases = findings.map(({ rule, file, line, column, message, hint, severity }) => {
    const place = `${file === '' ? displayPath(folder, currentFolder) : file}:${line}:${column}`;
    const failure = `<failure type="${severity}" message="${escape(message)}">${escape(`${place} ${message}\n${hint === undefined ? '' : adviceText(hint)}`.trim())}</failure>`;
    return `    <testcase classname="${escape(`${id}.${rule}`)}" name="${escape(place)}" file="${escape(file)}" line="${line}">${failure}</testcase>\n`;
  });
  const passed = `    <testcase classname="${escape(id)}" name="check"/>\n`;
  const head = `  <testsuite name="${escape(id)}" tests="${casesIn(findings.length)}" failures="${findings.length}">\n`;
  return `${head}${cases.length === 0 ? passed : cases.join('')}  </testsuite>\n`;
}

/** XML 1.0 knows no control characters, not even escaped. */
function escape(text: string): string {
  return (
    text
      // eslint-disable-next-line no-control-regex
      .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '\ufffd')
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;')
      .replaceAll('"', '&quot;')
      .replaceAll('\n', '&#10;')
  );
}
