// Changes one small thing in the core at a time and sees whether a test notices. Usage: npm run mutants -- FOLDER... [COUNT] [SEED]
// With --again LOG only those are tried that survived in an earlier run, whose output LOG is.
// Each mutant is tried in a copy of the sources: first with the core tests that import its folder, then with those of the
// interface that run in this process. Each is printed with its place, and with the test that noticed it.
import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { transform } from 'esbuild';

const numbers = process.argv.slice(2).filter((word) => /^\d+$/.test(word));
const folders = process.argv.slice(2).filter((word, i, words) => !/^\d+$|^--again$/.test(word) && words[i - 1] !== '--again');
const COUNT = Number(numbers[0] ?? 150);
const SEED = Number(numbers[1] ?? 1);

/** Each mutation: the text to change, and the new text. None of them can be a matter of layout or of types alone. */
const CHANGES = [
  [/(?<=[\s(])===(?=\s)/g, '!=='],
  [/(?<=[\s(])!==(?=\s)/g, '==='],
  [/ && /g, ' || '],
  [/ \|\| /g, ' && '],
  [/ >= /g, ' > '],
  [/ <= /g, ' < '],
  [/ < (?=[\w(])/g, ' <= '],
  [/ > (?=\d|[a-z])/g, ' >= '],
  [/ \+ (?=\w)/g, ' - '],
  [/ - (?=\w)/g, ' + '],
  [/ \+= /g, ' -= '],
  [/(?<=[=(:,?] ?)true\b/g, 'false'],
  [/(?<=[=(:,?] ?)false\b/g, 'true'],
  [/!(?=[a-z(])/g, ''],
  [/(?<=\(|, |= )0(?=[,);])/g, '1'],
  [/(?<=[[( +-])1(?=[\]); ,])/g, '2'],
  [/\.slice\(0, -1\)/g, ''],
  [/\.toLowerCase\(\)/g, ''],
  [/\.trim\(\)/g, ''],
  [/\.sort\([^()]*\)/g, ''],
  [/\bsome\(/g, 'every('],
  [/\bevery\(/g, 'some('],
  [/\bstart\b(?=[,)\s;}+-])/g, 'end'],
  [/(?<=\breturn )(?!undefined|true|false)[^;\n]{3,120}(?=;\n)/g, 'undefined as never'],
  [/(?<=\? )(?!undefined\b)[^?:;\n]{2,60}(?= : )/g, 'undefined as never'],
  [/^ {4,}(?:continue|break|return);\n/gm, ';\n'],
];

/** Stretches without code: comments, strings, patterns, imports and types. */
const NO_CODE =
  /\/\*[^]*?\*\/|\/\/[^\n]*|'(?:[^'\\\n]|\\.)*'|"(?:[^"\\\n]|\\.)*"|(?<=[(=,:!&|?{}\s])\/(?![/*\s])(?:[^/\\\n[]|\\.|\[(?:[^\]\\\n]|\\.)*\])+\/[dgimsuvy]*|^import [^;]*;|^(?:export )?(?:interface|type) [^]*?\n(?:\}|[^\n]*;)\n|\): [^{=\n]+(?=\{|=>)/gm;

let state = SEED;
const random = (below) => (state = (state * 1103515245 + 12345) % 2147483648) % below;

function mutantsOf(file) {
  const text = readFileSync(file, 'utf8');
  const closed = [...text.matchAll(NO_CODE)].map((match) => [match.index, match.index + match[0].length]);
  return CHANGES.flatMap(([pattern, replacement]) =>
    [...text.matchAll(pattern)].flatMap((match) => {
      const start = match.index;
      if (closed.some(([from, to]) => from <= start && start < to)) return [];
      return [{ file, line: text.slice(0, start).split('\n').length, before: match[0], after: replacement, start }];
    }),
  );
}

const files = folders.flatMap((folder) =>
  readdirSync(join('src/core', folder), { recursive: true })
    .filter((name) => name.endsWith('.ts'))
    .map((name) => join('src/core', folder, name)),
);
if (files.length === 0) {
  console.error('Usage: npm run mutants -- FOLDER... [COUNT] [SEED]; folders of src/core, like: package rules documents');
  process.exit(2);
}
const all = files.flatMap(mutantsOf);
const sample = [];
const again = process.argv.indexOf('--again');
if (again > 0) {
  const survived = readFileSync(process.argv[again + 1], 'utf8')
    .split('\n')
    .filter((line) => line.endsWith(': survived'));
  for (const line of survived) {
    const [, file, before, after] = /^(\S+?):\d+ {2}("(?:[^"\\]|\\.)*") → ("(?:[^"\\]|\\.)*"): survived$/.exec(line) ?? [];
    const at = Number(/:(\d+) /.exec(line)?.[1]);
    const same = all.filter((each) => each.file === file && JSON.stringify(each.before) === before && JSON.stringify(each.after) === after);
    const near = same.toSorted((a, b) => Math.abs(a.line - at) - Math.abs(b.line - at))[0];
    if (near !== undefined && !sample.includes(near)) sample.push(near);
  }
} else while (sample.length < COUNT && all.length > 0) sample.push(...all.splice(random(all.length), 1));

/** What takes long, or holds generated files against the sources. */
const SLOW = /hostile|changes\.test|layers|platform\.test|scaffold/;
const coreTests = readdirSync('tests/core')
  .filter((name) => name.endsWith('.test.ts') && !SLOW.test(name))
  .map((name) => join('tests/core', name));
/** Those of the interface that run in this process and reach most of the core. */
const interfaceTests = ['writing', 'templates', 'judging', 'check', 'main-way', 'platforms'].map((name) => `tests/cli/${name}.test.ts`);

/** Those that a room has for itself. */
const OWN_TESTS = {
  lineage: ['lineage', 'following'],
  sites: ['sites', 'installing', 'pages'],
  placing: ['name', 'main-way'],
  rehearsal: ['pages', 'templates'],
};

function testsFor(file) {
  const parts = file.split('/').slice(0, 3);
  const own = OWN_TESTS[parts[2]]?.map((name) => `tests/cli/${name}.test.ts`);
  return [coreTests.filter((test) => readFileSync(test, 'utf8').includes(parts.join('/'))), own ?? interfaceTests];
}

/** The words of a run that was ended, since it took far longer than it does without a change. */
const NO_END = 'no end';

/** @param limit in milliseconds @returns the test that failed, or undefined when all passed */
function run(place, wanted, limit) {
  return new Promise((done) => {
    const args = [resolve('node_modules/vitest/vitest.mjs'), 'run', '--bail=1', '--reporter=dot', '--no-color', ...wanted];
    const env = { ...process.env, CI: '1', PIONERO_WITHOUT: 'all' };
    // A group of its own, so that what it starts ends with it.
    const child = spawn(process.execPath, args, { cwd: place, env, detached: true, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => (said += part));
    let isEnded = false;
    const timer = setTimeout(() => {
      isEnded = true;
      if (child.pid !== undefined) process.kill(-child.pid, 'SIGKILL');
    }, limit);
    child.on('close', (status) => {
      clearTimeout(timer);
      done(isEnded ? NO_END : status === 0 ? undefined : (/ FAIL +([^\n]*)/.exec(said)?.[1] ?? said.trim().slice(-200)));
    });
  });
}

/** Whether a mutant is killed: by a parser, an endless loop, or a test. */
async function isKilled(place, { file, start, before, after }, limit) {
  const text = readFileSync(file, 'utf8');
  const mutated = text.slice(0, start) + after + text.slice(start + before.length);
  const parses = await transform(mutated, { loader: 'ts' }).then(
    () => true,
    () => false,
  );
  if (!parses) return 'no code';
  writeFileSync(join(place, file), mutated);
  try {
    for (const wanted of testsFor(file)) {
      const failed = wanted.length === 0 ? undefined : await run(place, wanted, limit);
      if (failed === NO_END) return NO_END;
      if (failed !== undefined) return `killed by ${failed}`;
    }
    return 'survived';
  } finally {
    writeFileSync(join(place, file), text);
  }
}

/** Places of runs that were killed are cleared away by the next. */
const PLACES = 'pionero-mutants-';
for (const name of readdirSync(tmpdir()).filter((each) => each.startsWith(PLACES))) {
  const id = Number(/^pionero-mutants-(\d+)-/.exec(name)?.[1]);
  if (!Number.isNaN(id) && isRunning(id)) continue;
  rmSync(join(tmpdir(), name), { recursive: true, force: true });
}

function isRunning(id) {
  try {
    process.kill(id, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

const survivors = [];
const counts = new Map();
let next = 0;
async function work() {
  const place = mkdtempSync(join(tmpdir(), `${PLACES}${process.pid}-`));
  try {
    for (const name of readdirSync('.'))
      if (!['node_modules', '.git', 'coverage'].includes(name))
        cpSync(name, join(place, name), { recursive: true, verbatimSymlinks: true });
    symlinkSync(resolve('node_modules'), join(place, 'node_modules'));
    // Tests that fail without any change would kill every mutant.
    // So long they take on this machine, as busy as it is: a change may make them slower, and not endless.
    const began = Date.now();
    const failing = await run(place, [...coreTests, ...interfaceTests], 30 * 60_000);
    if (failing !== undefined) throw new Error(`the tests do not pass as they are: ${failing}`);
    const limit = Math.max(60_000, 4 * (Date.now() - began));
    for (let mutant = sample[next++]; mutant !== undefined; mutant = sample[next++]) {
      const verdict = await isKilled(place, mutant, limit);
      const room = mutant.file.split('/')[2];
      const row = counts.get(room) ?? { killed: 0, survived: 0, ended: 0 };
      counts.set(room, row);
      if (verdict === 'no code') continue;
      if (verdict === 'survived') survivors.push(mutant);
      row[verdict === 'survived' ? 'survived' : verdict === NO_END ? 'ended' : 'killed']++;
      console.log(`${mutant.file}:${mutant.line}  ${JSON.stringify(mutant.before)} → ${JSON.stringify(mutant.after)}: ${verdict}`);
    }
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
}

await Promise.all(Array.from({ length: Math.max(1, Math.min(4, availableParallelism())) }, work));
console.log('| folder | killed | survived | ended after their time |\n|---|---|---|---|');
for (const [room, { killed, survived, ended }] of [...counts].sort(([a], [b]) => (a < b ? -1 : 1)))
  console.log(`| ${room} | ${killed} | ${survived} | ${ended} |`);
const killed = [...counts.values()].reduce((sum, row) => sum + row.killed, 0);
const share = (100 * killed) / Math.max(1, killed + survivors.length);
console.log(`${killed} of ${killed + survivors.length} killed (${share.toFixed(0)} %), seed ${SEED}; aim: 85 %`);
process.exitCode = share >= 85 ? 0 : 1;
