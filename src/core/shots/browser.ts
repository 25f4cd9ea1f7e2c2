import { createServer } from 'node:net';
import { userInfo } from 'node:os';
import { delimiter } from 'node:path';
import { FailedOperationError, UsageError } from '../errors.ts';
import { findProgram } from '../files/disk-programs.ts';

/** The parts of a browser's driver that we use; we do not pass on its own types. */
export type Browser = import('playwright-core').Browser;
export type BrowserContext = import('playwright-core').BrowserContext;
export type BrowserPage = import('playwright-core').Page;

/** Which browser, and what breaks it off. */
export interface BrowserWishes {
  /** As in {@link findBrowser}. */
  readonly path: string;
  /** The only hosts, with their ports, that pages may speak with: `127.0.0.1:8080`; whatever they use for it. */
  readonly hosts: readonly string[];
  readonly signal?: AbortSignal | undefined;
}

/** The names of the browser’s programs. First the one that never has a window, which takes half the time. */
const PROGRAMS = [
  ...['chromium-headless-shell', 'chromium', 'chromium-browser', 'chrome', 'google-chrome', 'msedge'],
  ...['Chromium', 'Google Chrome', 'Microsoft Edge'],
];

/** Without these a browser asks its makers for news, and hangs where it may not. */
const QUIET = [
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
  '--disable-gpu',
  '--disable-quic',
  '--hide-scrollbars',
  '--font-render-hinting=none',
];

/**
 * What keeps pages from other programs of this machine: all but the given hosts goes to a proxy that answers nothing, sockets of scripts
 * too (WebSocket); names are not looked up; what would pass a proxy by is not there (WebRTC over UDP, WebTransport over QUIC).
 */
const CONFINED = [
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1',
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--disable-features=WebRtcHideLocalIpsWithMdns,MediaRouter,DnsOverHttps,WebTransport',
  '--disable-blink-features=WebTransport,DirectSockets',
];

/**
 * The browser among the programs of some folders; undefined where there is none.
 * @param path the folders, divided as in `PATH`
 */
export function findBrowser(path: string): string | undefined {
  for (const folder of path.split(delimiter))
    for (const name of PROGRAMS) {
      const found = findProgram(name, { path: folder });
      if (found !== undefined) return found;
    }
  return undefined;
}

/**
 * Starts a browser without a window, lets it be used, and ends it, whatever happens.
 * @throws UsageError when there is no browser, or no driver for it
 */
export async function withBrowser<T>({ path, hosts, signal }: BrowserWishes, work: (browser: Browser) => Promise<T>): Promise<T> {
  const executablePath = findBrowser(path);
  if (executablePath === undefined)
    throw new UsageError({ what: 'there is no browser here to look with', hint: 'install Chromium (Debian: apt-get install chromium)' });
  const { chromium } = await import('playwright-core').catch((cause: unknown) => {
    throw new UsageError({ what: 'the driver of the browser is not installed', hint: 'npm install -g playwright-core', cause });
  });
  const isRoot = userInfo().uid === 0;
  const nowhere = await serveNothing();
  const browser = await chromium
    .launch({
      executablePath,
      args: [...QUIET, ...CONFINED, ...(isRoot ? ['--no-sandbox'] : [])],
      // Without <-loopback> a browser asks this machine itself, whatever the proxy is.
      proxy: { server: nowhere.address, bypass: ['<-loopback>', ...hosts].join(',') },
      handleSIGINT: false,
      handleSIGTERM: false,
    })
    .catch((cause: unknown) => {
      nowhere.close();
      throw new FailedOperationError({ what: `${executablePath} does not start`, why: firstLine(cause), cause });
    });
  const stop = (): void => void browser.close();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    return await work(browser);
  } catch (error) {
    if (signal?.aborted === true) throw new FailedOperationError({ what: 'interrupted', hint: 'nothing was changed', cause: error });
    throw error;
  } finally {
    signal?.removeEventListener('abort', stop);
    await browser.close();
    nowhere.close();
  }
}

/** A proxy on this machine that ends every connection. */
async function serveNothing(): Promise<{ readonly address: string; close(): void }> {
  const server = createServer((socket) => socket.destroy());
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const bound = server.address();
  return { address: `http://127.0.0.1:${typeof bound === 'object' && bound !== null ? bound.port : 0}`, close: () => void server.close() };
}

function firstLine(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? '';
}
