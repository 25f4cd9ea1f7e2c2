// Kills the program at random system calls, runs another command, and looks at the disk: everything must be as it was before,
// or as it is after the whole command, and none of our files may be left. Usage: npm run kills -- [COUNT] [SEED]
// With strace each run dies at a call of its own; without it, as on Windows, after a random time.
import { spawnSync } from 'node:child_process';
import { existsSync, lstatSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve, sep } from 'node:path';

const COUNT = Number(process.argv[2] ?? 1000);
const SEED = Number(process.argv[3] ?? 1);
const program = resolve('dist/pionero.cjs');
const hasStrace = spawnSync('strace', ['-V']).status === 0;

/** Calls that change a disk, and some between them. */
const CALLS = 'rename,renameat,renameat2,unlink,unlinkat,rmdir,mkdir,link,symlink,chmod,fchmod,utimensat,fsync,write,pwrite64,openat,close';

let state = SEED;
const random = (below) => (state = (state * 1103515245 + 12345) % 2147483648) % below;

const SHEET = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\nsummary: A hut\n---*/\n.paso { color: #123 }\n';
function makeTheme(folder, more = {}) {
  const files = {
    'sheet.css': SHEET,
    'main.html': '<html><head>{{{host.head}}}</head><body>{{> menu}}<p class="paso">Paso</p>{{{host.foot}}}</body></html>\n',
    'partials/menu.html': '<nav class="paso-nav">menu</nav>\n',
    'hooks.php': '<?php\nfunction paso_setup() {}\n',
    'readme.md': '# Paso\n\nThe theme paso.\n',
    ...more,
  };
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(join(folder, path, '..'), { recursive: true });
    writeFileSync(join(folder, path), text);
  }
}

/** Every kind of command that writes: what is done before, and the command that is killed. */
const SCENARIOS = [
  { name: 'new', line: ['new', 'cierzo', '--platform', 'vereda', '--yes'] },
  { name: 'clone', line: ['clone', 'paso', 'lumbre', '--yes'] },
  { name: 'clone of an archive', before: [['pack', 'paso', '--quiet', '--force']], line: ['clone', 'paso.zip', 'lumbre', '--yes'] },
  { name: 'rename', line: ['rename', 'paso', 'lumbre', '--yes'] },
  { name: 'rename of the title', line: ['rename', 'paso', '--title-only', '--title', 'The Pass', '--yes'] },
  { name: 'meta set', line: ['meta', 'set', 'paso', 'title=Other', 'version=2.0.0', '--yes'] },
  {
    name: 'check --fix',
    files: { 'partials/menu.html': '<nav class="paso-nav">menu</nav>\r\nend\n' },
    line: ['check', 'paso', '--fix', '--yes'],
  },
  { name: 'kit make', line: ['kit', 'make', 'paso', '--yes'] },
  {
    name: 'pack',
    before: [
      ['pack', 'paso', '--quiet', '--force'],
      ['meta', 'set', 'paso', 'version=1.1.0', '--yes'],
    ],
    line: ['pack', 'paso', '--force', '--out', 'paso-1.0.0.zip'],
  },
  { name: 'pack --for submission', line: ['pack', 'paso', '--force', '--for', 'submission', '--yes'] },
  { name: 'cover', line: ['cover', 'paso', '--yes'] },
  {
    name: 'harvest',
    files: { '../export/paso/main.html': '<p>of the site</p>\n', '../export/paso/pages/front.html': '<p>new</p>\n' },
    line: ['harvest', 'export', '--to', 'paso', '--base', 'paso', '--yes', '--force'],
  },
  { name: 'rehearse --out', line: ['rehearse', 'paso', '--out', 'site'] },
  { name: 'undo of new', before: [['new', 'cierzo', '--platform', 'vereda', '--yes']], line: ['undo', '--yes'] },
  { name: 'undo of rename', before: [['rename', 'paso', 'lumbre', '--yes']], line: ['undo', '--yes'] },
  { name: 'undo of meta set', before: [['meta', 'set', 'paso', 'title=Other', '--yes']], line: ['undo', '--yes'] },
];
/** What comes after the kill: something that only reads, from somewhere else in the shelf. */
const NEXT = ['platform', 'list', '--quiet'];

