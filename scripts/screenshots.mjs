// Takes the pictures in docs/screenshots/: real commands, run on the demo data in a real terminal window under Xvfb.
// Needs Debian's xvfb, xterm, imagemagick and zip; the page pictures need chromium, and those of real hosts
// python3-sphinx, roundcube-core, php-cli and php-sqlite3.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { placeAt, support } from './hosts.mjs';

const DISPLAY = ':97';
const program = resolve('dist/pionero.js');
const target = resolve('docs/screenshots');
const only = process.argv[2];

/** What is shown, and what is run before it, unseen. */
const SHOTS = [
  { name: 'new', line: 'pionero new cierzo --platform vereda --parent albar --shelf shelf --title "Refugio Cierzo" --yes' },
  { name: 'check', line: 'pionero check shelf | head -46' },
  { name: 'check-fix', line: 'pionero check shelf/cornisa --fix --yes | head -32' },
  { name: 'clone', line: 'pionero clone shelf/albar cumbre-sur --yes | tail -46' },
  { name: 'rename', before: 'pionero clone shelf/albar oak --to shelf --yes', line: 'pionero rename shelf/oak sol --yes | tail -44' },
  {
    name: 'kit-parent',
    shelf: 'demo/shelves/cordada',
    line: 'pionero kit list --shelf shelf --parent albar; pionero new cierzo --platform cordada --parent albar --shelf shelf --kit moderno --without readme --take page --yes',
  },
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
  { name: 'pack', before: 'pionero clone shelf/albar-noche lumbre --to shelf --yes', line: 'pionero pack shelf/lumbre' },
  {
    name: 'rehearse',
    before: 'pionero new cierzo --platform vereda --parent albar --shelf shelf --yes',
    line: 'pionero rehearse cierzo; echo; pionero undo --yes',
  },
];
SHOTS.push(
  { name: 'platform', line: 'pionero platform show cordada | head -46' },
  {
    name: 'meta-set',
    before: 'pionero new cierzo --platform tramo --vendor Wardens --to . --yes',
    line: 'pionero meta set Wardens/cierzo title="Rock & Ice" version=1.2.0 --yes; pionero meta show Wardens/cierzo',
  },
);
SHOTS.push({
  name: 'safe',
  before:
    '{ pionero clone shelf/albar lumbre --to shelf --yes; mkdir -p albar/.git; cp shelf/albar/sheet.css shelf/albar/main.html albar/; echo x > albar/.git/config; zip -qry tools.zip albar; rm -r albar/.git; ln -s ../.. albar/up; zip -qry links.zip albar; rm -r albar; pionero meta set shelf/lumbre version=2.4.0 --yes; }',
  line: 'pionero clone tools.zip cierzo --yes --quiet; echo; pionero clone links.zip neveron --yes; echo; pionero undo --list; echo; pionero undo 2 --yes',
});
SHOTS.push({
  name: 'review',
  before: 'pionero clone shelf/albar core --to shelf --yes',
  line: 'pionero rename shelf/core lumbre --review',
  asks: true,
});
/** What docs/sites.md describes, with nothing run before it but `new`. */
SHOTS.push({
  name: 'site',
  site: { host: 'sphinx', change: [/folder: docs /, 'folder: site '] },
  before: 'pionero new lumbre --platform sphinx --kit standard --yes',
  line: `pionero rehearse lumbre --site handbook --yes; echo '{% include "beds.html" %}' >> lumbre/layout.html`,
  next: 'pionero rehearse lumbre --site handbook',
});
const PAGES = [
  { name: 'page-trace', trace: 'cierzo' },
  { name: 'page-sheet', theme: 'albar-noche', page: 'index' },
  { name: 'page-sphinx', host: 'sphinx', home: 'site/_themes' },
  { name: 'page-roundcube', host: 'roundcube', home: 'site/skins' },
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

async function terminalShot({ name, before, line, next, asks, site, shelf = 'demo/shelf' }) {
  const place = join(folder, name);
  cpSync(shelf, join(place, 'shelf'), { recursive: true });
  if (site !== undefined) {
    (await support(site.host)).prepareSite(placeAt(place));
    const described = /```yaml\n(sites:[^]*?)```/.exec(readFileSync('docs/sites.md', 'utf8'))[1];
    writeFileSync(join(place, 'pionero.yaml'), described.replace(...site.change));
  }
  const prelude = `pionero() { "${process.execPath}" "${program}" "$@"; }\ncd ${place}\n`;
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

/** A page of the stand-in host, or of a real one with a theme fresh from `new`. */
async function pageShot({ name, theme, page, host, home, trace }) {
  if (trace !== undefined) {
    const file = join(folder, `${name}.html`);
    execFileSync(process.execPath, [program, 'trace', join('demo/lineage/shelf', trace), '--out', file, '--yes'], { env, stdio: 'ignore' });
    browserShot(name, `file://${file}`);
    return;
  }
  if (host === undefined) {
    const site = join(folder, `site-${name}`);
    execFileSync(process.execPath, [program, 'rehearse', join('demo/shelf', theme), '--against', 'parent', '--out', site, '--yes'], {
      env,
      stdio: 'ignore',
    });
    browserShot(name, `file://${site}/${page}.html`);
    return;
  }
  const real = await support(host);
  const place = placeAt(join(folder, name));
  (host === 'sphinx' ? real.prepareSite : real.prepareWebmail)(place);
  const start = ['--platform', host, '--kit', 'standard', '--to', place.path(home), '--yes'];
  execFileSync(process.execPath, [program, 'new', 'lumbre', ...start], { env, stdio: 'ignore' });
  if (host === 'sphinx') {
    real.build(place, 'lumbre');
    browserShot(name, `file://${place.path('built/lumbre/index.html')}`);
    return;
  }
  const server = real.startWebmail(place.path('site'), 'lumbre', 8197);
  await sleep(1000);
  browserShot(name, 'http://127.0.0.1:8197/');
  server.kill();
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
