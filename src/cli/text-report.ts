import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import type { Finding } from '../core/rules/engine/check.ts';
import { count, listed, plural } from '../core/text/sentence.ts';
import type { Context } from './command.ts';
import { closing, findingsText, firstOfEach, headline, impactText, MOST_OF_A_RULE, Overview } from './output/findings-text.ts';
import type { Paint } from './output/paint.ts';
import { oneLine, visible } from './output/visible.ts';
import type { ReportStream, StreamSettings } from './report-stream.ts';

/** A report for people: each theme as soon as it is checked, and the sums below. */
export function textReport(context: Context, settings: StreamSettings): ReportStream {
  return context.options.quiet ? decidingOnly(context, settings.decides) : wholeReport(context, settings);
}

function wholeReport(context: Context, { others = [], baseline, release }: StreamSettings): ReportStream {
  const { paint } = context;
  const overview = new Overview();
  let last: CheckedFolder | undefined;
  let [known, findings] = [0, 0];
  return {
    head: '',
    one(checked) {
      // Themes without problems are a list; those with findings stand apart.
      const isApart = last !== undefined && [last, checked].some(({ result }) => result.findings.length > 0);
      last = { ...checked, result: { ...checked.result, findings: checked.result.findings.slice(0, 1) } };
      overview.add(checked);
      known += checked.result.known ?? 0;
      findings += checked.result.findings.length;
      return lines([...(isApart ? [''] : []), ...themeText(context, checked)]);
    },
    tail() {
      const isKnown = `${count(known, 'known finding')} ${plural(known, 'is', 'are')} not shown: ${baseline ?? ''} knows ${plural(known, 'it', 'them')}.`;
      const notThemes = listed(
        others.map((folder) => context.shown(folder)),
        6,
      );
      const upgrade = `\n${paint.name('→')} “pionero upgrade --release ${release ?? ''}” changes what has one right answer there, and the stated range.`;
      return [
        lines([
          ...(overview.entries > 1 ? [`\n${overview.text(paint)}`] : []),
          ...(known > 0 ? [`${paint.faint('·')} ${isKnown}`] : []),
          ...(others.length > 0 ? [`${paint.warn('▲')} Not checked, since they are not themes: ${notThemes}`] : []),
          ...(release !== undefined && findings > 0 ? [upgrade] : []),
        ]),
      ];
    },
  };
}

/** With --quiet: what decides the exit status, and nothing else. */
function decidingOnly(context: Context, decides: (finding: Finding) => boolean): ReportStream {
  let isFirst = true;
  return {
    head: '',
    one({ folder, result }) {
      const findings = result.findings.filter((finding) => decides(finding));
      if (findings.length === 0) return '';
      const text = findingsText(findings, context.paint, context.io.columns, context.shown(folder));
      const apart = isFirst ? [] : [''];
      isFirst = false;
      return lines([...apart, text]);
    },
    tail: () => [],
  };
}

/** Nothing in them is obeyed by the terminal but our own colors. */
function lines(texts: readonly string[]): string {
  return texts.map((text) => `${visible(text)}\n`).join('');
}

function themeText(context: Context, checked: CheckedFolder): string[] {
  const { paint, io, options } = context;
  const { findings } = checked.result;
  const shownFolder = context.shown(checked.folder);
  const reasons =
    options.verbose && checked.failure === undefined ? [paint.faint(`${checked.platform.title}: ${checked.reasons.join('; ')}`)] : [];
  const head = [...reasons, headline(checked, paint, shownFolder)];
  if (checked.failure !== undefined) return [...head, failureText(checked, paint, io.columns, shownFolder)];
  if (findings.length === 0) return head;
  const impact = impactText(findings, paint);
  const { shown, more } = firstOfEach(findings, options.verbose ? Infinity : MOST_OF_A_RULE);
  return [
    ...head,
    ...(impact === undefined ? [] : [impact]),
    `\n${findingsText(shown, paint, io.columns, shownFolder)}`,
    `\n${closing(findings, more, paint)}`,
  ];
}

/** Why something could not be opened, below the line that says so. */
export function failureText({ failure, result }: CheckedFolder, paint: Paint, columns: number, folder: string): string {
  const problems = result.findings.filter(({ code }) => code === 'configuration');
  if (problems.length > 0) return findingsText(problems, paint, columns, folder);
  const details = (failure?.details ?? []).map((line) => `  ${oneLine(line)}`);
  const hints = result.findings.flatMap(({ hint }) => (hint === undefined ? [] : [`  ${paint.name('→')} ${hint.text}`]));
  return [...details, ...hints].join('\n');
}
