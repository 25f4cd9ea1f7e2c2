import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { FailedOperationError } from '../errors.ts';
import { readIfThere } from '../files/disk.ts';
import { withBrowser, type Browser, type BrowserContext, type BrowserPage, type BrowserWishes } from './browser.ts';
import { findOverflow, forgetWhatIsKept, hideTexts, pageHeight, runAccessEngine, whenFontsAreThere } from './in-page.ts';
import type { Stumble } from './stumble.ts';
import { judgeTextsOnPictures, type TextOnPicture } from './text-on-pictures.ts';

/** A width at which pages are looked at. */
export interface Viewport {
  readonly name: 'desktop' | 'phone';
  /** CSS pixels. */
  readonly width: number;
  readonly height: number;
}

export const VIEWPORTS: readonly Viewport[] = [
  { name: 'desktop', width: 1280, height: 800 },
  { name: 'phone', width: 390, height: 844 },
];

/** A page to look at. */
export interface PageToSee {
  /** The name: a role, with its state where that is not the usual one. */
  readonly name: string;
  readonly address: string;
}

/** A page as a browser shows it. */
export interface Look {
  readonly name: string;
  readonly viewport: Viewport;
  /** PNG. */
  readonly picture: Buffer;
  readonly stumbles: readonly Stumble[];
}

/** A page that is longer is cut there. */
const MAX_HEIGHT = 6000;
const AT_A_TIME = 3;
const PATIENCE_MS = 20_000;
/** The levels A and AA of the Web Content Accessibility Guidelines 2.1. */
const LEVELS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'];

/**
 * Looks at pages with a browser, at the width of a desktop and of a phone. Nothing is asked for from elsewhere than this machine.
 * @throws UsageError when there is no browser
 */
export async function lookAtPages(pages: readonly PageToSee[], wishes: Omit<BrowserWishes, 'hosts'>): Promise<Look[]> {
  const engine = accessEngine();
  const hosts = [...new Set(pages.map(({ address }) => new URL(address).host))];
  return withBrowser({ ...wishes, hosts }, async (browser) => {
    const looks: Look[][] = [];
    let next = 0;
    // Several at a time: a page waits for its files part of the time.
    const work = async (): Promise<void> => {
      let window: BrowserWindow | undefined;
      for (let i = next++; i < pages.length; i = next++) {
        const page = pages[i];
        if (page === undefined) continue;
        window = window === undefined ? await openWindow(browser) : await emptied(window, browser);
        looks[i] = await lookAt(window, page, engine);
      }
    };
    await Promise.all(Array.from({ length: AT_A_TIME }, work));
    return looks.flat();
  });
}

/** A window of the browser, which shows one page after another: a new one for each takes as long again as all else. */
interface BrowserWindow {
  readonly context: BrowserContext;
  readonly page: BrowserPage;
  /** The complaints of the page in it. */
  readonly said: Stumble[];
}

async function openWindow(browser: Browser): Promise<BrowserWindow> {
  const context = await browser.newContext({ reducedMotion: 'reduce', colorScheme: 'light', locale: 'en', serviceWorkers: 'block' });
  const page = await context.newPage();
  const said: Stumble[] = [];
  listen(page, said);
  return { context, page, said };
}

/** The window without anything that its last page left in it; another one where that cannot be. */
async function emptied(window: BrowserWindow, browser: Browser): Promise<BrowserWindow> {
  let timer: NodeJS.Timeout | undefined;
  // A page whose script never ends answers nothing.
  const tooLate = new Promise<boolean>((resolve) => (timer = setTimeout(resolve, PATIENCE_MS, false)));
  const isEmpty = await Promise.race([forget(window).catch(() => false), tooLate]);
  clearTimeout(timer);
  if (isEmpty) return window;
  await window.context.close();
  return openWindow(browser);
}

/** Makes a window forget its page. @returns whether nothing is left of it */
async function forget({ context, page, said }: BrowserWindow): Promise<boolean> {
  const { origin } = new URL(page.url());
  if (context.pages().length > 1 || !(await page.evaluate(forgetWhatIsKept))) return false;
  await page.goto('about:blank');
  const session = await context.newCDPSession(page);
  await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'all' });
  await session.detach();
  said.length = 0;
  return true;
}

