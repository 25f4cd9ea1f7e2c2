// Installs what some tests need besides Node.js and npm: see needs.mjs. On Debian, and from npm.
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { NEEDS, NPM_HOSTS, missing } from './needs.mjs';

const names = missing();
const [packages, fromNpm] = ['packages', 'npm'].map((kind) => [...new Set(names.flatMap((name) => NEEDS[name][kind] ?? []))]);
if (names.length === 0) console.log('Everything that tests need is here.');
else {
  console.log(`Installing ${[...packages, ...fromNpm].join(', ')} …`);
  const isDone = installDebian() && installNpm();
  const left = isDone ? names.filter((name) => !NEEDS[name].isThere()) : names;
  for (const name of left) console.error(`✗ ${name} is not here: ${NEEDS[name].what}`);
  process.exitCode = left.length === 0 ? 0 : 1;
}

function run([program, ...args], cwd) {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  return spawnSync(program, args, { cwd, env, stdio: ['ignore', 'ignore', 'inherit'] }).status === 0;
}

function installDebian() {
  if (packages.length === 0) return true;
  const aptGet = [...(process.getuid?.() === 0 ? [] : ['sudo']), 'apt-get'];
  return run([...aptGet, 'update', '-qq']) && run([...aptGet, 'install', '-y', '-qq', '--no-install-recommends', ...packages]);
}

/** No script of a package is run. */
function installNpm() {
  if (fromNpm.length === 0) return true;
  mkdirSync(NPM_HOSTS, { recursive: true });
  return run(
    ['npm', 'install', '--prefix', NPM_HOSTS, '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error', ...fromNpm],
    NPM_HOSTS,
  );
}
