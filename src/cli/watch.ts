import { watch, type FSWatcher } from 'node:fs';
import { dirname } from 'node:path';
import type { Finding } from '../core/rules/check.ts';
import type { CheckedFolder } from '../core/rules/check-folders.ts';
import type { Context } from './command.ts';
import { findingsText, headline } from './output/findings-text.ts';
import { count } from './output/paint.ts';

/** Editors save in several steps: so many milliseconds of quiet end one. */
const QUIET_MS = 120;

/**
 * Checks themes whenever a file of theirs, or of a theme beside them, changes, and shows what came and what went. Only
 * the themes on the shelf of the change are checked again. Ends when it is interrupted.
 */
export async function watchThemes(
  context: Context,
  folders: readonly string[],
  check: (folders: readonly string[]) => Promise<CheckedFolder[]>,
  show: (checked: readonly CheckedFolder[]) => void,
): Promise<void> {
  let known = new Map((await check(folders)).map((each) => [each.folder, each]));
  show([...known.values()]);
  const shelves = [...new Set(folders.map((folder) => dirname(folder)))];
  let timer: NodeJS.Timeout | undefined;
  const touched = new Set<string>();
  const checkAgain = async (): Promise<void> => {
    const affected = folders.filter((folder) => touched.has(dirname(folder)));
    touched.clear();
    const now = await check(affected);
    for (const each of now) {
      context.say(
        `\n${headline(each, context.paint)}\n${changesText(context, known.get(each.folder)?.result.findings ?? [], each.result.findings)}`,
      );
      known = new Map([...known, [each.folder, each]]);
    }
  };
  await context.io.withInterrupt(
    (signal) =>
      new Promise<void>((resolve) => {
        const watchers = shelves.map((shelf): FSWatcher => {
          const onChange = (): void => {
            touched.add(shelf);
            clearTimeout(timer);
            // A theme that is broken halfway through a save is checked again at the next change.
            timer = setTimeout(() => void checkAgain().catch((error: unknown) => context.say(String(error))), QUIET_MS);
          };
          return watch(shelf, { recursive: true }, onChange);
        });
        context.say(`\n${context.paint.faint('Watching; Ctrl-C ends it.')}`);
        signal.addEventListener('abort', () => {
          for (const watcher of watchers) watcher.close();
          clearTimeout(timer);
          resolve();
        });
      }),
  );
}

/** What came and what went between two checks. */
function changesText({ paint, io }: Context, before: readonly Finding[], after: readonly Finding[]): string {
  const key = ({ rule, file, message }: Finding): string => `${rule} ${file} ${message}`;
  const old = new Set(before.map(key));
  const now = new Set(after.map(key));
  const came = after.filter((finding) => !old.has(key(finding)));
  const went = before.filter((finding) => !now.has(key(finding)));
  const gone = went.map(({ file, line, message }) => `  ${paint.good('✓')} gone: ${file}:${line} ${message}`);
  const lines = [...gone, ...(came.length > 0 ? [findingsText(came, paint, io.columns)] : [])];
  return lines.length === 0 ? paint.faint(`  as before: ${count(after.length, 'finding')}`) : lines.join('\n');
}
