import * as z from 'zod';
import { ConfigurationError } from '../../core/errors.ts';
import { withFileIfThere } from '../../core/files/disk.ts';
import { linesOf, readRange, type OpenFile } from '../../core/files/disk-file.ts';
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import type { Finding } from '../../core/rules/engine/check.ts';

/** The shapes of a report and of its lines; made when one is read, and not whenever a command is loaded. */
function makeShapes() {
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
  return {
    whole: z.object({
      themes: z.array(ThemeShape),
      shard: z.object({ part: z.int(), of: z.int(), positions: z.array(z.int()) }).optional(),
    }),
    theme: ThemeShape,
    line: z.looseObject({ position: z.int().optional(), shard: z.object({ part: z.int(), of: z.int() }).optional() }),
  };
}

let made: ReturnType<typeof makeShapes> | undefined;
const shapes = (): ReturnType<typeof makeShapes> => (made ??= makeShapes());

type ReportedTheme = z.infer<ReturnType<typeof makeShapes>['theme']>;

/** A report on the disk. Each theme is read when someone asks for it: a report by lines may be larger than memory. */
export interface StoredReport {
  readonly themes: readonly StoredTheme[];
  readonly shard?: { readonly part: number; readonly of: number } | undefined;
}

export interface StoredTheme {
  /** As it stands there: relative to where the report was made. */
  readonly folder: string;
  /** Among all themes of the check, from 0. */
  readonly position: number;
  readonly warnings: number;
  readonly read: () => CheckedFolder;
}

/**
 * Opens a report of `check --format json` or `jsonl`, and looks whether all of it is one.
 * @param path absolute
 * @param shown the path as people would type it
 * @returns undefined when there is none
 * @throws ConfigurationError when it is not a report, or cannot be read
 */
export function openReport(path: string, shown: string): StoredReport | undefined {
  return withFileIfThere(path, (file) => {
    const head = readRange(file, 0, Math.min(file.size, HEAD_BYTES)).toString('utf8');
    return /^\{"(?:position|around|summary)":/.test(head) ? ofLines(path, shown, file) : ofWhole(readRange(file, 0, file.size), shown);
  });
}

/** So many bytes tell one form from the other. */
const HEAD_BYTES = 16;

function ofWhole(bytes: Buffer, file: string): StoredReport {
  const read = shapes().whole.safeParse(valueOf(bytes.toString('utf8'), file));
  if (!read.success) throw noReport(file, read.error.issues[0]);
  const { themes, shard } = read.data;
  return { themes: themes.map((theme, i) => stored(theme, shard?.positions[i] ?? i, () => theme)), shard };
}

function valueOf(text: string, file: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new ConfigurationError({ what: `${file} is not a report: it is not JSON`, hint: 'write one with check --format json', cause });
  }
}

function noReport(
  file: string,
  issue: { readonly path: readonly PropertyKey[]; readonly message: string } | undefined,
): ConfigurationError {
  return new ConfigurationError({
    what: `${file} is not a report of “pionero check --format json”`,
    why: issue === undefined ? undefined : `${issue.path.join('.')}: ${issue.message}`,
  });
}

/** @throws ConfigurationError when a line is broken, or the last one is missing */
function ofLines(path: string, shown: string, file: OpenFile): StoredReport {
  const broken = (line: number, what: string): ConfigurationError =>
    new ConfigurationError({ what: `${shown}:${line}: ${what}`, hint: 'run the check again: it goes on where it was' });
  const themes: StoredTheme[] = [];
  let last: { readonly value: z.infer<ReturnType<typeof makeShapes>['line']>; readonly number: number } | undefined;
  for (const { text, start, length, number } of linesOf(file)) {
    const value = shapes().line.safeParse(parsedOrNothing(text)).data;
    if (value === undefined) throw broken(number, 'the line is not of a report');
    last = { value, number };
    const { position } = value;
    if (position === undefined) continue;
    const theme = shapes().theme.safeParse(value);
    if (!theme.success) throw noReport(`${shown}:${number}`, theme.error.issues[0]);
    themes.push(
      stored(theme.data, position, () => {
        const bytes = withFileIfThere(path, (opened) => readRange(opened, start, Math.min(length, Math.max(0, opened.size - start))));
        const again = shapes().theme.safeParse(parsedOrNothing(bytes?.toString('utf8') ?? ''));
        if (again.success) return again.data;
        throw new ConfigurationError({ what: `${shown} changed while it was read`, hint: 'run it again, once nobody writes the report' });
      }),
    );
  }
  if (last?.value['summary'] === undefined || last.value['findings'] !== undefined)
    throw broken(last?.number ?? 1, 'the report ends too early');
  return { themes, shard: last.value.shard };
}

function parsedOrNothing(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

function stored({ folder, findings }: ReportedTheme, position: number, read: () => ReportedTheme): StoredTheme {
  const warnings = findings.filter(({ severity }) => severity === 'warning').length;
  return { folder, position, warnings, read: () => checkedOf(read()) };
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
