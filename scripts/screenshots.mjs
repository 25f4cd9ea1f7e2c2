// Takes the pictures in docs/screenshots/: real commands, run on the demo data in a real terminal window under Xvfb.
// Needs Debian's xvfb, xterm, imagemagick and zip; the page pictures need chromium, and those of real hosts
// python3-sphinx, python3-myst-parser, roundcube-core, php-cli and php-sqlite3.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { chromium } from 'playwright-core';
import { placeAt, support } from './hosts.mjs';

const DISPLAY = ':97';
const program = resolve('dist/pionero.cjs');
const target = resolve('docs/screenshots');
const only = process.argv[2];

/** The line that is shown, and the one that runs before it, unseen. */
const SHOTS = [
  { name: 'new', line: 'pionero new cierzo --platform vereda --parent albar --shelf shelf --title "Refugio Cierzo" --yes' },
  { name: 'check', line: 'pionero check shelf | head -46' },
  { name: 'clone', line: 'pionero clone shelf/albar cumbre-sur --yes | tail -43' },
  { name: 'rename', before: 'pionero clone shelf/albar oak --to shelf --yes', line: 'pionero rename shelf/oak sol --yes | tail -44' },
  {
    name: 'kit',
    line: 'pionero kit list --platform vereda; pionero kit make shelf/albar --part menu=partials/albar-nav.html --dry-run; pionero kit check --platform vereda',
  },
  {
    name: 'drift',
    shelf: 'demo/lineage',
    line: 'cd shelf/shelf; pionero drift cierzo',
    next: 'pionero drift cierzo --merge --yes; echo; cat cierzo/partials/header.html; echo; pionero override cierzo --drop --yes',
  },
  {
    name: 'pack',
    before:
      '{ pionero clone shelf/albar-noche lumbre --to shelf --yes; (timeout 60 node "$PIONERO" catalogue serve --data directory --port 8198 --yes &); sleep 2; export PIONERO_TOKEN=$(cat directory/tokens); pionero submit shelf/albar --catalogue http://127.0.0.1:8198 --yes; }',
    line: 'pionero pack shelf/lumbre --for submission --out sent --yes; cat sent/listing.md',
    next: 'pionero submit shelf/lumbre --catalogue http://127.0.0.1:8198 --yes; mkdir new; cd new; echo; pionero name lumbre --platform vereda --catalogue http://127.0.0.1:8198',
  },
  {
    name: 'rehearse',
    before: 'pionero new cierzo --platform vereda --parent albar --shelf shelf --yes',
    line: 'pionero rehearse shelf/cierzo; echo; pionero undo --yes',
  },
];
SHOTS.push(
  { name: 'upgrade', line: 'pionero upgrade shelf --release 5 --yes' },
  { name: 'learn', line: 'pionero platform new shelf --name senda --yes | tail -44' },
  {
    name: 'meta-set',
    line: 'pionero meta set author="Wardens & Friends" license=MIT --license-text shelf --yes; pionero meta bump minor shelf --yes; pionero undo --yes; pionero meta show shelf/albar-noche',
  },
);
/** An editor with the lines of docs/editors.md, and a mistake just typed. */
SHOTS.push({
  name: 'editor',
  before:
    '{ mkdir bin && ln -s "$PIONERO" bin/pionero && export PATH="$PWD/bin:$PATH"; echo "{{> notice}}" >> shelf/albar-noche/partials/footer.html; }',
  files: {
    'init.lua': () => /```lua\n([^]*?)```/.exec(readFileSync('docs/editors.md', 'utf8'))[1],
    'type.vim': () =>
      "set number noswapfile signcolumn=yes | nnoremap q :qall!<CR> | edit shelf/albar/pages/front.html | belowright 8split shelf/albar-noche/partials/footer.html | call timer_start(2500, {-> execute('lua vim.lsp.codelens.refresh()')}) | call timer_start(3000, {-> execute('wincmd k | %s/{{> footer}}/{{> fotter}}/ ')})",
  },
  line: 'nvim -u init.lua -S type.vim',
  asks: true,
});
const PAGES = [
  { name: 'manual', made: ['scripts/docs-site.mjs'], at: 'site/build/index.html' },
  { name: 'page-trace', trace: 'cierzo' },
  { name: 'page-sheet', theme: 'albar-noche', page: 'index', more: ['--against', 'parent'] },
  { name: 'serve', serve: 'demo/shelf/albar-noche', at: '#page=front&scheme=dark' },
  { name: 'shot', shots: 'demo/shelf/albar' },
  { name: 'cover', cover: 'demo/shelf/albar' },
  {
    name: 'page-hosts',
    hosts: {
      sphinx: { prepare: 'prepareSite', home: 'site/_themes', site: 'handbook', page: 'front' },
      mkdocs: { prepare: 'prepareManual', home: 'manual/themes', site: 'manual', page: 'front' },
      hexo: { prepare: 'prepareBlog', home: 'blog/themes', site: 'blog', page: 'front' },
      marp: { prepare: 'prepareDeck', home: 'deck/themes', site: 'deck', page: 'slides', file: 'lumbre.css' },
      roundcube: { prepare: 'prepareWebmail', home: 'site/skins', site: 'inbox', page: 'login', more: 'message' },
    },
  },
];

