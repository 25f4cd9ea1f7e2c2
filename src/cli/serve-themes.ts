import { FailedOperationError, PioneroError, RefusedError } from '../core/errors.ts';
import type { KeptRehearsal } from '../core/rehearsal/kept.ts';
import { rehearseKept } from '../core/rehearsal/kept.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { serveLoopback } from '../core/web/loopback.ts';
import { siteApp, type ShownSite } from '../core/web/show-site.ts';
import type { Context } from './command.ts';
import { FolderWatcher } from './folder-watcher.ts';
import { QuietTime } from './quiet.ts';
import { framePage, problemPage } from './output/serve-page.ts';
import { openArgument } from './theme-argument.ts';
import { count } from '../core/text/sentence.ts';

/** Shows a theme, and the others of its platform on the shelves, to a browser on this machine, until it is interrupted. */
export async function serveThemes(context: Context, opened: OpenedTheme, port: number): Promise<void> {
  const { theme, shelves } = opened;
  const { templates, title } = theme.platform.contract;
  if (templates === undefined)
    throw new RefusedError({
      what: `${title}: the platform file describes no templates, so there are no pages to show`,
      hint: 'look at them on a real site: --site NAME --shots FOLDER',
    });
  const others = shelves
    .list()
    .filter(({ names }) => names.id !== theme.names.id)
    .map(({ names, folder }) => ({ id: names.id, folder }));
  const folders = new Map([[theme.names.id, opened.folder], ...others.map(({ id, folder }) => [id, folder] as const)]);
  const listeners = new Set<() => void>();
  const known = new Map<string, Promise<KeptRehearsal>>();
  const rehearseAgain = async (id: string): Promise<KeptRehearsal> => {
    const isArchive = theme.tree.disk === undefined && id === theme.names.id;
    const now = isArchive ? opened : await openArgument(folders.get(id), context);
    const { platform, tree, names } = now.theme;
    const kept = await context.changing(async (applying) => rehearseKept({ platform, tree, names, shelves: now.shelves, applying }));
    if (kept.recognised) return kept;
    throw new FailedOperationError({
      what: `${id} is not recognized: ${count(kept.reasons.length, 'reason')}`,
      hint: `“pionero check ${id}” lists the reasons`,
    });
  };
  const site: ShownSite = {
    ids: [...folders.keys()],
    async rehearsed(id) {
      const running = known.get(id) ?? rehearseAgain(id);
      known.set(id, running);
      return running.catch((error: unknown) => {
        throw error instanceof PioneroError ? new Error(`${error.what}. ${error.hint ?? ''}`.trim(), { cause: error }) : error;
      });
    },
    onChange(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
  const quiet = new QuietTime(() => {
    known.clear();
    for (const listener of listeners) listener();
  });
  const watcher = new FolderWatcher((path) => quiet.add(path));
  const server = await serveLoopback(siteApp(site, { frame: framePage, problem: problemPage }), port);
  const { paint } = context;
  const address = `${server.address}/${encodeURIComponent(theme.names.id)}/`;
  await context.io.withInterrupt(
    (signal) =>
      new Promise<void>((resolve) => {
        if (theme.tree.disk !== undefined) for (const folder of folders.values()) watcher.add(folder, true);
        context.say(`${paint.good('✓')} ${paint.strong(theme.names.id)} is shown at ${paint.name(address)}`);
        if (others.length > 0) context.say(`  and ${count(others.length, 'theme')} beside it: ${others.map(({ id }) => id).join(', ')}`);
        context.say(paint.faint('  Pages load again when a file changes; Ctrl-C ends it.'));
        context.result({ address, themes: site.ids });
        signal.addEventListener('abort', () => resolve(), { once: true });
      }),
  );
  quiet.close();
  watcher.close();
  await server.close();
}
