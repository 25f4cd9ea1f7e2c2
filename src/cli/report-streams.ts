import type { Finding } from '../core/rules/engine/check.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import type { Context } from './command.ts';
import { junitHead, junitSuite, JUNIT_TAIL } from './output/junit.ts';
import { lineOf, Summary } from './output/json-lines.ts';
import { sarifHead, sarifResults, sarifTail } from './output/sarif.ts';
import type { Shard } from './shards.ts';

/** A report that is written as it grows: a killed run leaves what it had written, and no run keeps more than it must. */
export interface ReportStream {
  readonly head: string;
  /** @param position of the theme among all of the run, from 0; undefined for an entry about a file around themes */
  one(checked: CheckedFolder, position: number | undefined): string;
  tail(): string;
}

/** Surroundings that forms of reports need. */
export interface StreamSettings {
  readonly decides: (finding: Finding) => boolean;
  readonly shard?: Shard | undefined;
}

/** Every form that can be written as it grows. */
export const REPORT_STREAMS = {
  jsonl: ({ io: { folder } }, { shard }) => {
    const summary = new Summary(shard);
    return {
      head: '',
      one(checked, position) {
        summary.add(checked);
        return lineOf(checked, folder, position);
      },
      tail: () => summary.line(),
    };
  },
  sarif: ({ io: { folder }, version }) => {
    let isFirst = true;
    return {
      head: sarifHead(version),
      one(checked) {
        const text = sarifResults(checked, folder, isFirst);
        isFirst &&= text === '';
        return text;
      },
      tail: () => sarifTail(isFirst),
    };
  },
  junit: ({ io: { folder } }, { decides }) => ({
    head: junitHead(),
    one: (checked) => junitSuite(checked, folder, decides),
    tail: () => JUNIT_TAIL,
  }),
} as const satisfies Record<string, (context: Context, settings: StreamSettings) => ReportStream>;

export type StreamName = keyof typeof REPORT_STREAMS;

export function isStreamName(name: string): name is StreamName {
  return Object.hasOwn(REPORT_STREAMS, name);
}
