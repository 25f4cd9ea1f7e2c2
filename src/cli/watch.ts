import { dirname } from 'node:path';
import type { Finding } from '../core/rules/engine/check.ts';
import { findingsBeyond } from '../core/rules/engine/compare-checks.ts';
import { isAffected } from '../core/rules/engine/check-basis.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import type { CheckTarget } from './check-targets.ts';
import type { Context } from './command.ts';
import { isWithin } from '../core/files/paths.ts';
import type { QuickLook } from './quick-look.ts';
import { FolderWatcher } from './folder-watcher.ts';
import { QuietTime } from './quiet.ts';
import { findingsText, headline } from './output/findings-text.ts';
import { count } from '../core/text/sentence.ts';

/** The folders to watch, and how they are checked and shown. */
export interface Watching {
  /** The targets that the arguments stand for now: a theme can come to a shelf. */
  readonly targets: () => readonly CheckTarget[];
  /** Folders that were named and hold themes; absolute. */
  readonly roots: readonly string[];
  readonly check: (targets: readonly CheckTarget[]) => Promise<CheckedFolder[]>;
  readonly show: (checked: readonly CheckedFolder[]) => Promise<void>;
  /** Where what it finds is what a check finds. */
  readonly quickLook?: QuickLook | undefined;
}

/**
 * Checks themes whenever a file changes that can change what was found in them, and shows what came and what went. Ends
 * when it is interrupted.
 */
export async function watchThemes(context: Context, { targets, roots, check, show, quickLook }: Watching): Promise<void> {
  const first = await check(targets());
  const known = new Map(first.map((each) => [each.folder, each]));
  await show(first);
  let running = Promise.resolve();
  const quiet = new QuietTime((paths) => {
    // One check at a time: a save during one waits for the next.
    running = running.then(async () => checkAgain(paths)).catch((error: unknown) => context.say(String(error)));
  });
  const watcher = new FolderWatcher((path) => quiet.add(path));
  const checkAgain = async (paths: readonly string[]): Promise<void> => {
    const all = targets();
    for (const folder of known.keys()) {
      if (all.some(({ path }) => path === folder)) continue;
      known.delete(folder);
      context.say(`\n${context.paint.warn('▲')} ${context.shown(folder)} is gone`);
    }
    const affected = all.filter(({ path }) => {
      const basis = known.get(path)?.basis;
      return basis === undefined || paths.some((each) => isAffected(basis, each));
    });
    const told = new Set<string>();
    const tell = (now: CheckedFolder): void => {
      const before = known.get(now.folder)?.result.findings ?? [];
      const changes = changesBetween(before, now.result.findings);
      known.set(now.folder, now);
      if (told.has(now.folder) && changes.came.length === 0 && changes.went.length === 0) return;
      told.add(now.folder);
      context.say(`\n${headline(now, context.paint, context.shown(now.folder))}\n${changesText(context, changes, now)}`);
    };
    for (const each of quickLook === undefined ? [] : savedAlone(quickLook, [...known.values()], paths)) tell(each);
    for (const each of await check(affected)) tell(each);
    watchAll(watcher, roots, [...known.values()]);
  };
  await context.io.withInterrupt(
    (signal) =>
      new Promise<void>((resolve) => {
        watchAll(watcher, roots, first);
        context.say(`\n${context.paint.faint('Watching; Ctrl-C ends it.')}`);
        signal.addEventListener('abort', () => {
          watcher.close();
          quiet.close();
          resolve();
        });
      }),
  );
}

/**
 * Themes are watched whole, and so are folders that were named; of other shelves only what comes and goes, since anything
 * can be on a shelf besides themes (it may be someone's folder of all projects).
 */
function watchAll(watcher: FolderWatcher, roots: readonly string[], checked: readonly CheckedFolder[]): void {
  for (const folder of [...roots, ...checked.flatMap(({ basis }) => [...basis.folders, ...basis.siblings])]) watcher.add(folder, true);
  for (const { folder, basis } of checked) for (const shelf of [dirname(folder), ...basis.shelves]) watcher.add(shelf, false);
}

/** The theme in which one file alone was saved, with the findings that a look at this file gives; empty where they are as before. */
function savedAlone(quickLook: QuickLook, known: readonly CheckedFolder[], paths: readonly string[]): CheckedFolder[] {
  const [path = ''] = paths;
  const theme = known.find(({ folder }) => isWithin(path, folder));
  const now = theme === undefined || paths.length > 1 ? undefined : quickLook.withFile(theme, path);
  if (theme === undefined || now === undefined) {
    quickLook.forget();
    return [];
  }
  const { came, went } = changesBetween(theme.result.findings, now.result.findings);
  return came.length + went.length === 0 ? [] : [now];
}

interface Changes {
  readonly came: readonly Finding[];
  readonly went: readonly Finding[];
}

/** What came and what went between two checks. */
function changesBetween(before: readonly Finding[], after: readonly Finding[]): Changes {
  return { came: findingsBeyond(after, before), went: findingsBeyond(before, after) };
}

function changesText(context: Context, { came, went }: Changes, { folder, result }: CheckedFolder): string {
  const { paint, io } = context;
  const gone = went.map(({ file, line, message }) => `  ${paint.good('✓')} gone: ${file}:${line} ${message}`);
  const lines = [...gone, ...(came.length > 0 ? [findingsText(came, paint, io.columns, context.shown(folder))] : [])];
  return lines.length === 0 ? paint.faint(`  as before: ${count(result.findings.length, 'finding')}`) : lines.join('\n');
}
