import { Hono, type Context } from 'hono';
import { streamSSE } from 'hono/streaming';
import { followLinks, type FileTree } from '../files/file-tree.ts';
import { frontPage, pageName, type Page } from '../rehearsal/pages.ts';
import type { KeptRehearsal } from '../rehearsal/kept.ts';
import { withSettings, type ReaderSettings } from './reader-settings.ts';

/** Themes that are shown, by their ids, each as it was rehearsed last. */
export interface ShownSite {
  /** The ids, in the order in which they are offered. */
  readonly ids: readonly string[];
  /** @throws Error when the theme cannot be rehearsed now */
  rehearsed(id: string): Promise<KeptRehearsal>;
  /** Has a listener told whenever something of a theme has changed. @returns what ends that */
  onChange(listener: () => void): () => void;
}

/** How the pages around the themes' own are drawn. */
export interface ShownPages {
  /** The page with the switch, around a theme’s page. */
  readonly frame: (ids: readonly string[], now: KeptRehearsal | undefined, id: string) => string;
  /** The page in place of one that is missing, with links to the pages of the theme. */
  readonly problem: (message: string, links?: readonly { readonly name: string; readonly address: string }[]) => string;
}

/** The page as the theme has it, with nothing added. */
const PLAIN = 'plain';

/** The first part of an address: how the reader wants the page. */
const SETTINGS: Readonly<Record<string, ReaderSettings>> = {
  [PLAIN]: { scheme: 'light', contrast: 'usual' },
  light: { scheme: 'light', contrast: 'usual' },
  dark: { scheme: 'dark', contrast: 'usual' },
  'light-contrast': { scheme: 'light', contrast: 'more' },
  'dark-contrast': { scheme: 'dark', contrast: 'more' },
};

/** Names come from addresses: what every object inherits is not a name. */
function settingsNamed(name: string): ReaderSettings | undefined {
  return Object.hasOwn(SETTINGS, name) ? SETTINGS[name] : undefined;
}

const TYPES: Readonly<Record<string, string>> = {
  css: 'text/css; charset=utf-8',
  js: 'text/javascript; charset=utf-8',
  mjs: 'text/javascript; charset=utf-8',
  json: 'application/json; charset=utf-8',
  html: 'text/html; charset=utf-8',
  svg: 'image/svg+xml',
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  avif: 'image/avif',
  ico: 'image/x-icon',
  woff: 'font/woff',
  woff2: 'font/woff2',
  ttf: 'font/ttf',
  otf: 'font/otf',
};

/**
 * An application that shows rehearsed themes: `/` and `/THEME/` with a switch around a page, `/THEME/SETTING/PAGE.html` the page itself, below
 * which the files of the site are; `/changes` reports changes as server-sent events (HTML standard, section 9.2).
 */
export function siteApp(site: ShownSite, pages: ShownPages): Hono {
  const app = new Hono();
  app.onError((error, context) => context.html(pages.problem(error.message), 500));
  app.get('/', async (context) => {
    // The front page of the site that a link of a page leads to.
    const from = pageAsking(context, site);
    if (from === undefined) return context.redirect(`/${encodeURIComponent(site.ids[0] ?? '')}/`);
    const now = await site.rehearsed(from.id).catch(() => undefined);
    const front = now === undefined ? undefined : frontPage(now.theme.platform, now.pages);
    if (front === undefined) return context.html(pages.problem('there is no page to be shown'), 404);
    return context.redirect(addressOf(from.id, from.setting, front));
  });
  app.get('/changes', (context) =>
    streamSSE(context, async (stream) => {
      const stop = site.onChange(() => void stream.writeSSE({ event: 'change', data: 'again' }));
      stream.onAbort(stop);
      while (!stream.aborted) {
        await stream.writeSSE({ event: 'here', data: '' });
        // A pause keeps no program running whose server has ended.
        await new Promise((resolve) => setTimeout(resolve, 15_000).unref());
      }
    }),
  );
  app.get('/:id/', async (context) => {
    const id = context.req.param('id');
    if (!site.ids.includes(id)) return context.html(pages.problem(`there is no theme ${id} here`), 404);
    const now = await site.rehearsed(id).catch(() => undefined);
    return context.html(pages.frame(site.ids, now, id));
  });
  app.get('/:id/:setting/:path{.+}', async (context) => {
    const { id, setting } = context.req.param();
    const settings = settingsNamed(setting);
    if (!site.ids.includes(id) || settings === undefined) return elsewhere(context, site, pages);
    return shown(context, site, pages, { id, setting, settings, path: context.req.param('path') });
  });
  // An address from the site’s root: of the theme whose page asks for it.
  app.get('*', async (context) => elsewhere(context, site, pages));
  return app;
}

