// A directory's check of thousands of packages: threads, what is kept from run to run, and whether all mistakes are found and nothing else.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makePackages } from './many-packages.mjs';

/** Checks the packages of a list. @returns milliseconds, and kilobytes of memory at most */
function check(program, place, list, out, ...more) {
  const env = { ...process.env, LC_ALL: 'C', XDG_CACHE_HOME: join(place, 'cache') };
  const line = 'TIMEFORMAT="%R %U %S"; time "$0" "$@" > "$OUT"';
  const args = [process.execPath, program, 'check', '--from-list', list, '--format', 'jsonl', ...more];
  const { stderr } = spawnSync('bash', ['-c', line, ...args], { cwd: place, encoding: 'utf8', env: { ...env, OUT: out } });
  const [wall, user, system] = stderr.trim().split('\n').at(-1).split(' ').map(Number);
  return { wall: 1000 * wall, processor: 1000 * (user + system) };
}

/** How much of what is wrong was found, and how much of what was found is wrong. */
function rightness(truth, report) {
  let [found, missed, others] = [0, 0, 0];
  const lines = readFileSync(report, 'utf8').trim().split('\n').map(JSON.parse);
  for (const [i, { rule }] of truth.entries()) {
    const rules = lines[i].findings.map((finding) => finding.rule);
    if (rule !== null && rules.includes(rule)) found++;
    else if (rule !== null) missed++;
    others += rules.filter((each) => each !== rule).length;
  }
  return { precision: found / (found + others), recall: found / (found + missed) };
}

/** @returns rows and lines of the bench's table */
export function measureScale(program) {
  const place = mkdtempSync(join(tmpdir(), 'pionero-scale-'));
  try {
    const count = 2000;
    const truth = makePackages(join(place, 'packages'), count);
    const list = (name, packages) => {
      writeFileSync(join(place, name), packages.map(({ folder }) => `${folder}\n`).join(''));
      return name;
    };
    mkdirSync(join(place, 'cache'));
    const path = join(process.cwd(), program);
    const [few, all] = [list('few.txt', truth.slice(0, 200)), list('all.txt', truth)];
    const one = check(path, place, all, 'one.jsonl', '--no-cache', '--jobs', '1');
    const every = check(path, place, all, 'every.jsonl', '--no-cache');
    const small = check(path, place, few, 'few.jsonl', '--no-cache', '--jobs', '1');
    check(path, place, all, 'kept.jsonl');
    const kept = check(path, place, all, 'kept.jsonl');
    const { precision, recall } = rightness(truth, join(place, 'every.jsonl'));
    const each = { ours: every.processor / count, theirs: small.processor / 200 };
    return {
      rows: [
        { what: `check of all ${count}, all threads`, against: 'one thread', ours: every.wall, theirs: one.wall, aim: '1/1.8' },
        { what: 'processor time for each of them', against: 'of 200, one thread', ...each, aim: 1.1 },
        { what: `check of the same ${count} once more`, against: 'the first one', ours: kept.wall, theirs: every.wall, aim: 0.5 },
      ],
      lines: [
        // A second thread can win only as much as the first one leaves idle.
        `One thread, with the engine’s own that collect and compile beside it, keeps ${(one.processor / one.wall).toFixed(2)} processors busy`,
        `Precision over ${count}: ${precision.toFixed(3)}, recall ${recall.toFixed(3)}`,
      ],
    };
  } finally {
    rmSync(place, { recursive: true });
  }
}
