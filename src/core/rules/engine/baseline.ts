import { ConfigurationError } from '../../errors.ts';
import { BaselineSchema, type Baseline } from './baseline-schema.ts';
import type { Finding } from './check.ts';

export const EMPTY_BASELINE: Baseline = { pionero: 'baseline/1', themes: {} };

/** @throws ConfigurationError when it is not a baseline file */
export function readBaseline(json: string, file: string): Baseline {
  let value: unknown;
  try {
    value = JSON.parse(json);
  } catch (cause) {
    throw new ConfigurationError({
      what: `${file} is not a baseline file: it is not JSON`,
      hint: 'write a new one with --baseline-out',
      cause,
    });
  }
  const read = BaselineSchema.safeParse(value);
  if (read.success) return read.data;
  throw new ConfigurationError({
    what: `${file} is not a baseline file`,
    why: read.error.issues[0]?.message,
    hint: 'write a new one with --baseline-out',
  });
}

/** How often each rule has something to say of each file: `RULE FILE` → number. */
export type FindingCounts = Readonly<Record<string, number>>;

/** @param fileOf the file that a finding is counted for, when that is not its own */
export function countFindings(findings: readonly Finding[], fileOf = (file: string): string => file): FindingCounts {
  const counts: Record<string, number> = {};
  for (const { rule, file } of findings) {
    const key = `${rule} ${fileOf(file)}`;
    counts[key] = (counts[key] ?? 0) + 1;
  }
  return counts;
}

/** The findings that go beyond known ones. Lines and words change, so only how many there are of a rule in a file is compared. */
export function beyondCounts(known: FindingCounts, findings: readonly Finding[]): Finding[] {
  const left = new Map(Object.entries(known));
  return findings.filter(({ rule, file }) => {
    const key = `${rule} ${file}`;
    const count = left.get(key) ?? 0;
    left.set(key, count - 1);
    return count <= 0;
  });
}

/** The name of a theme in a baseline where others have the same id: those of another platform, or of another vendor. */
export function longKeyOf({
  id,
  vendor,
  platform,
}: {
  readonly id: string;
  readonly vendor?: string | undefined;
  readonly platform: string;
}): string {
  return [platform, ...(vendor === undefined ? [] : [vendor]), id].join('/');
}

/** A baseline with the findings of one more theme. */
export function withFindings(baseline: Baseline, theme: string, findings: readonly Finding[]): Baseline {
  return { ...baseline, themes: { ...baseline.themes, [theme]: countFindings(findings) } };
}

/** The findings of a theme that its baseline does not know. */
export function beyondBaseline(baseline: Baseline, theme: string, findings: readonly Finding[]): Finding[] {
  return beyondCounts(baseline.themes[theme] ?? {}, findings);
}
