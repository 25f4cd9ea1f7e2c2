import { watch, type FSWatcher } from 'node:fs';
import { dirname, join, sep } from 'node:path';
import { kindOnDisk } from '../core/files/disk.ts';
import type { Finding } from '../core/rules/check.ts';
import { isAffected } from '../core/rules/check-basis.ts';
import type { CheckedFolder } from '../core/rules/check-folders.ts';
import type { Context } from './command.ts';
import { findingsText, headline } from './output/findings-text.ts';
import { count } from './output/paint.ts';

/** Editors save in several steps: so many milliseconds of quiet end one. */
const QUIET_MS = 120;

/**
 * Checks themes whenever a file changes that can change what was found in them, and shows what came and what went. Ends
 * when it is interrupted.
 */
export async function watchThemes(
  context: Context,
  folders: readonly string[],
  check: (folders: readonly string[]) => Promise<CheckedFolder[]>,
  show: (checked: readonly CheckedFolder[]) => void,
): Promise<void> {
  const first = await check(folders);
  const known = new Map(first.map((each) => [each.folder, each]));
  show(first);
  let timer: NodeJS.Timeout | undefined;
  const changed = new Set<string>();
  const checkAgain = async (): Promise<void> => {
    const paths = [...changed];
    changed.clear();
    const affected = [...known.values()].filter(({ basis }) => paths.some((path) => isAffected(basis, path)));
    for (const each of await check(affected.map(({ folder }) => folder))) {
      context.say(
        `\n${headline(each, context.paint)}\n${changesText(context, known.get(each.folder)?.result.findings ?? [], each.result.findings)}`,
      );
      known.set(each.folder, each);
    }
  };
  const onChange = (path: string): void => {
    changed.add(path);
    clearTimeout(timer);
    // A theme that is broken halfway through a save is checked again at the next change.
    timer = setTimeout(() => void checkAgain().catch((error: unknown) => context.say(String(error))), QUIET_MS);
  };
  await context.io.withInterrupt(
    (signal) =>
      new Promise<void>((resolve) => {
        const watchers = foldersToWatch(first).map(({ folder, isWhole }): FSWatcher =>
          watch(folder, { recursive: isWhole }, (_event, file) => onChange(file === null ? folder : join(folder, file))),
        );
        context.say(`\n${context.paint.faint('Watching; Ctrl-C ends it.')}`);
        signal.addEventListener('abort', () => {
          for (const watcher of watchers) watcher.close();
          clearTimeout(timer);
          resolve();
        });
      }),
  );
}

/**
 * The folders to watch: themes whole, and of shelves only what comes and goes, since anything can lie on a shelf besides
 * themes (a shelf may be somebody's folder of all projects).
 */
function foldersToWatch(checked: readonly CheckedFolder[]): { folder: string; isWhole: boolean }[] {
  const whole = new Set(checked.flatMap(({ basis }) => [...basis.folders, ...basis.siblings]));
  const shelves = new Set(checked.flatMap(({ folder, basis }) => [dirname(folder), ...basis.shelves]));
  const isWithin = (folder: string): boolean => [...whole].some((other) => folder.startsWith(`${other}${sep}`));
  return [
    ...[...whole].filter((folder) => !isWithin(folder)).map((folder) => ({ folder, isWhole: true })),
    ...[...shelves].filter((folder) => !whole.has(folder) && !isWithin(folder)).map((folder) => ({ folder, isWhole: false })),
  ].filter(({ folder }) => kindOnDisk(folder) === 'folder');
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
