// Tries the program on the releases of Node.js that people have: `node scripts/releases.mjs [--tests]`. The built package is run by all of
// them with one node_modules; with --tests, the demo and the tests of the interface run on the current lines, too.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { delimiter, dirname, join, resolve } from 'node:path';
import { stripVTControlCharacters } from 'node:util';

/** The oldest that is supported, the one before the next line, and the lines that came after. */
const RELEASES = ['20.19', '20.20', '22', '24'];
const TESTED = ['22', '24'];

const root = resolve(import.meta.dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'pionero-releases-'));
let failed = 0;
const quietly = (command, args, options = {}) => spawnSync(command, args, { encoding: 'utf8', maxBuffer: 1 << 28, ...options });
const expectOk = (what, { status, signal, stdout, stderr, error }) => {
  if (status === 0) return console.log(`✓ ${what}`);
  failed += 1;
  console.log(`✗ ${what}: ${error?.message ?? signal ?? `status ${status}`}\n${stdout ?? ''}${stderr ?? ''}`);
};

try {
  const npm = ['--no-audit', '--no-fund', '--loglevel=error', '--ignore-scripts'];
  // The package “node” fetches this one when it is installed.
  const binary = `node-${process.platform}-${process.arch}`;
  const nodes = new Map();
  for (const release of RELEASES) {
    const home = join(folder, `node-${release}`);
    mkdirSync(home);
    writeFileSync(join(home, 'package.json'), '{}');
    const installed = quietly('npm', ['install', `${binary}@${release}`, ...npm], { cwd: home });
    const node = join(home, `node_modules/${binary}/bin/node`);
    const version = quietly(node, ['--version']);
    expectOk(`Node.js ${release} is installed: ${version.stdout?.trim()}`, installed.status === 0 ? version : installed);
    if (version.status === 0) nodes.set(release, node);
  }
  // As it is installed: packed, without the sources, and with what it depends on.
  const packed = quietly('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder], { cwd: root });
  const [{ filename } = {}] = packed.status === 0 ? JSON.parse(packed.stdout) : [];
  const user = join(folder, 'user');
  mkdirSync(user);
  writeFileSync(join(user, 'package.json'), '{ "type": "commonjs" }');
  expectOk('the package is installed', quietly('npm', ['install', join(folder, String(filename)), ...npm], { cwd: user }));
  const program = join(user, 'node_modules/pionero/dist/pionero.cjs');
  const asked = `const { checkTheme, openThemeFolder } = require('pionero');
    const { theme, chain, shelves } = openThemeFolder(${JSON.stringify(join(root, 'demo/shelf/albar'))}, { currentFolder: '/' });
    if (theme.text('title') !== 'Albar' || checkTheme(theme, chain, shelves).findings.length !== 0) process.exit(1);`;
  const env = { ...process.env, XDG_CACHE_HOME: join(folder, 'cache'), XDG_STATE_HOME: join(folder, 'state'), NO_COLOR: '1' };
  // In turns, twice: what one release left must not be taken by another.
  for (const turn of [1, 2])
    for (const [release, node] of nodes) {
      expectOk(
        `${release}, turn ${turn}: check`,
        quietly(node, [program, 'check', join(root, 'demo/shelf/albar'), '--no-cache'], { env, cwd: user }),
      );
      const warned = quietly(node, ['-e', asked], { env, cwd: user });
      expectOk(`${release}, turn ${turn}: require('pionero')`, warned);
    }
  const tested = TESTED.filter((each) => nodes.has(each));
  if (process.argv.includes('--tests'))
    for (const [i, release] of tested.entries()) {
      const path = [dirname(nodes.get(release)), process.env.PATH].join(delimiter);
      const own = { ...process.env, PATH: path, PIONERO_BUILT: '1', PIONERO_WITHOUT: 'all' };
      expectOk(`${release}: demo`, quietly(nodes.get(release), ['dist/pionero.cjs', 'demo'], { cwd: root, env }));
      // Together they run all of them: what differs between releases differs in many tests.
      const part = `--shard=${i + 1}/${tested.length}`;
      const ran = quietly(nodes.get(release), ['node_modules/vitest/vitest.mjs', 'run', 'tests/cli', part], { cwd: root, env: own });
      const told = /^ *Tests .*$/m.exec(stripVTControlCharacters(ran.stdout ?? ''))?.[0].trim() ?? 'none ran';
      expectOk(`${release}: the tests of the interface (${told})`, ran);
    }
} finally {
  rmSync(folder, { recursive: true, force: true });
}
console.log(failed === 0 ? 'Every release runs it.' : `${failed} failed.`);
process.exitCode = failed === 0 ? 0 : 1;
