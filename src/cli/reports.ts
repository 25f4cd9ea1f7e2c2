import type { CheckedFolder } from '../core/rules/check-folders.ts';
import type { Context } from './command.ts';
import { closing, findingsText, firstOfEach, headline, MOST_OF_A_RULE, overview, impactText } from './output/findings-text.ts';
import { checksJson } from './output/json.ts';
import { junitXml } from './output/junit.ts';
import { sarifLog } from './output/sarif.ts';

type Report = (context: Context, checked: readonly CheckedFolder[]) => void;

/** Every form in which findings are told. A new one is a file in `output/`, entered here and nowhere else. */
const ALL = {
  text: tellPeople,
  json: (context, checked) => context.result(checksJson(checked)),
  sarif: ({ io, version }, checked) =>
    void io.stdout.write(`${JSON.stringify(sarifLog(checked, { version, currentFolder: io.folder }), null, 2)}\n`),
  junit: ({ io }, checked) => void io.stdout.write(junitXml(checked, io.folder)),
} as const satisfies Record<string, Report>;

export type ReportName = keyof typeof ALL;
export const REPORTS: Readonly<Record<ReportName, Report>> = ALL;
export const REPORT_NAMES = Object.keys(ALL) as [ReportName, ...ReportName[]];

function tellPeople(context: Context, checked: readonly CheckedFolder[]): void {
  for (const [i, each] of checked.entries()) {
    // Themes with nothing to mend are a list; those with findings stand apart.
    const isApart = [checked[i - 1], each].some((one) => one !== undefined && one.result.findings.length > 0);
    if (i > 0 && isApart) context.say('');
    tellOne(context, each);
  }
  if (checked.length > 1) context.say(`\n${overview(checked, context.paint)}`);
}

function tellOne(context: Context, checked: CheckedFolder): void {
  const { paint, io } = context;
  const { findings } = checked.result;
  if (context.options.verbose) context.say(paint.faint(`${checked.platform.title}: ${checked.reasons.join('; ')}`));
  context.say(headline(checked, paint));
  if (findings.length === 0) return;
  const impact = impactText(findings, paint);
  if (impact !== undefined) context.say(impact);
  const { shown, more } = firstOfEach(findings, context.options.verbose ? Infinity : MOST_OF_A_RULE);
  context.say(`\n${findingsText(shown, paint, io.columns)}`);
  context.say(`\n${closing(findings, more, paint)}`);
}
