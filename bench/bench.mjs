// Measures Pionero against what a user would do by hand, in one run. Figures are ratios: below 1 is faster than by hand.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { addRealScripts, makeBigTheme } from './big-theme.mjs';
import { measureScale } from './scale.mjs';
import { typeIn } from './typing.mjs';

const program = 'dist/pionero.cjs';
const rows = [];
const lines = [];
const wanted = process.argv.slice(2);
/** Whether a part of the measurements was asked for; all of them are when none is named. */
const isWanted = (part) => wanted.length === 0 || wanted.includes(part);
/** The middle one of three or more runs. */
const middle = (list) => list.toSorted((x, y) => x - y)[Math.floor(list.length / 2)];

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

if (isWanted('start')) measureStart();
function measureStart() {
  const node = median(process.execPath, ['-e', '0']);
  rows.push({
    what: 'pionero --version',
    against: 'node -e 0',
    ours: median(process.execPath, [program, '--version']),
    theirs: node,
    aim: 1.6,
  });
  rows.push({
    what: 'pionero check (53 files)',
    against: 'node -e 0',
    ours: median(process.execPath, [program, 'check', 'demo/shelf/albar'], 7),
    theirs: node,
    aim: 8,
  });
  const help = execFileSync(process.execPath, [program, '--help'], { encoding: 'utf8' });
  const names = help.slice(help.indexOf('Commands')).match(/^ {2}[a-z]+(?= )/gm);
  // In turns with node's own start: what else the machine does slows both.
  const starts = names.map((name) => {
    const turns = Array.from({ length: 9 }, () => ({
      own: median(process.execPath, [program, name.trim(), '--help'], 1),
      bare: median(process.execPath, ['-e', '0'], 1),
    }));
    return { name: name.trim(), own: middle(turns.map(({ own }) => own)), bare: middle(turns.map(({ bare }) => bare)) };
  });
  const { name: slowest, own: ours, bare } = starts.toSorted((a, b) => b.own / b.bare - a.own / a.bare)[0];
  rows.push({
    what: `the slowest command to start (${slowest} --help, of ${starts.length})`,
    against: 'node -e 0',
    ours,
    theirs: bare,
    aim: 1.6,
  });
  const rehearsal = median(process.execPath, [program, 'rehearse', 'demo/shelf/albar'], 7);
  lines.push(`Rehearsal of albar, all roles: ${Math.round(rehearsal - node)} ms beyond node’s start (aim: 1000)`);
}

if (isWanted('lineage')) measureLineage();
/** A child of 500 files over a chain of four: listing it takes hardly longer than a check of it. */
function measureLineage() {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  const shelf = join(folder, 'shelf');
  const chain = ['albar', 'cierzo', 'lumbre', 'neveron'];
  const env = { ...process.env, XDG_STATE_HOME: join(folder, 'state'), XDG_CACHE_HOME: join(folder, 'cache') };
  const run = (args) => execFileSync(process.execPath, [program, ...args], { stdio: 'ignore', env });
  for (const [i, id] of chain.entries()) {
    const theme = join(shelf, id);
    for (const part of ['pages', 'partials', 'styles', 'pictures']) mkdirSync(join(theme, part), { recursive: true });
    const parent = i === 0 ? '' : `parent: ${chain[i - 1]}\nparent-sheet: before\n`;
    writeFileSync(join(theme, 'sheet.css'), `/*---\ntitle: ${id}\nversion: 1.0.0\nhosts: ">=2"\n${parent}---*/\n`);
    writeFileSync(join(theme, 'main.html'), '<head>{{{host.head}}}</head><body>{{{host.foot}}}</body>\n');
    for (let file = 0; file < 125 * (i + 1); file++) {
      const text = `<p class="hut-${file}">{{page.title}}</p>\n`.repeat(30);
      // Some are there in every theme, most in one.
      const name = file % 3 === 0 ? `part-${file}` : `part-${id}-${file}`;
      writeFileSync(join(theme, 'partials', `${name}.html`), text);
    }
  }
  const child = join(shelf, 'neveron');
  const taken = Array.from({ length: 40 }, (_, i) => `partials/part-lumbre-${i * 9 + 1}.html`);
  run(['override', child, ...taken, '--yes']);
  const theirs = median(process.execPath, [program, 'check', child, '--no-cache'], 5, { env, shell: false });
  for (const name of ['trace', 'drift'])
    rows.push({
      what: `pionero ${name} (500 files, a chain of four)`,
      against: 'pionero check',
      ours: median(process.execPath, [program, name, child], 5, { env }),
      theirs,
      aim: 2,
    });
  rmSync(folder, { recursive: true, force: true });
}

