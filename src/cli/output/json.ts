import type { Finding, FindingPlace } from '../../core/rules/engine/check.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { TextSpool } from '../../core/files/text-spool.ts';
import { tally } from './findings-text.ts';
import { placeFrom } from './places.ts';
import { Summary } from './summary.ts';

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
 * A report in JSON that is put together theme by theme. One shape for one theme and for many: `findings` are those of all themes; `theme`
 * and `platform` are those of the only theme, and null when there are several. `around` is about files around the themes, with the ids
 * of those that are not checked because of it.
 */
export class JsonReport {
  readonly #currentFolder: string;
  readonly #shard: object | undefined;
  readonly #summary: Summary;
  /** The sums come before the themes, so these wait on the disk where they are many. */
  readonly #parts = { findings: new JsonList(), themes: new JsonList(), aroundFindings: new JsonList(), around: new JsonList() };
  /** The only theme, as long as there is one. */
  #only: Pick<ReturnType<typeof checkJson>, 'theme' | 'platform'> | undefined;

  /** @param shard which part of several it is, with the positions of its themes */
  constructor(currentFolder: string, shard?: object) {
    this.#currentFolder = currentFolder;
    this.#shard = shard;
    this.#summary = new Summary();
  }

  add(checked: CheckedFolder): void {
    const { standsFor } = checked;
    const { findings, themes, aroundFindings, around } = this.#parts;
    const told = checkJson(checked, this.#currentFolder);
    this.#summary.add(checked);
    if (standsFor === undefined) {
      themes.add(told);
      this.#only = this.#summary.sums.themes === 1 ? { theme: told.theme, platform: told.platform } : undefined;
    } else around.add({ ...told, standsFor });
    for (const finding of told.findings) (standsFor === undefined ? findings : aroundFindings).add(finding);
  }

  *texts(): Generator<string> {
    const { findings, themes, aroundFindings, around } = this.#parts;
    const { theme, platform } = this.#only ?? { theme: null, platform: null };
    yield `{\n  "theme": ${indented(theme, 2)},\n  "platform": ${JSON.stringify(platform)},\n  "findings": `;
    yield* listTexts([findings, aroundFindings]);
    yield `,\n  "summary": ${indented(this.#summary.sums, 2)},\n  "themes": `;
    yield* listTexts([themes]);
    if (!around.isEmpty) {
      yield ',\n  "around": ';
      yield* listTexts([around]);
    }
    if (this.#shard !== undefined) yield `,\n  "shard": ${indented(this.#shard, 2)}`;
    yield '\n}\n';
  }
}

/** The entries of a list, each on lines of its own. */
class JsonList {
  readonly #spool = new TextSpool();
  isEmpty = true;

  add(value: unknown): void {
    this.#spool.add(`${this.isEmpty ? '' : ','}\n    ${indented(value, 4)}`);
    this.isEmpty = false;
  }

  texts(): Generator<string> {
    return this.#spool.texts();
  }
}

/** Lists one after another as one, as a member of the report. */
function* listTexts(lists: readonly JsonList[]): Generator<string> {
  const filled = lists.filter(({ isEmpty }) => !isEmpty);
  if (filled.length === 0) return yield '[]';
  yield '[';
  for (const [i, list] of filled.entries()) {
    if (i > 0) yield ',';
    yield* list.texts();
  }
  yield '\n  ]';
}

/** A value as JSON on several lines, of which all but the first begin with so many blanks more. */
function indented(value: unknown, blanks: number): string {
  return JSON.stringify(value, null, 2).replaceAll('\n', `\n${' '.repeat(blanks)}`);
}

/** The report as plain data: see {@link JsonReport}. */
export function checksJson(checked: readonly CheckedFolder[], currentFolder: string): Record<string, unknown> {
  const report = new JsonReport(currentFolder);
  for (const each of checked) report.add(each);
  return JSON.parse([...report.texts()].join('')) as Record<string, unknown>;
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