const needed = ['Xvfb', 'xterm', 'import', 'zip'].filter((tool) => spawnSync('which', [tool]).status !== 0);
if (needed.length > 0) {
  console.error(`missing: ${needed.join(', ')} (apt-get install xvfb xterm imagemagick fonts-dejavu-core zip)`);
  process.exit(1);
}
mkdirSync(target, { recursive: true });
// Always the same folder, so that a picture changes only when what it shows does.
const folder = join(tmpdir(), 'pionero-shots');
rmSync(folder, { recursive: true, force: true });
const xvfb = spawn('Xvfb', [DISPLAY, '-screen', '0', '1280x800x24', '-nolisten', 'tcp'], { stdio: 'ignore' });
const env = { ...process.env, DISPLAY, XDG_STATE_HOME: join(folder, '.state'), FORCE_COLOR: '1', COLUMNS: '118' };
await sleep(1500);
try {
  for (const shot of SHOTS.filter(({ name }) => only === undefined || name === only)) await terminalShot(shot);
  for (const page of PAGES.filter(({ name }) => only === undefined || name === only)) await pageShot(page);
} finally {
  xvfb.kill();
  rmSync(folder, { recursive: true, force: true });
}

async function terminalShot({ name, before, line, next, asks, files = {}, shelf = 'demo/shelf' }) {
  const place = join(folder, name);
  cpSync(shelf, join(place, 'shelf'), { recursive: true });
  for (const [path, text] of Object.entries(files)) writeFileSync(join(place, path), text());
  const prelude = `export PIONERO="${program}"\npionero() { "${process.execPath}" "${program}" "$@"; }\ncd ${place}\n`;
  const done = join(place, '.done');
  // The prompt and the line are printed as they would stand in a person's terminal.
  const script = `${prelude}${before === undefined ? '' : `${before} >/dev/null\n`}${asks === true ? `(sleep 4; touch ${done}) &\n` : ''}${[line, ...(next === undefined ? [] : [next])].map((each) => `printf '\\033[1;32m~/site\\033[0m $ %s\\n' ${quote(each)}\n${each}\n`).join('')}printf '\\033[1;32m~/site\\033[0m $ '\ntouch ${done}\nsleep 30\n`;
  writeFileSync(join(place, '.shot.sh'), script);
  const look = [
    '-bg',
    '#101820',
    '-fg',
    '#dde4e8',
    '-fa',
    'DejaVu Sans Mono',
    '-fs',
    '10',
    '-geometry',
    '158x49+0+0',
    '-b',
    '8',
    '+sb',
    '-cr',
    '#101820',
  ];
  const xterm = spawn('xterm', [...look, '-e', 'bash', join(place, '.shot.sh')], { env, stdio: 'ignore' });
  for (let i = 0; i < 200 && !existsSync(done); i++) await sleep(100);
  await sleep(500);
  execFileSync('import', ['-window', 'root', '-colors', '64', `PNG8:${join(target, `${name}.png`)}`], { env });
  xterm.kill();
  await sleep(200);
  console.log(`docs/screenshots/${name}.png`);
}

/** A page of the stand-in host, or what else a browser shows. */
async function pageShot({ name, theme, page, hosts, trace, shelf = 'demo/shelf', more = [], serve, at, shots, cover, made }) {
  if (made !== undefined) {
    execFileSync(process.execPath, made, { stdio: 'ignore' });
    return browserShot(name, `file://${resolve(at)}`);
  }
  if (hosts !== undefined) return hostsShot(name, hosts);
  if (serve !== undefined) return servedShot(name, serve, at);
  if (shots !== undefined) return markedShot(name, shots);
  if (cover !== undefined) return coverShot(name, cover);
  if (trace !== undefined) {
    const file = join(folder, `${name}.html`);
    execFileSync(process.execPath, [program, 'trace', join('demo/lineage/shelf', trace), '--out', file, '--yes'], { env, stdio: 'ignore' });
    browserShot(name, `file://${file}`);
    return;
  }
  const site = join(folder, `site-${name}`);
  execFileSync(process.execPath, [program, 'rehearse', join(shelf, theme), ...more, '--out', site, '--yes'], {
    env,
    stdio: 'ignore',
  });
  browserShot(name, `file://${site}/${page}.html`);
}