/** A shelf of many small themes, and a program that reads the facts of all of them. */
function manyThemes(themes) {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  for (let i = 0; i < themes; i++) {
    const theme = join(folder, `paso-${i}`);
    mkdirSync(theme);
    const header = `/*---\ntitle: Paso ${i}\nversion: 1.${i}.0\nhosts: ">=2"\ntags: [one, two]\n---*/\n`;
    writeFileSync(join(theme, 'sheet.css'), header + '.paso { color: #123456; margin: 0 auto }\n'.repeat(60));
    writeFileSync(join(theme, 'main.html'), '<h1>{{page.title}}</h1>\n');
  }
  const reader = join(folder, 'read.mjs');
  const source = `import { choosePlatform, Shelves } from ${JSON.stringify(join(process.cwd(), 'dist/core.js'))};
const currentFolder = process.cwd();
const shelves = new Shelves(choosePlatform('vereda', { currentFolder }), [process.argv[2]], currentFolder);
const facts = shelves.list().map((each) => shelves.open(each).facts.length);
if (facts.length !== ${themes} || facts.some((count) => count !== 4)) process.exit(1);
if (process.argv[3]) console.log(Math.round(process.resourceUsage().maxRSS / 1024));
`;
  writeFileSync(reader, source);
  return { folder, reader };
}

if (isWanted('facts')) measureFacts();
function measureFacts() {
  const { folder, reader } = manyThemes(1000);
  const [ours, theirs] = [[], []];
  // In turns: what else the machine does slows both.
  for (let run = 0; run < 9; run++) {
    theirs.push(median('bash', ['-c', `cat ${folder}/*/* > /dev/null`], 1));
    ours.push(median(process.execPath, [reader, folder], 1));
  }
  rows.push({ what: 'facts of 1,000 themes', against: 'cat of their files', ours: middle(ours), theirs: middle(theirs), aim: 10 });
  const memory = execFileSync(process.execPath, [reader, folder, 'memory']).toString().trim();
  rmSync(folder, { recursive: true });
  lines.push(`Memory for the facts of 1,000 themes: ${memory} MiB (aim: 150)`);
}

/** The work by hand: copy, replace three spellings in all files that hold one, rename the files, look once more. */
const BY_HAND = `set -e; cp -a "$1" "$2"; cd "$2"
grep -rlZi albar . | xargs -0 sed -i -e 's/albar/lumbre/g' -e 's/Albar/Lumbre/g' -e 's/ALBAR/LUMBRE/g'
find . -depth -name '*albar*' | while IFS= read -r f; do b=\${f##*/}; mv "$f" "\${f%/*}/\${b//albar/lumbre}"; done
grep -rli albar . || true`;

