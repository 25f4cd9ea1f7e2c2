// Installs, on Debian, what some tests need besides Node.js and npm: see needs.mjs.
import { spawnSync } from 'node:child_process';
import { NEEDS, missing } from './needs.mjs';

const names = missing();
const packages = [...new Set(names.flatMap((name) => NEEDS[name].packages))];
if (packages.length === 0) console.log('Everything that tests need is here.');
else {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const isRoot = process.getuid?.() === 0;
  const run = (...command) => {
    const [program, ...args] = isRoot ? command : ['sudo', ...command];
    return spawnSync(program, args, { env, stdio: ['ignore', 'ignore', 'inherit'] }).status === 0;
  };
  console.log(`Installing ${packages.join(', ')} …`);
  const isDone = run('apt-get', 'update', '-qq') && run('apt-get', 'install', '-y', '-qq', '--no-install-recommends', ...packages);
  const left = isDone ? names.filter((name) => !NEEDS[name].isThere()) : names;
  for (const name of left) console.error(`✗ ${name} is not here: ${NEEDS[name].what}`);
  process.exitCode = left.length === 0 ? 0 : 1;
}
