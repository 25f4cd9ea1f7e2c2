import { join } from 'node:path';
import type { Site } from '../configuration/site-schema.ts';
import { readIfThere } from '../files/disk.ts';
import { withoutFolder } from '../files/paths.ts';
import { matchesAny } from '../files/glob.ts';
import { shellWord } from '../text/shell-word.ts';
import type { Finding } from '../rules/engine/check.ts';
import type { Installed } from '../theme/layout.ts';
import { runToEnd, type CommandOutcome, type RunLimits } from './disk-run.ts';
import type { SiteCopy } from './disk-site.ts';
import { finding, type Fill, type Judge } from './judge-page.ts';

/** The tools of the steps before the pages. */
export interface Steps {
  readonly site: Site;
  readonly copy: SiteCopy;
  readonly limits: RunLimits;
  readonly fill: Fill;
  readonly judge: Judge;
}

/** Runs what prepares a site, one command after the other. @returns why it is not ready; nothing when it is */
export async function prepareSite({ site, copy, limits, fill, judge }: Steps): Promise<Finding[]> {
  for (const step of site.prepare) {
    const command = step.map((part) => fill(part));
    const outcome = await runToEnd(command, copy, limits);
    const failures = judge.failures(outcome.output);
    if (outcome.status === 0 && failures.length === 0) continue;
    const called = step.map((word) => shellWord(word)).join(' ');
    return [...failures, finding('command', `the site is not ready: “${called}” ${why(outcome, limits)}`)];
  }
  return [];
}

function why({ status, output, isTimedOut, isTooLarge }: CommandOutcome, { seconds, memory }: RunLimits): string {
  if (isTimedOut) return `ran for more than ${seconds} seconds`;
  if (isTooLarge) return `took more than ${memory} MiB of memory`;
  return `failed (exit status ${status ?? 'none'}): ${output.trim().split('\n').at(-1) ?? ''}`;
}

/** Has the host's own tools look at the files of a theme that the site does not have like this already. */
export async function lintTheme({ site, copy, limits, fill, judge }: Steps, { theme, home }: Installed): Promise<Finding[]> {
  const found: Finding[] = [];
  for (const { files, command } of site.lint) {
    for (const { path, kind } of theme.tree.entries) {
      if (kind !== 'file' || !matchesAny(path, files) || isThere(join(site.folder, home, path), theme.tree.read(path))) continue;
      const place = join(copy.site, home, path);
      const outcome = await runToEnd(
        command.map((part) => fill(part).replaceAll('{file}', () => place)),
        copy,
        limits,
      );
      const failures = judge.failures(outcome.output);
      found.push(...failures);
      if (outcome.status === 0 || failures.length > 0) continue;
      const says = outcome.output.split('\n').find((line) => line.trim() !== '') ?? why(outcome, limits);
      found.push(finding('failure', withoutFolder(says.trim(), copy.site).slice(0, 300), { file: path, line: lineIn(says) }));
    }
  }
  return found;
}

function isThere(path: string, bytes: Buffer): boolean {
  return readIfThere(path)?.equals(bytes) === true;
}

/** The line that a message names, as most tools write it: `on line 3`, `file:3:`, `(3,1)`. */
function lineIn(message: string): number {
  const [, number] = /\bline (\d+)|:(\d+)(?::|$)|\((\d+)[,)]/.exec(message)?.filter((group) => group !== undefined) ?? [];
  return number === undefined ? 1 : Number(number);
}
