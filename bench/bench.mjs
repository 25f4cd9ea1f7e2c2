// Measures Pionero against what a user would do by hand, in one run. Figures are ratios: below 1 is faster than by hand.
import { execFileSync, spawnSync } from 'node:child_process';
import { cpus } from 'node:os';

const program = 'dist/pionero.js';
const rows = [];

/** Median wall time of a command in milliseconds. */
function median(command, args, runs = 15, options = {}) {
  const times = [];
  for (let i = 0; i < runs; i++) {
    const start = process.hrtime.bigint();
    const { status } = spawnSync(command, args, { stdio: 'ignore', ...options });
    if (status !== 0) throw new Error(`${command} ${args.join(' ')} failed with ${status}`);
    times.push(Number(process.hrtime.bigint() - start) / 1e6);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)];
}

const node = median(process.execPath, ['-e', '0']);
rows.push({
  what: 'pionero --version',
  against: 'node -e 0',
  ours: median(process.execPath, [program, '--version']),
  theirs: node,
  aim: 1.6,
});
rows.push({
  what: 'pionero check (49 files)',
  against: 'node -e 0',
  ours: median(process.execPath, [program, 'check', 'demo/shelf/albar'], 7),
  theirs: node,
  aim: 8,
});

console.log(
  `node ${process.version}, ${cpus().length} cores, commit ${execFileSync('git', ['rev-parse', '--short', 'HEAD']).toString().trim()}\n`,
);
console.log('| what | against | ratio | aim |\n|---|---|---|---|');
for (const { what, against, ours, theirs, aim } of rows) {
  console.log(`| ${what} (${ours.toFixed(0)} ms) | ${against} (${theirs.toFixed(0)} ms) | ${(ours / theirs).toFixed(2)} | ${aim} |`);
}
