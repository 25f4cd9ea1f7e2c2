// Feeds every syntax with documents that are damaged, repeated or nested, and measures the worst. A run can be repeated and
// resumed: document N of a seed is always the same. Usage: npm run fuzz -- [SECONDS for each syntax] [SEED] [FIRST document] [MOST seconds of one]
// Aim: none below 1 MB takes more than 1 s of processor time or 500 MB, none crashes, none is read for ever.
import { fork } from 'node:child_process';
import { findSyntax, syntaxNames } from '../dist/core.js';

const MAX_BYTES = 1_000_000;
const MAX_SECONDS = 1;
const MAX_MEBIBYTES = 500;

const SAMPLES = {
  yaml: [
    'title: Albar\nversion: 1.0.0\ntags: [one, two]\nareas:\n  top: Top\n  side: "Side"\n- x\n',
    '? a\n: |\n  text\n  more\n',
    '&a [*a, {b: c}]\n',
  ],
  json: ['{ "title": "Albar", "tags": ["one", 2, null, true], "more": { "a": 1.5e3 } }', '// note\n{"a": [1, 2,], /* x */ "b": "\\u0041"}'],
  toml: [
    'title = "Albar"\n[pages]\nfront = "Front"\n[[pieces]]\nname = \'x\'\nlist = [1, 2]\n',
    'a.b.c = 1979-05-27T07:32:00Z\nd = """\nx\n"""\n',
  ],
  'key-value': ['# note\ntitle = Albar\nversion=1.0.0\nsheets = a.css b.css\n', 'title: "Albar"\n'],
  ini: ['[Icon Theme]\nName=Albar\nName[es]=Albar\nDirectories=a,b\n[a]\nSize=16\n', '; note\nkey = "value"\n'],
  xml: [
    '<?xml version="1.0"?>\n<theme xmlns="urn:x"><title>Albar</title><follows vendor="A" id="b"/><!-- c --></theme>',
    '<a b="&amp;"><![CDATA[x]]></a>',
  ],
  'comment-header': ['/*---\ntitle: Albar\nversion: 1.0.0\n---*/\n.a { }\n'],
  'header-lines': ['/*\nTitle: Albar\nVersion: 1.0\n*/\n'],
  'comment-tags': ['/*\n * Slides.\n *\n * @theme albar\n * @size 4:3 9px 7px\n */\nsection { color: red }\n/*! @kit */\n'],
  'at-rules': ['/* a */\n@charset "utf-8";\n@import \'ground\' print;\n@import url(b.css);\n\n@media print { a { b: "c" } }\n'],
  po: [
    'msgid ""\nmsgstr ""\n"Language: es\\n"\n"Plural-Forms: nplurals=2;\\n"\n\n#: a.php:3\nmsgctxt "x"\nmsgid "hut"\nmsgid_plural "huts"\nmsgstr[0] "choza"\nmsgstr[1] "chozas"\n',
  ],
  php: [
    "<?php\nreturn ['component' => 'look:albar', 'title' => \"Albar\", 'serial' => 41, 'parents' => ['a', 'b']];\n",
    '<?php\nfunction a() { return array(1, 2); }\nreturn [];\n',
  ],
  javascript: [
    "export default { title: 'Albar', version: '1.0.0', sheets: ['a.css'], commons: [] };\n",
    'const a = { b: `x`, c: -1 };\nexport default a;\n',
  ],
};
const PIECES = [
  ...[
    '"',
    "'",
    '`',
    '\\',
    '/*',
    '*/',
    '//',
    '#',
    ';',
    ':',
    ': ',
    ',',
    '=',
    '\n',
    '\r',
    '\t',
    ' ',
    '\0',
    '\ufeff',
    '\ud800',
    '€',
    '-',
    '- ',
    '? ',
    '|\n',
    '>\n',
    '&a ',
    '*a ',
    '!!map ',
    '%',
  ],
  ...[
    '{',
    '}',
    '[',
    ']',
    '(',
    ')',
    '<',
    '>',
    '{"a":',
    '[{',
    '}]',
    '<a>',
    '</a>',
    '<a b="',
    '<!--',
    '-->',
    '<![CDATA[',
    '&amp;',
    '<!DOCTYPE a [',
    '<!ENTITY b "',
  ],
  ...[
    'a',
    'a: ',
    'a=',
    'a = ',
    '[a]\n',
    '[[a]]\n',
    '"a" = 1\n',
    'a.',
    '1',
    '0x',
    '1e9',
    'true',
    "'a' => ",
    'array(',
    '<?php ',
    '?>',
    '<<<A\n',
    '$a',
    'function a() {',
    'return ',
    'new class {',
    '#[',
    'fn() => ',
  ],
  ...[
    'msgid "',
    'msgstr "',
    'msgstr ""\n',
    'msgid "a"\nmsgstr "b"\n',
    '"x\\n"\n',
    '#~ ',
    'msgctxt "',
    'msgstr[0] "a"\n',
    'export default ',
    'import ',
    '${',
    '=> ',
    'a?',
    'async ',
    'a,',
    '...',
    '/a/',
    '-',
    '!',
    'a+',
    '---*/',
    '/*---\n',
    '---\n',
    '...\n',
    'Title: a\n',
  ],
];