function run(place, line, wrapper = [], limits = {}) {
  const env = {
    ...process.env,
    XDG_STATE_HOME: join(place, '.state'),
    XDG_CONFIG_HOME: join(place, '.config'),
    ...Object.fromEntries(['TMPDIR', 'TEMP', 'TMP'].map((name) => [name, join(place, '.tmp')])),
    NO_COLOR: '1',
    UV_USE_IO_URING: '0',
  };
  const [command, ...args] = [...wrapper, process.execPath, program, ...line];
  // A system under load may start no process at all, which says nothing of the program.
  for (let tries = 1; ; tries++) {
    const outcome = spawnSync(command, args, { cwd: place, env, encoding: 'utf8', ...limits });
    if (outcome.pid > 0 || tries === 5) return { ...outcome, stderr: outcome.stderr ?? String(outcome.error) };
    console.log(`could not be started, and is tried again: ${outcome.error}`);
  }
}

/** All that is in a folder, with slashes. */
const pathsIn = (folder) => readdirSync(folder, { recursive: true }).map((path) => path.replaceAll(sep, '/'));

/** The user's files: what must be old or new. */
function snapshot(place) {
  const found = {};
  for (const path of pathsIn(place)) {
    if (/^\.(?:state|config|tmp)(?:\/|$)/.test(path)) continue;
    const full = join(place, path);
    const stat = lstatSync(full);
    const mode = (stat.mode & 0o777).toString(8);
    found[path] = stat.isDirectory() ? 'folder' : stat.isSymbolicLink() ? readlinkSync(full) : `${mode} ${readFileSync(full, 'latin1')}`;
  }
  return JSON.stringify(Object.entries(found).toSorted(([a], [b]) => (a < b ? -1 : 1)));
}

/** Our files that a kill left behind. */
function strays(place) {
  const journal = join(place, '.state/pionero/journal');
  const names = (folder) => (existsSync(folder) ? pathsIn(folder) : []);
  return [
    ...pathsIn(place).filter((path) => /(?:^|\/)\.pionero-/.test(path) && !path.startsWith('.state')),
    ...names(join(place, '.tmp')),
    ...['pending', 'locks', 'temporary', 'broken'].flatMap((name) => names(join(journal, name))),
  ];
}