/** The front pages of the real hosts with a theme fresh from `new`, side by side. */
async function hostsShot(name, hosts) {
  const { describeSite } = await support('sites');
  const pictures = [];
  const mail = await (await support('mailbox')).startMailServer();
  for (const [host, { prepare, home, site, page, more, file = 'lumbre' }] of Object.entries(hosts)) {
    const place = placeAt(join(folder, name, host));
    mkdirSync(place.folder, { recursive: true });
    (await support(host))[prepare](place, host === 'roundcube' ? mail : undefined);
    describeSite(place, site);
    // A page with findings is shown, too.
    const run = (...line) => spawnSync(process.execPath, [program, ...line, '--yes'], { cwd: place.folder, env, stdio: 'ignore' });
    run('new', 'lumbre', '--platform', host, '--kit', 'standard', '--to', place.path(home));
    run('rehearse', place.path(home, file), '--site', site, '--shots', 'shots');
    for (const each of [page, ...(more === undefined ? [] : [more])])
      pictures.push('-label', each === more ? `${host}: ${each}` : host, place.path(`shots/${each}.desktop.png[1280x800+0+0]`));
  }
  await mail.end();
  const sheet = ['-tile', '3x2', '-geometry', '418x262+4+4', '-font', 'DejaVu-Sans', '-pointsize', '14', '-background', '#e8edf1'];
  execFileSync('montage', [...pictures, ...sheet, '-colors', '128', `PNG8:${join(target, `${name}.png`)}`]);
  console.log(`docs/screenshots/${name}.png`);
}

/** A theme as `rehearse --serve` shows it: a page that goes on listening, which a browser by itself would wait for. */
async function servedShot(name, theme, at) {
  const server = spawn(process.execPath, [program, 'rehearse', theme, '--serve', '--port', '8199'], { env, stdio: 'ignore' });
  await sleep(2500);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`http://127.0.0.1:8199/${basename(theme)}/${at}`);
  await sleep(1500);
  await page.screenshot({ path: join(target, `${name}.png`) });
  await browser.close();
  server.kill('SIGINT');
  execFileSync('convert', [join(target, `${name}.png`), '-colors', '128', `PNG8:${join(target, `${name}.png`)}`]);
  console.log(`docs/screenshots/${name}.png`);
}

/** A page in a state that it does not stand, with what was found marked. */
async function markedShot(name, theme) {
  const copy = join(folder, name, basename(theme));
  cpSync(theme, copy, { recursive: true });
  const page = join(copy, 'pages/front.html');
  const faint = '<p class="albar-note" style="color:#9fb4bf;background:#f5f4ef">The hut book lies on the table.</p>';
  writeFileSync(page, readFileSync(page, 'utf8').replace('<h2', `${faint}<h2`));
  spawnSync(process.execPath, [program, 'rehearse', copy, '--shots', join(folder, 'shots'), '--states'], { env, stdio: 'ignore' });
  const marked = join(folder, 'shots/marked');
  const side = ['front.desktop.png', 'front.long-words.phone.png'].map((file) => join(marked, file));
  execFileSync('convert', [
    ...side,
    '-crop',
    'x1400+0+0',
    '+repage',
    '-resize',
    'x800',
    '+append',
    '-background',
    'white',
    '-gravity',
    'west',
    '-extent',
    '1280x800',
    '-colors',
    '128',
    `PNG8:${join(target, `${name}.png`)}`,
  ]);
  console.log(`docs/screenshots/${name}.png`);
}

function coverShot(name, theme) {
  const copy = join(folder, name, basename(theme));
  cpSync(theme, copy, { recursive: true });
  execFileSync(process.execPath, [program, 'cover', copy, '--force', '--yes'], { env, stdio: 'ignore' });
  execFileSync('convert', [join(copy, 'cover.png'), '-strip', '-resize', '1000x', '-colors', '128', `PNG8:${join(target, `${name}.png`)}`]);
  console.log(`docs/screenshots/${name}.png`);
}

function browserShot(name, address) {
  const flags = [
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-sync',
    '--no-first-run',
    '--hide-scrollbars',
  ];
  execFileSync(
    'chromium',
    [
      ...flags,
      '--window-size=1280,800',
      `--user-data-dir=${join(folder, 'profile')}`,
      `--screenshot=${join(target, `${name}.png`)}`,
      address,
    ],
    { stdio: 'ignore' },
  );
  execFileSync('convert', [join(target, `${name}.png`), '-colors', '128', `PNG8:${join(target, `${name}.png`)}`]);
  console.log(`docs/screenshots/${name}.png`);
}

function quote(text) {
  return `'${text.replaceAll("'", `'\\''`)}'`;
}