/** Clones what lies in a folder and does so by hand, in turns, so that whatever else the machine does slows both. */
function measureClone(what, make) {
  const place = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  const source = join(place, 'shelf', 'albar');
  make(source);
  const [ours, theirs] = [[], []];
  let memory = '';
  for (let run = 0; run < 3; run++) {
    theirs.push(timed('bash', ['-c', BY_HAND, 'bash', source, join(place, 'by-hand')]));
    const args = [program, 'clone', source, 'lumbre', '--to', join(place, 'ours'), '--platform', 'vereda', '--yes'];
    const measured = ['-f', '%M', '-o', join(place, 'memory'), process.execPath, ...args];
    ours.push(timed('/usr/bin/time', measured, { XDG_STATE_HOME: join(place, 'state') }));
    memory = `${Math.round(Number(readFileSync(join(place, 'memory'), 'utf8')) / 1024)} MiB`;
    for (const made of ['by-hand', 'ours']) rmSync(join(place, made), { recursive: true });
  }
  rmSync(place, { recursive: true });
  for (const [kind, of] of [
    ['', 'wall'],
    [', processor time', 'processor'],
  ]) {
    const [own, other] = [ours, theirs].map((list) => middle(list.map((each) => each[of])));
    rows.push({
      what: `clone of ${what}, proved${kind}`,
      against: 'cp + grep + sed + mv + grep',
      ours: own,
      theirs: other,
      aim: of === 'wall' ? 1 : 1.5,
    });
  }
  lines.push(`Memory for the clone of ${what}: ${memory} (aim: 250)`);
}

if (isWanted('clone')) {
  for (const [files, megabytes] of [
    [1000, 10],
    [5000, 50],
    [20000, 200],
  ])
    measureClone(`${files} files (${megabytes} MB)`, (root) => makeBigTheme(root, files, megabytes * 1e6));
}
if (isWanted('links')) {
  measureClone('3000 files and 80000 links', (root) => {
    makeBigTheme(root, 3000, 12e6, ['html', 'css', 'png']);
    for (let i = 0; i < 80_000; i++) {
      const folder = join(root, 'links', `part-${i % 400}`);
      if (i < 400) mkdirSync(folder, { recursive: true });
      symlinkSync(`../../part-${i % 40}/set-${i % 7}/file-${i % 3000}.css`, join(folder, `${i % 20 === 0 ? 'albar-' : ''}link-${i}`));
    }
  });
}

/** Only makes the archive, as the common program does: decides what goes in, deflates, writes. */
const WRITE_ONLY = `import { closeSync, openSync, writeSync } from 'node:fs';
import { beginPackage, openThemeFolder, planPackage, writePackage } from ${JSON.stringify(join(process.cwd(), 'dist/core.js'))};
const { theme } = openThemeFolder(process.argv[2], { platform: 'vereda', currentFolder: process.cwd() });
const plan = planPackage(theme);
const begun = beginPackage(plan);
const file = openSync(process.argv[3], 'w');
await writePackage(plan, async (part) => void writeSync(file, part), begun);
closeSync(file);
await begun?.end();
`;

/**
 * Packs what lies in a folder, alone and with its check and the reading back, and does so by hand, in turns.
 * @param make makes the theme in a folder
 * @param aim of the whole, by wall time
 */