for (const name of syntaxNames())
  if (SAMPLES[name] === undefined) throw new Error(`There is no sample of ${name} in bench/fuzz.mjs: add one.`);

/** A generator of numbers that one document of one seed always gets again. */
function randomOf(seed, index) {
  let state = (seed * 7919 + index * 104_729 + 12_345) % 2_147_483_647;
  const next = () => (state = (state * 48_271) % 2_147_483_647);
  for (let i = 0; i < 3; i++) next();
  return (below) => next() % below;
}

/** Document `index`: a sample that was damaged, a few pieces again and again, or both. */
function documentOf(name, seed, index) {
  const random = randomOf(seed, index);
  const pick = (list) => list[random(list.length)];
  const samples = SAMPLES[name];
  const size = 2 ** random(21);
  const kind = random(4);
  if (kind === 0) {
    let text = pick(samples);
    for (let i = random(12); i >= 0; i--) {
      const at = random(text.length + 1);
      text = text.slice(0, at) + (random(3) === 0 ? '' : pick(PIECES)) + text.slice(at + random(4));
    }
    return text;
  }
  if (kind === 1) {
    const sample = pick(samples);
    return sample.repeat(Math.max(1, Math.floor(Math.min(size, MAX_BYTES) / sample.length)));
  }
  const unit = Array.from({ length: 1 + random(3) }, () => pick(PIECES)).join('');
  const run = unit.repeat(Math.max(1, Math.floor(Math.min(size, MAX_BYTES) / unit.length)));
  if (kind === 2) return run;
  const sample = pick(samples);
  const at = random(sample.length + 1);
  return sample.slice(0, at) + run + sample.slice(at);
}

const OPTIONS = {
  'comment-header': { open: '/*---', close: '---*/', syntax: 'yaml' },
  'header-lines': { open: '/*', close: '*/' },
  'comment-tags': { repeated: ['size'] },
};

/** The other process: reads documents until it is told to stop, or dies of one. */
function readAll(name, seed, first, seconds) {
  const syntax = findSyntax(name);
  const end = Date.now() + seconds * 1000;
  let worst = { seconds: 0, index: first, bytes: 0 };
  let index = first;
  for (; Date.now() < end; index++) {
    const text = documentOf(name, seed, index);
    process.send?.({ at: index, bytes: text.length });
    const before = process.cpuUsage();
    syntax.read(text, OPTIONS[name] ?? {});
    const { user, system } = process.cpuUsage(before);
    const took = (user + system) / 1e6;
    if (took > worst.seconds) worst = { seconds: took, index, bytes: text.length };
  }
  process.send?.({ documents: index - first, worst, mebibytes: process.resourceUsage().maxRSS / 1024 });
}

/** Runs one syntax in a process of its own. */
function fuzz(name, seed, first, seconds) {
  return new Promise((resolve) => {
    const child = fork(process.argv[1], ['--read', name, String(seed), String(first), String(seconds)]);
    let at = { at: first, bytes: 0 };
    let result;
    let since = Date.now();
    // Longer than any document may take: the process hangs in one.
    const guard = setInterval(() => Date.now() - since > 20_000 && child.kill('SIGKILL'), 1000);
    child.on('message', (message) => {
      since = Date.now();
      if ('at' in message) at = message;
      else result = message;
    });
    child.on('exit', () => {
      clearInterval(guard);
      resolve(result ?? { documents: at.at - first, died: at });
    });
  });
}

if (process.argv[2] === '--read') {
  const [, , , name, seed, first, seconds] = process.argv;
  readAll(name, Number(seed), Number(first), Number(seconds));
} else {
  const seconds = Number(process.argv[2] ?? 600);
  const seed = Number(process.argv[3] ?? 1);
  const first = Number(process.argv[4] ?? 0);
  // On a machine that others use, a run can miss the aim for the time by chance: `--late N` allows that many seconds.
  const most = Number(process.argv[5] ?? MAX_SECONDS);
  let wrong = 0;
  console.log('| syntax | documents | worst s | of bytes | document | MiB |\n|---|---|---|---|---|---|');
  for (const name of process.env.ONLY?.split(',') ?? syntaxNames()) {
    const { documents, worst, mebibytes, died } = await fuzz(name, seed, first, seconds);
    const isWrong = died !== undefined || worst.seconds > most || mebibytes > MAX_MEBIBYTES;
    if (isWrong) wrong++;
    const row =
      died === undefined ? [worst.seconds.toFixed(2), worst.bytes, worst.index, Math.round(mebibytes)] : ['died', died.bytes, died.at, '—'];
    console.log(`| ${[name, documents, ...row].join(' | ')} | ${isWrong ? '✗' : ''}`);
  }
  console.log(`${syntaxNames().length} syntaxes, ${seconds} s each, seed ${seed}, from document ${first}: ${wrong} beyond the aim`);
  process.exitCode = wrong === 0 ? 0 : 1;
}
