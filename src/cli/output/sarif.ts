import type { Location, Log, Region, ReportingDescriptor, Result } from 'sarif';
import type { Finding, FindingPlace } from '../../core/rules/engine/check.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { RULES } from '../../core/rules/rules.ts';
import { placeFrom } from './places.ts';

/**
 * The beginning of a log in the Static Analysis Results Interchange Format 2.1.0 (OASIS), up to its results, which follow theme by theme.
 * Places are relative to the current folder.
 */
export function sarifHead(version: string): string {
  return JSON.stringify(emptyLog(version), null, 2).split(NO_RESULTS)[0] ?? '';
}

/** The results of one theme. @param isFirst whether no theme before it had any */
export function sarifResults(checked: CheckedFolder, currentFolder: string, isFirst: boolean): string {
  const results = resultsOf(checked, currentFolder).map((each) => JSON.stringify(each, null, 2).replaceAll('\n', `\n${INDENT}`));
  return results.map((each, i) => `${i === 0 && isFirst ? '"results": [' : ','}\n${INDENT}${each}`).join('');
}

/** The end of the log. @param isEmpty whether no theme had a result */
export function sarifTail(isEmpty: boolean): string {
  const [, rest = ''] = JSON.stringify(emptyLog(''), null, 2).split(NO_RESULTS);
  return `${isEmpty ? NO_RESULTS : '\n      ]'}${rest}\n`;
}

/** All of it at once. */
export function sarifLog(checked: readonly CheckedFolder[], { version, currentFolder }: { version: string; currentFolder: string }): Log {
  const log = emptyLog(version);
  return { ...log, runs: log.runs.map((run) => ({ ...run, results: checked.flatMap((each) => resultsOf(each, currentFolder)) })) };
}

function resultsOf({ folder, result }: CheckedFolder, currentFolder: string): Result[] {
  const uri = (file: string, of = folder): string => uriOf(placeFrom(currentFolder, of, file));
  return result.findings.map((finding) => toResult(uri, finding));
}

const NO_RESULTS = '"results": []';
/** Of a result in the log. */
const INDENT = ' '.repeat(8);

function emptyLog(version: string): Log {
  const driver = { name: 'Pionero', semanticVersion: version, rules: RULES.map(({ meta }) => describeRule(meta)) };
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [{ tool: { driver }, columnKind: 'utf16CodeUnits', results: [] }],
  };
}

function describeRule({ id, summary, why, severity }: (typeof RULES)[number]['meta']): ReportingDescriptor {
  return {
    id,
    shortDescription: { text: `${summary}.` },
    fullDescription: { text: why },
    help: { text: `pionero explain ${id}` },
    defaultConfiguration: { level: severity },
  };
}

/** @param uri the address of a file of the theme, or of one in another folder */
function toResult(uri: (file: string, folder?: string) => string, finding: Finding): Result {
  const { rule, severity, file, message, hint, fix, related = [] } = finding;
  const index = RULES.findIndex(({ meta }) => meta.id === rule);
  return {
    ruleId: rule,
    // A user's own rule is not among those that the tool describes.
    ...(index < 0 ? {} : { ruleIndex: index }),
    level: severity,
    message: { text: hint === undefined ? message : `${message}. ${hint.text}` },
    locations: [{ physicalLocation: { artifactLocation: { uri: uri(file) }, region: regionOf(finding) } }],
    ...(related.length === 0
      ? {}
      : { relatedLocations: related.map((place, id) => relatedLocation(uri(place.file, place.folder), place, id)) }),
    partialFingerprints: { 'pionero/1': `${rule} ${file} ${message}` },
    ...(fix === undefined || fix.edits.length === 0
      ? {}
      : {
          fixes: [
            {
              description: { text: fix.title.text },
              artifactChanges: [
                {
                  artifactLocation: { uri: uri(fix.file) },
                  replacements: fix.edits.map(({ start, end, text }) => ({
                    deletedRegion: { charOffset: start, charLength: end - start },
                    insertedContent: { text },
                  })),
                },
              ],
            },
          ],
        }),
  };
}

function regionOf({ line, column, length }: Pick<Finding, 'line' | 'column' | 'length'>): Region {
  return { startLine: line, startColumn: column, ...(length > 0 ? { endColumn: column + length } : {}) };
}

/** Another place that a result is about (section 3.27.22). */
function relatedLocation(uri: string, place: FindingPlace, id: number): Location {
  return { id, physicalLocation: { artifactLocation: { uri }, region: regionOf(place) }, message: { text: place.message } };
}

/** A path as a URI reference (RFC 3986). */
function uriOf(path: string): string {
  return path.split('/').map(encodeURIComponent).join('/');
}
