import { cpSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { afterEach, describe, expect, it } from 'vitest';
import { lacks, makeSymlink } from '../support/needs.ts';
import { findBrowser } from '../../src/core/shots/browser.ts';
import { withSettings, type ReaderSettings } from '../../src/core/web/reader-settings.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const SHELF = join(import.meta.dirname, '../../demo/shelf');
const browserPath = findBrowser(process.env['PATH'] ?? '');
const isSkipped = lacks('chromium');

describe('what a style sheet asks of its reader', () => {
  const dark: ReaderSettings = { scheme: 'dark', contrast: 'usual' };
  const light: ReaderSettings = { scheme: 'light', contrast: 'more' };
  it.each<[string, ReaderSettings, 'yes' | 'no']>([
    ['(prefers-color-scheme: dark)', dark, 'yes'],
    ['(prefers-color-scheme: dark)', light, 'no'],
    ['( PREFERS-COLOR-SCHEME :light )', light, 'yes'],
    ['(prefers-color-scheme:light)', dark, 'no'],
    ['(prefers-contrast: more)', light, 'yes'],
    ['(prefers-contrast: more)', dark, 'no'],
    ['(prefers-contrast: no-preference)', dark, 'yes'],
    ['(prefers-contrast: no-preference)', light, 'no'],
    ['(prefers-contrast)', light, 'yes'],
    ['(prefers-contrast)', dark, 'no'],
  ])('%s is answered for %j: %s', (query, settings, answer) => {
    expect(withSettings(`@media screen and ${query} { a { color: red } }`, settings)).toBe(
      `@media screen and (${answer === 'yes' ? 'min' : 'max'}-width: 0) { a { color: red } }`,
    );
  });
});

describe('themes that are served', () => {
  const running: (() => Promise<void>)[] = [];
  afterEach(async () => {
    for (const stop of running.splice(0)) await stop();
  });

  /** Starts the program and waits for the address that it says. */
  async function served(place: Workplace, ...argv: string[]): Promise<string> {
    const child = place.startPiped('rehearse', ...argv, '--serve');
    const ended = new Promise<void>((resolve) => child.on('exit', () => resolve()));
    running.push(async () => {
      child.kill('SIGINT');
      await ended;
    });
    let said = '';
    for await (const part of child.stdout ?? []) {
      said += String(part);
      const address = /shown at (http:\S+)/.exec(said)?.[1];
      if (address !== undefined && said.includes('Ctrl-C')) return address;
    }
    throw new Error(`no address in ${said}`);
  }

  it('are the ones of the shelf, each page with the files that it asks for, and nothing else', async () => {
    const place = new Workplace();
    cpSync(SHELF, place.path('shelf'), { recursive: true });
    // A link in a theme is one on a site, too.
    makeSymlink('sheet.css', place.path('shelf/albar/linked.css'));
    const address = await served(place, 'shelf/albar-noche');
    const { origin } = new URL(address);
    const get = async (path: string, headers: Record<string, string> = {}) => {
      const response = await fetch(new URL(path, origin), { headers, redirect: 'manual' });
      return { status: response.status, type: response.headers.get('content-type'), text: await response.text() };
    };
    expect(await get('/')).toMatchObject({ status: 302 });
    const frame = await get('/albar-noche/');
    expect([frame.status, ...[...frame.text.matchAll(/<option value="([^"]+)"(?= selected)/g)].map(([, value]) => value)]).toEqual([
      200,
      'albar-noche',
      'front',
    ]);
    for (const id of ['albar', 'albar-noche', 'cornisa']) expect(frame.text).toContain(`<option value="${id}"`);
    const page = await get('/albar-noche/light/front.html');
    expect([page.status, page.text]).toEqual([200, expect.stringContaining('href="themes/albar-noche/sheet.css"')]);
    expect(await get('/albar-noche/light/front.long-words.html')).toMatchObject({
      status: 200,
      text: expect.stringMatching(/Schneeschuh/) as string,
    });
    expect(await get('/albar-noche/light/themes/albar/sheet.css')).toMatchObject({ status: 200, type: 'text/css; charset=utf-8' });
    expect(await get('/albar/light/themes/albar/linked.css')).toMatchObject({ status: 200, type: 'text/css; charset=utf-8' });
    // From the site's root, as many hosts write it.
    const referer = `${origin}/albar/dark/front.html`;
    expect(await get('/themes/albar/sheet.css', { referer })).toMatchObject({ status: 200 });
    for (const path of [
      '/themes/albar/sheet.css',
      '/nobody/',
      '/albar/light/nothing.html',
      '/albar/light/%2e%2e/%2e%2e/etc/passwd',
      '/albar/odd/front.html',
    ])
      expect([path, (await get(path)).status]).toEqual([path, 404]);
    expect(await get('/themes/albar/sheet.css', { referer: 'no address' })).toMatchObject({ status: 404 });
    expect(await get('/albar/light/%zz')).toMatchObject({ status: 404 });
    const status = await new Promise((resolve) => {
      void import('node:http').then(({ get: ask }) =>
        ask(origin, { headers: { host: 'huts.example' } }, ({ statusCode }) => resolve(statusCode)),
      );
    });
    expect(status).toBe(403);
  }, 30_000);

  it('show a change, and what is wrong with it, without being asked again', async () => {
    const place = new Workplace();
    cpSync(join(SHELF, 'albar'), place.path('shelf/albar'), { recursive: true });
    const { origin } = new URL(await served(place, 'shelf/albar'));
    const events = await fetch(`${origin}/changes`);
    const reader = events.body?.getReader();
    const next = async (): Promise<string> => {
      let text = '';
      while (!text.includes('event: change')) text += new TextDecoder().decode((await reader?.read())?.value);
      return text;
    };
    const sheet = readFileSync(place.path('shelf/albar/sheet.css'), 'utf8');
    writeFiles(place.path('shelf/albar'), { 'pages/front.html': '<p>New snow</p>\n' });
    await next();
    expect(await (await fetch(`${origin}/albar/light/front.html`)).text()).toContain('New snow');
    writeFiles(place.path('shelf/albar'), { 'sheet.css': 'a {}\n' });
    await next();
    const broken = await fetch(`${origin}/albar/light/front.html`);
    expect([broken.status, await broken.text()]).toEqual([500, expect.stringMatching(/albar[^]*(?:is not recognized|not a theme)/)]);
    writeFiles(place.path('shelf/albar'), { 'sheet.css': sheet });
    await next();
    expect((await fetch(`${origin}/albar/light/front.html`)).status).toBe(200);
    await reader?.cancel();
  }, 30_000);

  it.skipIf(isSkipped)(
    'are switched in a browser: theme, page, scheme, width',
    async () => {
      const place = new Workplace();
      cpSync(SHELF, place.path('shelf'), { recursive: true });
      writeFiles(place.path('shelf/albar'), {
        'pages/front.html':
          '<!doctype html><html lang="en"><head><title>x</title><link rel="stylesheet" href="{{{theme.path}}}/own.css"></head><body><h1>Albar here</h1></body></html>',
        'own.css': 'body { background: #fff } @media (prefers-color-scheme: dark) { body { background: #010203 } }',
      });
      const address = await served(place, 'shelf/albar');
      const browser = await chromium.launch({ executablePath: browserPath ?? '', args: ['--no-sandbox'] });
      try {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
        await page.goto(address);
        const frame = page.frameLocator('iframe');
        const ground = async () =>
          frame.locator('body').evaluate((body) => body.ownerDocument.defaultView?.getComputedStyle(body).backgroundColor);
        await page.getByLabel('Page').selectOption('front');
        await frame.getByText('Albar here').waitFor();
        expect(await ground()).toBe('rgb(255, 255, 255)');
        await page.getByLabel('dark').check();
        await expect.poll(ground).toBe('rgb(1, 2, 3)');
        await page.getByLabel('narrow').check();
        expect((await page.locator('iframe').boundingBox())?.width).toBeCloseTo(390, -1);
        // What was chosen stays when another theme is.
        await page.getByLabel('Theme').selectOption('albar-noche');
        await page.waitForURL(/\/albar-noche\//);
        expect(await page.getByLabel('Page').inputValue()).toBe('front');
        expect(await page.getByLabel('dark').isChecked()).toBe(true);
        await expect.poll(async () => page.locator('iframe').getAttribute('src')).toBe('dark/front.html');
        await frame.locator('h1').waitFor();
        expect(await page.frames()[1]?.evaluate('location.pathname')).toBe('/albar-noche/dark/front.html');
      } finally {
        await browser.close();
      }
    },
    60_000,
  );

  it('end at once when they are interrupted, also while a page waits for changes', async () => {
    const place = new Workplace();
    cpSync(join(SHELF, 'albar'), place.path('albar'), { recursive: true });
    const child = place.startPiped('rehearse', 'albar', '--serve', '--format', 'json');
    let said = '';
    child.stdout?.on('data', (data: Buffer) => (said += data.toString()));
    await expect.poll(() => said, { timeout: 20_000 }).toMatch(/"address": "[^"]+"[^]*\}/);
    const address = /"address": "([^"]+)"/.exec(said)?.[1] ?? '';
    const changes = await fetch(new URL('/changes', address));
    expect(changes.status).toBe(200);
    const began = Date.now();
    const ended = new Promise<number>((resolve) => child.on('exit', () => resolve(Date.now() - began)));
    child.kill('SIGINT');
    expect(await ended).toBeLessThan(5000);
  }, 40_000);

  it('know no setting by the names that every object has', async () => {
    const place = new Workplace();
    cpSync(join(SHELF, 'albar'), place.path('albar'), { recursive: true });
    const { origin } = new URL(await served(place, 'albar'));
    for (const name of ['constructor', '__proto__', 'toString'])
      expect([name, (await fetch(`${origin}/albar/${name}/front.html`)).status]).toEqual([name, 404]);
  }, 30_000);

  it('need a port that is free', async () => {
    const place = new Workplace();
    cpSync(join(SHELF, 'albar'), place.path('albar'), { recursive: true });
    const { port } = new URL(await served(place, 'albar'));
    const second = place.startAndWait('rehearse', 'albar', '--serve', '--port', port);
    expect([second.status, second.stderr]).toEqual([2, expect.stringMatching(/port \d+ cannot be used[^]*another program listens there/)]);
  }, 30_000);
});

