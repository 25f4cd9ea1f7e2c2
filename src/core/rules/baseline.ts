import { z } from 'zod';
import { ConfigurationError } from '../errors.ts';
import type { Finding } from './check.ts';

const BaselineSchema = z.strictObject({
  pionero: z.literal('baseline/1'),
  /** How often each rule had something to say of each file, by theme. */
  themes: z.record(z.string(), z.record(z.string(), z.int().positive())),
});

/** The findings that a theme had when it was first checked: only what comes on top of them is shown. */
export type Baseline = z.infer<typeof BaselineSchema>;

export const EMPTY_BASELINE: Baseline = { pionero: 'baseline/1', themes: {} };

/** @throws ConfigurationError when it is no baseline */
export function readBaseline(json: string, file: string): Baseline {
  let value: unknown;
  try {
    value = JSON.parse(json);
  } catch (cause) {
    throw new ConfigurationError({ what: `${file} is no baseline: it is not JSON`, hint: 'write a new one with --baseline-out', cause });
  }
  const read = BaselineSchema.safeParse(value);
  if (read.success) return read.data;
  throw new ConfigurationError({
    what: `${file} is no baseline`,
    why: read.error.issues[0]?.message,
    hint: 'write a new one with --baseline-out',
  });
}

function keyOf({ rule, file }: Finding): string {
  return `${rule} ${file}`;
}

/** A baseline with the findings of one more theme. */
export function withFindings(baseline: Baseline, theme: string, findings: readonly Finding[]): Baseline {
  const counts: Record<string, number> = {};
  for (const finding of findings) counts[keyOf(finding)] = (counts[keyOf(finding)] ?? 0) + 1;
  return { ...baseline, themes: { ...baseline.themes, [theme]: counts } };
}

/** The findings that go beyond a baseline. Lines move, so only how many there are in each file is compared. */
export function beyondBaseline(baseline: Baseline, theme: string, findings: readonly Finding[]): Finding[] {
  const left = new Map(Object.entries(baseline.themes[theme] ?? {}));
  return findings.filter((finding) => {
    const known = left.get(keyOf(finding)) ?? 0;
    left.set(keyOf(finding), known - 1);
    return known <= 0;
  });
}
