import * as z from 'zod';
import { ConfigurationError } from '../../core/errors.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import type { Finding } from '../../core/rules/engine/check.ts';

/** The shape of a report; made when one is read, and not whenever a command is loaded. */
function reportShape() {
  const Arguments = z.record(z.string(), z.union([z.string(), z.number()]));
  const AdviceShape = z.object({ code: z.string(), args: Arguments });
  const FindingShape = z.object({
    rule: z.string(),
    severity: z.enum(['error', 'warning', 'note']),
    file: z.string(),
    line: z.int(),
    column: z.int(),
    message: z.string(),
    code: z.string(),
    args: Arguments,
    refused: z.boolean(),
    seen: z.boolean(),
    hint: z.string().optional(),
    advice: AdviceShape.optional(),
    sourceLine: z.string().optional(),
    length: z.int(),
    related: z.array(z.object({ path: z.string(), line: z.int(), column: z.int(), length: z.int(), message: z.string() })).optional(),
    fix: z
      .object({
        title: AdviceShape.extend({ text: z.string() }),
        safe: z.boolean(),
        file: z.string(),
        edits: z.array(z.object({ start: z.int(), end: z.int(), text: z.string() })),
      })
      .optional(),
  });
  const ThemeShape = z.object({
    id: z.string(),
    folder: z.string(),
    theme: z.record(z.string(), z.unknown()).nullable(),
    platform: z.string().nullable(),
    platformTitle: z.string().nullable(),
    failure: z
      .object({ code: z.enum(['usage', 'configuration', 'refused', 'failed']), what: z.string(), details: z.array(z.string()) })
      .nullable(),
    findings: z.array(FindingShape),
    summary: z.object({ files: z.int(), rules: z.int(), accepted: z.int() }),
  });
  return z.object({
    themes: z.array(ThemeShape),
    shard: z.object({ part: z.int(), of: z.int(), positions: z.array(z.int()) }).optional(),
  });
}

type Report = z.infer<ReturnType<typeof reportShape>>;
type ReportedTheme = Report['themes'][number];

/** A report of `check --format json`, read again. Folders are as they stand there: relative to where it was made. */
export interface ReadReport {
  readonly checked: readonly CheckedFolder[];
  readonly shard?: { readonly part: number; readonly of: number; readonly positions: readonly number[] } | undefined;
}

/** @throws ConfigurationError when it is not a report of `check --format json` or `jsonl` */
export function readReport(text: string, file: string): ReadReport {
  const read = reportShape().safeParse(valueOf(text, file));
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new ConfigurationError({
      what: `${file} is not a report of “pionero check --format json”`,
      why: issue === undefined ? undefined : `${issue.path.join('.')}: ${issue.message}`,
    });
  }
  return { checked: read.data.themes.map(checkedOf), shard: read.data.shard };
}

function valueOf(text: string, file: string): unknown {
  const first = text.slice(0, Math.max(0, text.indexOf('\n')));
  if (/^\{"(?:position|around|summary)":/.test(first)) return ofLines(text, file);
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new ConfigurationError({ what: `${file} is not a report: it is not JSON`, hint: 'write one with check --format json', cause });
  }
}

const lineShape = () => z.looseObject({ position: z.int().optional(), shard: z.object({ part: z.int(), of: z.int() }).optional() });

/** The lines of a report as one value. @throws ConfigurationError when one is broken, or the last one is missing */
function ofLines(text: string, file: string): unknown {
  const broken = (line: number, what: string): ConfigurationError =>
    new ConfigurationError({ what: `${file}:${line}: ${what}`, hint: 'run the check again: it goes on where it was' });
  const lines = text.split('\n').filter((line) => line !== '');
  const shape = lineShape();
  const values = lines.map((line, i) => {
    try {
      return shape.parse(JSON.parse(line));
    } catch {
      throw broken(i + 1, 'the line is not of a report');
    }
  });
  const summary = values.at(-1);
  if (summary?.['summary'] === undefined || summary['findings'] !== undefined) throw broken(lines.length, 'the report ends too early');
  const themes = values.filter(({ position }) => position !== undefined);
  const positions = themes.map(({ position }) => position);
  return { themes, ...(summary.shard === undefined ? {} : { shard: { ...summary.shard, positions } }) };
}

function checkedOf({ id, folder, theme, platform, platformTitle, failure, findings, summary }: ReportedTheme): CheckedFolder {
  return {
    id,
    folder,
    facts: theme ?? {},
    platform: { name: platform ?? '', title: platformTitle ?? '' },
    reasons: [],
    result: { ...summary, findings: findings.map(findingOf) },
    basis: { folders: [], shelves: [], depth: 1, shared: [], siblings: [], configurations: [] },
    failure: failure ?? undefined,
  };
}

function findingOf({ refused, seen, hint = '', advice, fix, related, ...rest }: ReportedTheme['findings'][number]): Finding {
  return {
    ...rest,
    why: '',
    // The path is all that a report has of a place: it leads there from where the report was made.
    related: related?.map(({ path, ...place }) => ({ ...place, folder: path, file: '' })),
    isRefusal: refused,
    isSeen: seen,
    hint: advice === undefined ? undefined : { ...advice, text: hint },
    fix: fix === undefined ? undefined : { title: fix.title, isSafe: fix.safe, file: fix.file, edits: fix.edits },
  };
}