describe.skipIf(isSkipped)('pages in a browser', () => {
  const PAGE = (body: string) =>
    `<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Paso</title></head>\n<body>\n${body}\n</body></html>\n`;

  /** A theme whose pages of a record hold something. */
  async function paso(body: string): Promise<Workplace> {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'estrato', '--yes');
    writeFiles(place.path('paso'), { [RECORD]: PAGE(`<main><h1>Paso</h1>\n${body}</main>`) });
    return place;
  }
  const RECORD = 'templates/record/view.html';

  it('that a reader would stumble over are findings, at their lines, each once, with pictures', async () => {
    const place = await paso(
      [
        '<p class="paso-faint" style="color:#aaa;background:#fff">faint</p>',
        '<img class="paso-map" src="data:image/gif;base64,R0lGODlhAQABAAAAACw=">',
        '<script src="nowhere.js"></script>',
        '<script>noSuchThing()</script>',
        '<div class="paso-wide" style="width:700px">wide</div>',
        '<p class="paso-cut" style="height:1em;overflow:hidden">a<br>b<br>c</p>',
        '<p class="paso-held" style="width:300px;overflow-x:auto"><span style="display:block;width:900px">scrolls</span></p>',
        '<p class="paso-dots" style="width:5em;overflow:hidden;white-space:nowrap;text-overflow:ellipsis">many many many words</p>',
        '<link rel="stylesheet" href="/layers/paso/css/ropes.css">',
      ].join('\n'),
    );
    writeFiles(place.path('paso'), { 'css/ropes.css': '.ropes { }\nbody { background: url(gone.png) }\n' });
    const { findings } = (await place.json('rehearse', 'paso', '--shots', 'shots')) as {
      findings: { rule: string; message: string; file: string; line: number; severity: string }[];
    };
    const wanted: [string, string, number, RegExp, file?: string][] = [
      [
        'shot/access',
        'warning',
        5,
        /\.paso-faint: [^]*contrast[^]*: 2\.32 to 1, wanted 4\.5:1 \(#aaaaaa on #ffffff\), on record \(desktop\), record \(phone\) \(marked\/record\.desktop\.png, \d\)/,
      ],
      ['shot/access', 'warning', 6, /alternative text/],
      ['shot/console', 'error', 1, /^noSuchThing is not defined, on record \(desktop\)$/],
      ['shot/missing', 'error', 2, /css\/gone\.png was answered with 404/, 'css/ropes.css'],
      ['shot/missing', 'error', 7, /^nowhere\.js was answered with 404, on record \(desktop\)$/],
      [
        'shot/overflow',
        'warning',
        9,
        /^div\.paso-wide is wider than the window by 3\d\d pixels, on record \(phone\) \(marked\/record\.phone\.png, 1\)/,
      ],
      ['shot/overflow', 'warning', 10, /^the text of p\.paso-cut is cut/],
    ];
    expect(
      findings
        .map(({ rule, severity, line, message, file }) => [rule, severity, line, message, file])
        .sort((a, b) => Number(a[2]) - Number(b[2])),
    ).toEqual(
      wanted
        .sort((a, b) => a[2] - b[2])
        .map(([rule, severity, line, message, file = RECORD]) => [rule, severity, line, expect.stringMatching(message), file]),
    );
    expect(readdirSync(place.path('shots/marked'))).toEqual(['record.desktop.png', 'record.phone.png']);
  }, 240_000);

  it('with texts over pictures are held against the pixels behind them', async () => {
    const over = (name: string, style: string, tag = 'p'): string =>
      `<${tag} class="paso-${name}" style="padding:1em;${style}">Snow on the ridge</${tag}>`;
    const stripe = 'background:linear-gradient(#fff 0 2%, #222 2%)';
    const place = await paso(
      [
        over('pale', 'color:#fff;background:linear-gradient(90deg,#eee,#111)'),
        // Its words end where the ground is still dark.
        over('begin', 'color:#fff;background:linear-gradient(90deg,#111,#eee)'),
        over('clear', 'color:#fff;background:linear-gradient(90deg,#000,#333)'),
        // What lies behind a line of text is little of it.
        over('stripe', `color:#fff;${stripe}`),
        // Written in another way, it is white all the same.
        over('other', 'color:color(srgb 1 1 1);background:linear-gradient(90deg,#000,#333)'),
        over('veil', 'color:rgba(255,255,255,.4);background:linear-gradient(90deg,#000,#333)'),
        // Large texts need less.
        over('large', 'color:#fff;font-size:30px;background:linear-gradient(90deg,#666,#777)', 'h2'),
        over('small', 'color:#fff;font-size:14px;background:linear-gradient(90deg,#777,#888)'),
        // Its line is told though another of its kind stands before it.
        '<h3>First</h3>',
        '<h3 style="color:#fff;font-size:15px;background:linear-gradient(90deg,#777,#888)">Second</h3>',
        over('shadow', 'color:#fff;text-shadow:0 0 4px #000;background:linear-gradient(90deg,#eee,#fff)'),
      ].join('\n'),
    );
    const { findings } = (await place.json('rehearse', 'paso', '--shots', 'shots')) as {
      findings: { rule: string; message: string; line: number }[];
    };
    const told = findings.map(
      ({ rule, message, line }) =>
        `${line} ${rule} ${/\.paso-(\w+)/.exec(message)?.[1]}: ${/as low as [\d.]+ to 1, wanted [\d.]+:1/.exec(message)?.[0]}`,
    );
    expect(told).toEqual([
      expect.stringMatching(/^5 shot\/access pale: as low as 1\.\d\d to 1, wanted 4\.5:1$/),
      expect.stringMatching(/^10 shot\/access veil: as low as [34]\.\d\d to 1, wanted 4\.5:1$/),
      expect.stringMatching(/^12 shot\/access small: as low as [34]\.\d\d to 1, wanted 4\.5:1$/),
      expect.stringMatching(/^14 shot\/access undefined: as low as [34]\.\d\d to 1, wanted 4\.5:1$/),
    ]);
    // The texts are on the pictures that are kept.
    expect(readFileSync(place.path('shots/record.desktop.png')).length).toBeGreaterThan(1000);
  }, 240_000);

  it('that lets no script in is not told to be good', async () => {
    const place = await paso('<p>One</p>\n<script>Object.defineProperty(window, "axe", { value: 1, writable: false })</script>');
    const { findings } = (await place.json('rehearse', 'paso', '--shots', 'shots')) as { findings: { rule: string; message: string }[] };
    expect(findings.map(({ rule, message }) => [rule, message])).toContainEqual([
      'shot/access',
      expect.stringMatching(/could not be judged/),
    ]);
  }, 240_000);

  it('find nothing that the page before them left in the window', async () => {
    const script = `<script>
      const left = [localStorage.seen, sessionStorage.seen, document.cookie, window.name].filter((each) => each);
      if (left.length > 0) console.error('left: ' + left);
      localStorage.seen = sessionStorage.seen = window.name = 'seen';
      document.cookie = 'seen=1';
      if (location.pathname.includes('results')) window.open('about:blank');
    </script>`;
    const place = await paso(script);
    writeFiles(place.path('paso'), { 'templates/search/results.html': PAGE(`<main><h1>Paso</h1>${script}</main>`) });
    const { stdout } = await place.run('rehearse', 'paso', '--shots', 'shots', '--states');
    expect(stdout).toMatch(/^✓ paso: nothing that a reader would stumble over, on 18 views/);
  }, 240_000);

  it('are compared with the accepted ones, and changes are kept as pictures until they are accepted', async () => {
    const place = await paso('<p>One</p>');
    const shoot = async (...more: string[]) => {
      const { findings } = (await place.json('rehearse', 'paso', '--shots', 'shots', ...more)) as {
        findings: { rule: string; message: string }[];
      };
      return findings.map(({ rule, message }) => `${rule} ${message}`);
    };
    expect(await shoot()).toEqual([]);
    expect(existsSync(place.path('shots/changes'))).toBe(false);
    writeFiles(place.path('paso'), { [RECORD]: PAGE('<main><h1>Paso</h1><p>Two, and a few words more</p></main>') });
    const changed = await shoot();
    expect(changed).toEqual([
      expect.stringMatching(
        /^shot\/changed record \(desktop\) looks different: (?:less than )?[\d.]+ % of it \(changes\/record\.desktop\.png\)/,
      ),
      expect.stringMatching(/^shot\/changed record \(phone\)/),
    ]);
    expect(readdirSync(place.path('shots/changes'))).toEqual(['record.desktop.png', 'record.phone.png']);
    // The pictures of pages that are not looked at this time stay.
    const accepted = readdirSync(place.path('shots/accepted'));
    writeFiles(place.path('shots/accepted'), { 'record.long-words.phone.png': 'kept' });
    expect(await shoot('--accept')).toEqual([]);
    expect(readdirSync(place.path('shots/accepted'))).toEqual([...accepted, 'record.long-words.phone.png'].sort());
    expect(await shoot()).toEqual([]);
    expect(existsSync(place.path('shots/changes/record.desktop.png'))).toBe(false);
  }, 240_000);

  it('go into no folder with other files, and are not made without a browser', async () => {
    const place = await paso('<p>One</p>');
    writeFiles(place.path('mine'), { 'letter.txt': 'x' });
    const before = ['mine', 'paso'].map((each) => snapshot(place.path(each)));
    expect(await place.run('rehearse', 'paso', '--shots', 'mine')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/more than pictures of pages: letter\.txt/) as string,
    });
    const without = place.runWith({ PATH: '/nowhere' }, 'rehearse', 'paso', '--shots', 'shots');
    expect([without.status, without.stderr]).toEqual([2, expect.stringMatching(/there is no browser here[^]*install Chromium/)]);
    expect(await place.run('rehearse', 'paso', '--accept')).toMatchObject({ status: 2 });
    expect(['mine', 'paso'].map((each) => snapshot(place.path(each)))).toEqual(before);
    expect(existsSync(place.path('shots'))).toBe(false);
  }, 240_000);

  it('of a real site are looked at, too', async () => {
    const place = await paso('<p>One</p>');
    writeFiles(place.folder, {
      'pionero.yaml': `sites: { made: { folder: site, command: [${process.execPath}, make.mjs, "{out}"], pages: [{ role: front, file: index.html }] } }\n`,
      'site/make.mjs': `import { mkdirSync, writeFileSync } from 'node:fs'; mkdirSync(process.argv[2]); writeFileSync(process.argv[2] + '/index.html', ${JSON.stringify(PAGE('<main><h1>Cierzo</h1><p style="color:#bbb">faint</p></main>'))});\n`,
      'site/themes/.keep': '',
    });
    const { findings } = (await place.json('rehearse', 'paso', '--site', 'made', '--shots', 'shots', '--yes')) as {
      findings: { rule: string }[];
    };
    expect(findings.map(({ rule }) => rule)).toEqual(['shot/access']);
    expect(readdirSync(place.path('shots')).sort()).toEqual(['accepted', 'front.desktop.png', 'front.phone.png', 'marked']);
  }, 240_000);
});