function prepare(scenario) {
  const base = mkdtempSync(join(tmpdir(), 'pionero-kills-'));
  const place = join(base, 'place');
  const make = () => {
    rmSync(place, { recursive: true, force: true, maxRetries: 10 });
    mkdirSync(join(place, '.tmp'), { recursive: true });
    makeTheme(join(place, 'paso'), scenario.files);
    for (const line of scenario.before ?? []) {
      const { status, stderr } = run(place, line);
      if (status !== 0) throw new Error(`${scenario.name}: ${line.join(' ')}: ${stderr}`);
    }
  };
  make();
  const kept = join(base, 'kept');
  // The journal knows files by their times, to the microsecond: only a full copy keeps those.
  const canCopy = spawnSync('cp', ['-a', place, kept]).status === 0;
  const reset = () => {
    if (!canCopy) return make();
    rmSync(place, { recursive: true, force: true });
    spawnSync('cp', ['-a', kept, place]);
  };
  const old = snapshot(place);
  const log = join(base, 'log');
  const begun = performance.now();
  const whole = run(place, scenario.line, hasStrace ? ['strace', '-f', '-qq', '-e', `trace=${CALLS}`, '-o', log] : []);
  if (whole.status !== 0) throw new Error(`${scenario.name}: ${whole.stdout}${whole.stderr}`);
  const milliseconds = performance.now() - begun;
  const calls = hasStrace
    ? readFileSync(log, 'utf8')
        .split('\n')
        .flatMap((text) => /^(\d+) +(\w+)\(/.exec(text) ?? [])
    : [];
  const list = [];
  const counts = new Map();
  for (let i = 0; i < calls.length; i += 3) {
    const key = `${calls[i + 1]} ${calls[i + 2]}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
    // Reading modules comes first and changes nothing: what opens and closes there is left out.
    list.push({ call: calls[i + 2], when: counts.get(key) });
  }
  const firstChange = list.findIndex(({ call }) => /^(?:mkdir|link|symlink|rename|fsync|unlink)/.test(call));
  return { base, place, reset, old, made: snapshot(place), calls: list.slice(Math.max(0, firstChange - 5)), milliseconds };
}

/** Runs a command that dies on its way. @returns whether it died */
function runAndKill(place, line, calls, milliseconds) {
  if (calls.length === 0) return spawnAndKill(place, line, milliseconds);
  const { call, when } = calls[random(calls.length)];
  const { signal, status } = run(place, line, [
    'strace',
    '-f',
    '-qq',
    '-o',
    '/dev/null',
    '-e',
    `trace=${CALLS}`,
    '-e',
    `inject=${call}:signal=SIGKILL:when=${when}`,
  ]);
  return signal === 'SIGKILL' || status === 137;
}

/** Nothing happens before the program is loaded. */
function spawnAndKill(place, line, milliseconds) {
  const timeout = Math.round(milliseconds * (0.5 + (random(1000) / 1000) * 0.5));
  return run(place, line, [], { timeout, killSignal: 'SIGKILL' }).signal === 'SIGKILL';
}

const table = [];
let failed = 0;
const prepared = SCENARIOS.map((scenario) => ({ scenario, ...prepare(scenario) }));
const rows = new Map(SCENARIOS.map(({ name }) => [name, { runs: 0, died: 0, old: 0, made: 0, bad: 0 }]));
for (let i = 0; i < COUNT; i++) {
  const { scenario, place, reset, old, made, calls, milliseconds } = prepared[i % prepared.length];
  const row = rows.get(scenario.name);
  reset();
  row.runs++;
  const isDead = runAndKill(place, scenario.line, calls, milliseconds);
  if (isDead) row.died++;
  // Every third time, the command that tidies up is killed as well, at one of the calls that it may come to.
  const isRecoveryKilled = isDead && i % 3 === 2;
  if (isRecoveryKilled)
    runAndKill(
      place,
      NEXT,
      calls.filter(({ when }) => when < 40),
      milliseconds,
    );
  const next = run(place, NEXT);
  const now = snapshot(place);
  const left = strays(place);
  const isOld = now === old;
  const isMade = now === made;
  if (isOld) row.old++;
  else if (isMade) row.made++;
  if ((!isOld && !isMade) || left.length > 0 || next.status !== 0) {
    row.bad++;
    failed++;
    const kept = join(tmpdir(), `pionero-kills-failed-${SEED}-${i}`);
    rmSync(kept, { recursive: true, force: true });
    spawnSync('cp', ['-a', place, kept]);
    console.log(
      `${scenario.name} (run ${i}): ${isOld || isMade ? '' : 'neither old nor new; '}left: ${left.join(', ') || 'nothing'}; next command ${next.status ?? next.signal} ${next.stderr.trim()}; kept in ${kept}`,
    );
  }
}
for (const { base } of prepared) rmSync(base, { recursive: true, force: true, maxRetries: 10 });
for (const [name, row] of rows) table.push({ command: name, ...row });
console.log(`| command | runs | died | old after | new after | wrong |\n|---|---|---|---|---|---|`);
for (const { command, runs, died, old, made, bad } of table) console.log(`| ${command} | ${runs} | ${died} | ${old} | ${made} | ${bad} |`);
console.log(
  `${COUNT} runs, ${hasStrace ? 'each killed at a random system call' : 'each killed after a random time'}, seed ${SEED}: ${failed} wrong`,
);
process.exitCode = failed === 0 ? 0 : 1;