async function lookAt({ page, said }: BrowserWindow, { name, address }: PageToSee, engine: string): Promise<Look[]> {
  const looks: Look[] = [];
  for (const viewport of VIEWPORTS) {
    await page.setViewportSize(viewport);
    if (looks.length === 0) await open(page, { name, address });
    const seen = [...(await page.evaluate(findOverflow)), ...(await judgeAccess(page, engine, viewport, looks.length === 0))];
    looks.push({ name, viewport, picture: await shoot(page, viewport), stumbles: [...said.splice(0), ...seen] });
  }
  return looks;
}

/** Notes a page's complaints, and the addresses that were not found. */
function listen(page: BrowserPage, said: Stumble[]): void {
  page.on('console', (message) => {
    // The address names whatever could not be loaded.
    if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
      said.push({ kind: 'console', message: message.text().slice(0, 300) });
  });
  page.on('pageerror', (error) => said.push({ kind: 'console', message: error.message.slice(0, 300) }));
  page.on('response', (response) => {
    const url = new URL(response.url());
    // Browsers ask for this one by themselves.
    if (response.status() < 400 || url.pathname === '/favicon.ico') return;
    const isPage = response.request().isNavigationRequest() && response.frame() === page.mainFrame();
    said.push({ kind: 'missing', message: `${isPage ? 'it' : fromPage(url, page.url())} was answered with ${response.status()}` });
  });
}

async function open(page: BrowserPage, { name, address }: PageToSee): Promise<void> {
  await page.goto(address, { waitUntil: 'load', timeout: PATIENCE_MS }).catch((cause: unknown) => {
    throw new FailedOperationError({ what: `the page “${name}” was not shown`, why: String(cause).split('\n')[0], cause });
  });
  await page.evaluate(whenFontsAreThere);
}

async function shoot(page: BrowserPage, { width, height }: Viewport): Promise<Buffer> {
  const whole = await page.evaluate(pageHeight);
  const clip = { x: 0, y: 0, width, height: Math.min(Math.max(whole, height), MAX_HEIGHT) };
  return page.screenshot({ fullPage: true, animations: 'disabled', caret: 'hide', clip });
}

/** Has the engine look at the page as it is. */
async function judgeAccess(page: BrowserPage, engine: string, viewport: Viewport, isFirst: boolean): Promise<Stumble[]> {
  if (isFirst) await page.evaluate(`${engine};0`).catch(() => undefined);
  const results = await page.evaluate(runAccessEngine, LEVELS);
  if (results === undefined) return [{ kind: 'access', message: 'how accessible it is could not be judged: the page lets no script in' }];
  const wrong = results.wrong.flatMap(({ id, help, nodes }) =>
    nodes.map(({ selector, markup, box, contrast }) => ({
      kind: 'access' as const,
      rule: id,
      message: `${selector}: ${help}${contrast === undefined ? '' : `: ${contrast}`}`,
      element: { selector, markup },
      box,
    })),
  );
  return [...wrong, ...(await judgeContrastOnPictures(page, results.onPictures, viewport))];
}

/** The cases that the engine leaves open: texts over pictures and gradients, held against a picture of the page without its texts. */
async function judgeContrastOnPictures(page: BrowserPage, texts: readonly TextOnPicture[], viewport: Viewport): Promise<Stumble[]> {
  if (texts.length === 0) return [];
  await page.evaluate(hideTexts, true);
  const behind = await shoot(page, viewport);
  await page.evaluate(hideTexts, false);
  return judgeTextsOnPictures(texts, behind);
}

/** The engine that judges access, as a script. scripts/build.mjs puts it there. */
function accessEngine(): string {
  const here = fileURLToPath(new URL('.', import.meta.url));
  const path = /[/\\]src[/\\]/.test(here) ? join(here, '../../../dist/access-engine.txt') : join(here, 'access-engine.txt');
  const text = readIfThere(path)?.toString('utf8');
  if (text === undefined) throw new FailedOperationError({ what: `${path} is not there`, hint: 'install Pionero again' });
  return text;
}

/** An address as a page of the site names it. */
function fromPage({ pathname }: URL, address: string): string {
  const folder = new URL('.', address).pathname;
  return pathname.startsWith(folder) ? pathname.slice(folder.length) : pathname;
}