it.each([
  [['--serve', '--shots', 'x'], '--serve and --shots'],
  [['--serve', '--site', 'x'], '--serve and --site'],
  [['--shots', 'x', '--out', 'y'], '--shots and --out'],
  [['--shots', 'x', '--against', 'parent'], '--shots and --against'],
  [['--site', 'x', '--out', 'y'], '--site and --out'],
  [['--states'], '--states needs pictures'],
  [['--port', '8080'], '--port is the port of a server, and nothing is served'],
])('%j is refused, and nothing is left unheard', async (argv, says) => {
  const outcome = await new Workplace().run('rehearse', 'nowhere', ...argv);
  expect([outcome.status, outcome.stderr]).toEqual([2, expect.stringContaining(says)]);
});

describe('a site in other states', () => {
  it('is shown, and a page that cannot be made in one of them is a problem', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFiles(place.path('paso'), {
      'pages/search.html':
        '<html lang="{{site.language}}"><head>{{{host.head}}}</head><body>{{#entries}}{{title}}{{/entries}}{{^entries}}nothing for {{query}}{{/entries}}{{{host.foot}}}</body></html>\n',
      'pages/front.html':
        '{{#visitor}}hello {{name}}{{/visitor}}{{^visitor}}sign in{{/visitor}} {{#menu}}{{#children}}{{#children}}<i>{{label}}</i>{{/children}}{{/children}}{{/menu}}\n',
      'pages/entry.html': '<html lang="{{site.language}}" dir="{{site.direction}}">{{page.title}}</html>\n',
    });
    expect((await place.run('rehearse', 'paso')).stdout).toMatch(
      /pages more in 5 states: empty, no-results, long-words, right-to-left, signed-in/,
    );
    await place.run('rehearse', 'paso', '--out', 'site', '--yes');
    const page = (name: string) => readFileSync(place.path('site', `${name}.html`), 'utf8');
    expect(page('search.no-results')).toContain('nothing for glacier');
    expect([page('front'), page('front.signed-in')]).toEqual([
      'sign in <i>Booking</i><i>The way up</i>\n',
      'hello Warden of Cierzo <i>Booking</i><i>The way up</i>\n',
    ]);
    expect(page('entry.right-to-left')).toMatch(/lang="ar" dir="rtl">[\u0600-\u06ff]/);
    writeFiles(place.path('paso'), { 'pages/front.html': 'x{{#visitor}}{{> nowhere}}{{/visitor}}' });
    const { states } = (await place.json('rehearse', 'paso')) as { states: { role: string; state: string; problem?: string }[] };
    expect(states.filter(({ problem }) => problem !== undefined).map(({ role }) => role)).toContain('front');
  });
});