function measurePack(what, make, aim) {
  const place = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  make(join(place, 'albar'));
  writeFileSync(join(place, 'write.mjs'), WRITE_ONLY);
  const [whole, alone, theirs] = [[], [], []];
  let sizes = [0, 0];
  for (let run = 0; run < 3; run++) {
    theirs.push(timed('bash', ['-c', 'cd "$1" && zip -q -r -6 by-hand.zip albar', 'bash', place]));
    alone.push(timed(process.execPath, [join(place, 'write.mjs'), join(place, 'albar'), join(place, 'alone.zip')]));
    // Without --force: a theme with errors would be checked twice.
    const args = [program, 'pack', join(place, 'albar'), '--platform', 'vereda', '--out', join(place, 'ours.zip'), '--quiet'];
    whole.push(timed('/usr/bin/time', ['-f', '%M', '-o', join(place, 'memory'), process.execPath, ...args]));
    sizes = ['ours.zip', 'by-hand.zip'].map((made) => statSync(join(place, made)).size);
    for (const made of ['by-hand.zip', 'alone.zip', 'ours.zip']) rmSync(join(place, made));
  }
  const memory = Math.round(Number(readFileSync(join(place, 'memory'), 'utf8')) / 1024);
  rmSync(place, { recursive: true });
  for (const { done, times, wanted } of [
    { done: 'the archive made', times: alone, wanted: 0.6 },
    // The common program does neither.
    { done: 'checked, made and read back', times: whole, wanted: aim },
  ])
    for (const [kind, of] of [
      ['', 'wall'],
      [', processor time', 'processor'],
    ]) {
      const [own, other] = [times, theirs].map((list) => middle(list.map((each) => each[of])));
      rows.push({
        what: `pack of ${what}, ${done}${kind}`,
        against: 'zip -r -6',
        ours: own,
        theirs: other,
        aim: of === 'wall' ? wanted : '',
      });
    }
  lines.push(`Memory for that pack, ${what}: ${memory} MiB (aim: 250)`);
  lines.push(`Its size against that of zip -r -6: ${((100 * sizes[0]) / sizes[1] - 100).toFixed(1)} % (aim: within 2 %)`);
}
if (isWanted('pack')) {
  const pictures = ['css', 'png', 'jpg', 'js', 'png', 'jpg', 'html', 'png', 'jpg', 'jpg'];
  const big = '20,000 files (200 MB), ';
  measurePack(`${big}three texts to two pictures`, (root) => makeBigTheme(root, 20_000, 200e6), 1);
  measurePack(`${big}three texts to seven pictures`, (root) => makeBigTheme(root, 20_000, 200e6, pictures), 1);
  measurePack(
    '20,000 files, among them 3,000 scripts and 2,000 JSON files as people write them',
    (root) => {
      makeBigTheme(root, 15_000, 150e6, ['css', 'html', 'png', 'jpg']);
      addRealScripts(root, 3000, 2000);
    },
    2,
  );
}

let checkMemory = '';
/** Checks what lies in a folder and reads it by hand, in turns, with everything in the system's memory. */
function measureCheck(what, folder, themes) {
  const args = [
    '-f',
    '%M',
    '-o',
    join(folder, '..', 'memory'),
    process.execPath,
    program,
    'check',
    ...themes,
    '--platform',
    'vereda',
    '--quiet',
  ];
  const cat = ['-c', `find ${folder} -type f -print0 | xargs -0 cat > /dev/null`];
  const times = { ours: [], theirs: [] };
  for (let run = 0; run < 4; run++) {
    times.theirs.push(timed('bash', cat).wall);
    times.ours.push(timed('/usr/bin/time', args).wall);
  }
  checkMemory += ` ${Math.round(Number(readFileSync(join(folder, '..', 'memory'), 'utf8')) / 1024)} MiB`;
  // The first run warms up.
  const [own, other] = [times.ours, times.theirs].map((list) => middle(list.slice(1)));
  return { what, against: 'cat of the files', ours: own, theirs: other, aim: 10 };
}

/** Where the time of a check goes, by a program of its own that does the same one step after the other. */
function partsOfCheck(folder) {
  const source = `import { openThemeFolder, ruleDefaults, RULES } from ${JSON.stringify(join(process.cwd(), 'dist/core.js'))};
const parts = { 'starting node and loading the program': process.uptime() * 1000 };
const measure = (part, work) => {
  const start = performance.now();
  const result = work();
  parts[part] = (parts[part] ?? 0) + performance.now() - start;
  return result;
};
const { theme, chain, shelves } = measure('listing the files', () => openThemeFolder(${JSON.stringify(folder)}, { platform: 'vereda', currentFolder: process.cwd() }));
measure('reading the texts', () => theme.tree.entries.forEach((entry) => theme.source(entry.path)));
const made = new Map();
const once = (make) => (made.has(make) ? made : made.set(make, make(theme))).get(make);
for (const rule of RULES) {
  const family = rule.meta.id.split('/')[0];
  const group = ['asset', 'text', 'image'].includes(family) ? \`rules \${family}/*\` : 'all other rules';
  measure(group, () => [...(rule.check?.({ theme, chain, shelves, releases: [], options: ruleDefaults(rule.meta), excluded: [], purpose: 'install', once }) ?? [])]);
}
console.log(JSON.stringify(parts));
`;
  const file = join(folder, '..', 'parts.mjs');
  writeFileSync(file, source);
  const parts = Object.entries(JSON.parse(execFileSync(process.execPath, [file]).toString()));
  rmSync(file);
  const whole = parts.reduce((sum, [, ms]) => sum + ms, 0);
  return parts.map(([part, ms]) => `| ${part} | ${ms.toFixed(0)} ms | ${((100 * ms) / whole).toFixed(0)} % |`).join('\n');
}

