import type { Context } from './command.ts';
import { QualityReport } from './output/code-quality.ts';
import { junitHead, junitSuite, JUNIT_TAIL } from './output/junit.ts';
import { JsonReport } from './output/json.ts';
import { lastLine, lineOf } from './output/json-lines.ts';
import { sarifHead, sarifResults, sarifTail } from './output/sarif.ts';
import { Summary } from './output/summary.ts';
import type { ReportStream, StreamSettings } from './report-stream.ts';
import { textReport } from './text-report.ts';

/** Every form of a report. A new one is a file in `output/`, entered here and nowhere else. */
export const REPORT_STREAMS = {
  text: textReport,
  json({ io: { folder } }, { shard }) {
    const report = new JsonReport(folder, shard);
    return {
      head: '',
      one(checked) {
        report.add(checked);
        return '';
      },
      tail: () => report.texts(),
    };
  },
  jsonl({ io: { folder } }, { shard }) {
    const summary = new Summary();
    return {
      head: '',
      one(checked, count) {
        summary.add(checked);
        return lineOf(checked, folder, count === undefined ? undefined : (shard?.positions[count] ?? count));
      },
      tail: () => [lastLine(summary, shard)],
    };
  },
  sarif({ io: { folder }, version }) {
    let isFirst = true;
    return {
      head: sarifHead(version),
      one(checked) {
        const text = sarifResults(checked, folder, isFirst);
        isFirst &&= text === '';
        return text;
      },
      tail: () => [sarifTail(isFirst)],
    };
  },
  junit: ({ io: { folder } }, { decides }) => ({
    head: junitHead(),
    one: (checked) => junitSuite(checked, folder, decides),
    tail: () => [JUNIT_TAIL],
  }),
  'code-quality'({ io: { folder } }) {
    const report = new QualityReport(folder);
    let isFirst = true;
    return {
      head: '[',
      one(checked) {
        const issues = report
          .issuesOf(checked)
          .map((issue, i) => `${isFirst && i === 0 ? '' : ','}\n  ${JSON.stringify(issue, null, 2).replaceAll('\n', '\n  ')}`);
        isFirst &&= issues.length === 0;
        return issues.join('');
      },
      tail: () => [isFirst ? ']\n' : '\n]\n'],
    };
  },
} as const satisfies Record<string, (context: Context, settings: StreamSettings) => ReportStream>;

export type ReportName = keyof typeof REPORT_STREAMS;
export const REPORT_NAMES = Object.keys(REPORT_STREAMS) as [ReportName, ...ReportName[]];
