import { Shelves } from '../theme/shelf.ts';
import type { Platform } from '../platform/platform.ts';
import { problemAtPath } from '../configuration/read-configuration.ts';
import { countablesOf } from './countable-lines.ts';
import { judgeTheme, type RefusedTheme } from './fit.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';

/** How many themes a line of a platform file is true of, of those that it could speak of. */
export interface LineSupport {
  /** Counts from 1. */
  readonly line: number;
  /** The subject of the line, for people. */
  readonly what: string;
  /** Themes that have what it speaks of. */
  readonly count: number;
  readonly of: number;
  /** The themes that it refuses. */
  readonly refuses: readonly string[];
}

/** A platform file as it was measured on themes. */
export interface MeasuredPlatform {
  readonly lines: readonly LineSupport[];
  readonly refused: readonly RefusedTheme[];
}

/** Counts for each line of a platform file, learned or written by hand, the themes that have what it speaks of, and those that it refuses. */
export function measurePlatform(platform: Platform, samples: readonly SampleTheme[], folders: readonly string[]): MeasuredPlatform {
  const shelves = new Shelves(platform, folders);
  const judged = new ThemeSet(samples).themes.map((sample) => judgeTheme(sample, shelves));
  const lines = [...countablesOf(platform)].map((line) => {
    const concerned = judged.filter(({ theme }) => line.concerns?.(theme) !== false);
    return {
      line: problemAtPath(platform.source, line.path, line.what).line,
      what: line.what,
      count: concerned.filter(({ theme }) => line.has(theme)).length,
      of: concerned.length,
      refuses: concerned.filter(({ theme, findings }) => findings.some((finding) => line.isBlamed?.(finding, theme))).map(({ id }) => id),
    };
  });
  const refused = judged.filter(({ missing, findings }) => missing !== undefined || findings.length > 0);
  return { lines: lines.sort((a, b) => a.line - b.line), refused };
}