if (isWanted('check')) {
  const place = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  const one = join(place, 'shelf', 'albar');
  const small = join(place, 'small', 'albar');
  for (const [folder, files] of [
    [one, 5000],
    [small, 1000],
  ])
    makeBigTheme(folder, files, files * 20_000, ['css', 'png', 'jpg', 'html', 'png', 'jpg']);
  const large = measureCheck('check of 5000 files (100 MB)', one, [one]);
  const theirs = 5 * measureCheck('check of 1000 files (20 MB)', small, [small]).ours;
  rows.push(large, { ...large, against: 'five of 1000 files', theirs, aim: 1 });
  lines.push(`Where the time of a check of 5000 files goes:\n\n| part | time | share |\n|---|---|---|\n${partsOfCheck(one)}\n`);
  const shelf = join(place, 'many');
  const themes = Array.from({ length: 200 }, (_, i) => join(shelf, `paso-${i}`));
  for (const theme of themes) makeBigTheme(theme, 50, 400_000);
  rows.push(measureCheck('check of 200 themes of 50 files', shelf, themes));
  lines.push(`Memory for the checks:${checkMemory} (aim: 300)`);
  rmSync(place, { recursive: true });
}

if (isWanted('typing')) {
  const place = mkdtempSync(join(tmpdir(), 'pionero-bench-'));
  const theme = join(place, 'shelf', 'albar');
  makeBigTheme(theme, 5000, 50_000_000);
  const check = median(process.execPath, [program, 'check', theme], 5);
  const typed = await typeIn(program, place, join(theme, 'main.html'), (text) => `${text}{{> nowhere}}\n`, 12);
  const ours = middle(typed.latencies);
  rows.push({
    what: 'a keystroke in a theme of 5,000 files, until it is judged',
    against: 'a whole check',
    ours,
    theirs: check,
    aim: 0.05,
  });
  lines.push(`The slowest of these keystrokes: ${Math.round(Math.max(...typed.latencies))} ms (aim: 100)`);
  lines.push(`Memory of the server, with all of the theme judged: ${Math.round(typed.memory / 1024)} MiB (aim: 300)`);
  rmSync(place, { recursive: true });
}

if (isWanted('scale')) {
  const measured = measureScale(program);
  rows.push(...measured.rows);
  lines.push(...measured.lines);
}

/** Wall and processor time of one run, in milliseconds. */
function timed(command, args, env = {}) {
  // The writes that the run before left to the disk must not slow this one.
  execFileSync('sync');
  const script = 'TIMEFORMAT="%R %U %S"; time "$@" > /dev/null';
  const { status, stderr } = spawnSync('bash', ['-c', script, 'bash', command, ...args], { env: { ...process.env, LC_ALL: 'C', ...env } });
  if (status !== 0) throw new Error(`${command} failed with ${status}: ${stderr.toString()}`);
  const [wall = 0, user = 0, system = 0] = stderr.toString().trim().split('\n').at(-1).split(' ').map(Number);
  return { wall: 1000 * wall, processor: 1000 * (user + system) };
}

console.log(
  `node ${process.version}, ${cpus().length} cores, commit ${execFileSync('git', ['rev-parse', '--short', 'HEAD']).toString().trim()}\n`,
);
console.log('| what | against | ratio | aim |\n|---|---|---|---|');
for (const { what, against, ours, theirs, aim } of rows) {
  console.log(`| ${what} (${ours.toFixed(0)} ms) | ${against} (${theirs.toFixed(0)} ms) | ${(ours / theirs).toFixed(2)} | ${aim} |`);
}
console.log(`\n${lines.join('\n')}`);