interface PageRequest {
  readonly id: string;
  /** The name of the settings, as addresses have it. */
  readonly setting: string;
  readonly settings: ReaderSettings;
  readonly path: string;
}

async function shown(
  context: Context,
  site: ShownSite,
  pages: ShownPages,
  { id, setting, settings, path }: PageRequest,
): Promise<Response> {
  const isPlain = setting === PLAIN;
  let now: KeptRehearsal;
  try {
    now = await site.rehearsed(id);
  } catch (error) {
    return context.html(pages.problem(error instanceof Error ? error.message : String(error)), 500);
  }
  const page = [...now.pages, ...now.states].find((each) => `${pageName(each)}.html` === path);
  if (page !== undefined) {
    if (page.problem !== undefined) return context.html(pages.problem(`${pageName(page)}: ${page.problem}`), 500);
    return context.html(isPlain ? page.html : live(withSettings(page.html, settings), settings));
  }
  const file = followLinks(now.files, path);
  if (file?.kind !== 'file') {
    // A search form, or a menu, that names a page as the host does.
    const named = now.pages.find(({ role, isRendered }) => isRendered && role === path.replace(/\/.*$|\.\w+$/s, ''));
    if (named !== undefined && isLink(context)) return context.redirect(addressOf(id, setting, named));
    const links = now.pages
      .filter(({ isRendered }) => isRendered)
      .map((each) => ({ name: each.role, address: addressOf(id, setting, each) }));
    return context.html(pages.problem(`/${path} is a link of the sample content: there is no page behind it`, links), 404);
  }
  const ending = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
  const bytes = now.files.read(path);
  const isAsking = !isPlain && (ending === 'css' || ending === 'svg');
  return fileResponse(context, path, isAsking ? withSettings(bytes.toString('utf8'), settings) : bytes);
}

async function elsewhere(context: Context, site: ShownSite, pages: ShownPages): Promise<Response> {
  const path = decoded(new URL(context.req.url).pathname).replace(/^\//, '');
  const from = pageAsking(context, site);
  return from === undefined ? context.html(pages.problem(`${path} is not there`), 404) : shown(context, site, pages, { ...from, path });
}

/** The theme, and the settings, of the page that asks for something; undefined when no page of a theme does. */
function pageAsking(context: Context, site: ShownSite): Omit<PageRequest, 'path'> | undefined {
  const referer = context.req.header('referer') ?? '';
  const [, id = '', setting = ''] = URL.canParse(referer) ? new URL(referer).pathname.split('/').map(decoded) : [];
  const settings = settingsNamed(setting);
  return settings === undefined || !site.ids.includes(id) ? undefined : { id, setting, settings };
}

function addressOf(id: string, setting: string, page: Page): string {
  return `/${[id, setting, `${pageName(page)}.html`].map(encodeURIComponent).join('/')}`;
}

/** Whether a reader follows a link, and no page asks for a file (Fetch Metadata, section 2.1); where the browser does not say, it may be so. */
function isLink(context: Context): boolean {
  return ['document', 'iframe', undefined].includes(context.req.header('sec-fetch-dest'));
}

/** An application that serves the files of a folder as they are; a folder answers with its `index.html`. */
export function filesApp(tree: FileTree): Hono {
  const app = new Hono();
  app.get('*', (context) => {
    const path = decoded(new URL(context.req.url).pathname).replace(/^\//, '');
    const place = [path, `${path.replace(/\/?$/, '/')}index.html`.replace(/^\//, '')].find(
      (each) => followLinks(tree, each)?.kind === 'file',
    );
    return place === undefined ? context.text(`${path} is not there\n`, 404) : fileResponse(context, place, tree.read(place));
  });
  return app;
}

function fileResponse(context: Context, path: string, body: Buffer | string): Response {
  const ending = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
  const headers = { 'content-type': TYPES[ending] ?? 'application/octet-stream', 'cache-control': 'no-store' };
  return context.body(typeof body === 'string' ? body : new Uint8Array(body), 200, headers);
}

/** A part of an address; an undecodable one stays as it is. */
function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/** A page that loads itself again when something changes, and has the scheme that is asked for. */
function live(html: string, { scheme }: ReaderSettings): string {
  const added =
    `<style>:root{color-scheme:${scheme}}</style>` +
    `<script>new EventSource('/changes').addEventListener('change',()=>location.reload());` +
    `addEventListener('click',(event)=>{const link=event.target.closest?.('a[href]');` +
    `if(link&&link.origin!==location.origin){event.preventDefault();parent.postMessage({leads:link.href},location.origin)}})</script>`;
  return /<\/body>/i.test(html) ? html.replace(/(?=<\/body>)/i, added) : html + added;
}
