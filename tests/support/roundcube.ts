import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from '../../src/core/sites/disk-run.ts';
import type { MailServer } from './mailbox.ts';
import { writeFiles, type Place } from './trees.ts';

/** Debian's: the webmail, and the settings that it comes with. */
const WEBMAIL = '/usr/share/roundcube';
const SETTINGS = '/etc/roundcube';

/** What the webmail answered with a theme. */
export interface Served {
  readonly status: number;
  /** What it logged, without the places on this machine. */
  readonly said: string;
  /** The login page. */
  readonly page: string;
  /** Which of the files that the page asks for are not there. */
  readonly missing: readonly string[];
}

const config = (mail: MailServer | undefined): string => `<?php
$config = [
  'db_dsnw' => 'sqlite:///' . INSTALL_PATH . 'mail.db?mode=0600',
  'session_storage' => 'php',
  'skin' => get_cfg_var('site_skin'),
  'des_key' => 'cierzo-lumbre-neveron-00',
  'temp_dir' => INSTALL_PATH . 'temp/',
  'log_dir' => INSTALL_PATH . 'logs/',
  'plugins' => [${mail === undefined ? '' : "'hutdoor'"}],
  'imap_host' => '127.0.0.1:${mail?.port ?? 143}',
  'enable_installer' => false,
];
`;

/** What signs the site in, as docs/roundcube.md shows it. */
const door = (): string => /```php\n(<\?php\n\n[^]*?)```/.exec(readFileSync('docs/roundcube.md', 'utf8'))?.[1] ?? '';

/**
 * A webmail whose themes are in site/skins; nothing of the one that is installed is written to.
 * @param mail what its letters come from; without it, nobody can sign in
 */
export function prepareWebmail(place: Place, mail?: MailServer): void {
  for (const folder of ['skins', 'temp', 'logs', 'config']) mkdirSync(place.path('site', folder), { recursive: true });
  // What only reads the theme does without the webmail.
  if (!existsSync(WEBMAIL)) return;
  for (const own of ['program', 'SQL', 'skins/elastic']) symlinkSync(`${WEBMAIL}/${own}`, place.path('site', own));
  // Beside one of the site's own.
  mkdirSync(place.path('site/plugins'));
  for (const own of readdirSync(`${WEBMAIL}/plugins`)) symlinkSync(`${WEBMAIL}/plugins/${own}`, place.path('site/plugins', own));
  for (const entry of readdirSync(WEBMAIL, { withFileTypes: true }))
    if (entry.isFile()) cpSync(`${WEBMAIL}/${entry.name}`, place.path('site', entry.name));
  for (const own of ['defaults.inc.php', 'mimetypes.php']) cpSync(`${SETTINGS}/${own}`, place.path('site/config', own));
  writeFiles(place.path('site'), {
    'prepend.php': "<?php define('INSTALL_PATH', __DIR__ . '/');\n",
    'config/config.inc.php': config(mail),
    ...(mail === undefined ? {} : { 'plugins/hutdoor/hutdoor.php': door() }),
  });
}

/** The answer, asked for until there is one: a server needs a moment to listen. Undefined when a theme makes it end, or work for ever. */
async function answerOf(address: string, server: ChildProcess): Promise<Response | undefined> {
  for (let tries = 0; tries < 200 && server.exitCode === null && server.signalCode === null; tries += 1) {
    try {
      return await fetch(address, { signal: AbortSignal.timeout(5000) });
    } catch (error) {
      if (error instanceof DOMException) return undefined;
      await sleep(25);
    }
  }
  return undefined;
}

/** Starts the webmail of a site with a theme. */
export function startWebmail(site: string, theme: string, port: number): ChildProcess {
  const settings = ['-d', `auto_prepend_file=${site}/prepend.php`, '-d', `site_skin=${theme}`];
  return spawn('php', [...settings, '-S', `127.0.0.1:${port}`, '-t', '.'], { cwd: site, stdio: 'ignore' });
}

/** Asks the webmail for its login page with a theme. */
export async function serve(place: Place, theme: string): Promise<Served> {
  const site = place.path('site');
  rmSync(`${site}/logs`, { recursive: true });
  mkdirSync(`${site}/logs`);
  const port = await freePort();
  const server = startWebmail(site, theme, port);
  try {
    const base = `http://127.0.0.1:${port}/`;
    const answer = await answerOf(base, server);
    if (answer === undefined) return { status: 0, said: 'no answer', page: '', missing: [] };
    const page = await answer.text();
    const asked = [...page.matchAll(/(?:src|href)="((?:skins|plugins|program)\/[^"#]+)/g)].map(([, target = '']) => target);
    const missing: string[] = [];
    for (const target of new Set(asked)) {
      const { ok } = await fetch(base + target);
      if (!ok) missing.push(target);
    }
    const log = `${site}/logs/errors.log`;
    const said = existsSync(log) ? readFileSync(log, 'utf8').replaceAll(place.folder, '') : '';
    return { status: answer.status, said, page, missing };
  } finally {
    server.kill('SIGKILL');
  }
}
