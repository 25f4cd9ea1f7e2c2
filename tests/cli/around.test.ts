import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parse } from 'yaml';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { configurationJsonSchema, configurationTable } from '../../src/core/rules/engine/configuration-schema.ts';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { optionsOf } from '../../src/cli/describe.ts';
import { manPage } from '../../src/cli/man-page.ts';
import { runTool } from '../support/needs.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

describe('a slip on the command line', () => {
  it.each<[string[], RegExp]>([
    [['lint'], /^✗ unknown command “lint”\.\n {2}→ You may mean “pionero check”/],
    [['list'], /“pionero platform list” or “pionero kit list”/],
    [['init'], /“pionero new”/],
    [['create', 'x'], /“pionero new”/],
    [['chekc'], /^✗ unknown command “chekc”\.\n {2}→ did you mean check\?\n/],
    [['new', 'my', 'theme'], /pionero new my-theme --title "My theme"/],
    [['new', 'lumbre', '--author', 'Albar'], /unknown option “--author”\.\n {2}→ A fact is set with --set author="…"/],
    [['new', 'lumbre', '--colour', 'red'], /unknown option “--colour”\.\n {2}→ “pionero new --help” lists the options\.\n$/],
    [['new', 'lumbre', '--dir', 'themes'], /You may mean --to\./],
    [['pack', 'demo/shelf/albar', '-o', 'x.zip'], /You may mean --out\./],
    [['check', 'demo', '--json'], /You may mean --format json\./],
    [['check', 'demo', '-x'], /“pionero check --help” lists the options/],
    [['pack', 'demo/shelf/albar', '--out'], /^✗ option “--out <FILE>” argument missing\.\n {2}→ “pionero pack --help” says/],
    [['demo', 'x'], /“pionero demo --help” says what it takes/],
    [['diff'], /“pionero drift”/],
    [['rehearse', 'my', 'theme'], /A name with blanks needs quotes: "my theme"/],
    [['meta', 'set', 'demo/shelf/albar', 'title', 'The', 'hut'], /pionero meta set demo\/shelf\/albar title="The hut"/],
    [['meta', 'set', 'demo/shelf/albar', 'titel=Hut'], /did you mean “title”/],
    [['meta', 'sett', 'albar'], /did you mean “set”/],
    [['check', 'demo/shelf/cornis'], /did you mean “demo\/shelf\/cornisa”\?/],
    [['rename', 'demo/shelf/albar/partials/header.html', 'x'], /belongs to the theme albar: name demo\/shelf\/albar/],
    [['cover', 'albar.zip'], /an archive can be given to check, clone, rehearse, install, trace and meta show/],
    [['new', 'frisch', '--parent', 'albr'], /the parent “albr” is in none of the folders[^]*did you mean “albar”/],
    [['--format', 'yaml', 'check', 'demo'], /--format does not take this value; allowed: text/],
    [['check', 'demo/shelf/albar/pages'], /it is inside the theme albar: name demo\/shelf\/albar/],
    [['check', 'demo', '--max-warnings', 'few'], /--max-warnings does not take this value: a whole number is expected/],
    [['check', 'demo', '--jobs', '0'], /--jobs does not take this value: a whole number from 1 on is expected/],
    [['check', 'demo', '--format', 'jsn'], /allowed: text, json, jsonl, sarif, junit, code-quality; did you mean “json”\?/],
    [['pack', 'demo/shelf/albar', '--as', 'rar'], /--as does not take this value; allowed: zip, tar\.gz, whl/],
  ])('%j is told what to do', async (argv, says) => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, { 'albar.zip': 'PK' });
    expect(await place.run(...argv)).toMatchObject({ status: 2, stderr: expect.stringMatching(says) as string });
  });

  it.each([
    [['help'], /^Usage: pionero \[options\]/],
    [['help', 'pack'], /^Usage: pionero pack/],
  ])('%j is help', async (argv, says) => {
    expect(await new Workplace().run(...argv)).toMatchObject({ status: 0, stdout: expect.stringMatching(says) as string });
  });
});

describe('completion', () => {
  const proposed = async (...words: string[]) => proposedIn(new Workplace().withShelf(), ...words);
  const proposedIn = async (place: Workplace, ...words: string[]) => {
    return (await place.run('complete', '--', ...words)).stdout.split('\n').flatMap((line) => line.split('\t')[0] || []);
  };

  it.each<[string[], string[]]>([
    [['cl'], ['clone']],
    [
      ['check', '--since', 'x', 'demo/shelf/alb'],
      ['demo/shelf/albar', 'demo/shelf/albar-noche', ':folder'],
    ],
    [['check', '--form'], ['--format']],
    [['check', '--strict', '--stri'], []],
    [['check', '--shelf', 'x', '--shel'], ['--shelf']],
    [
      ['check', '--format', 'j'],
      ['json', 'jsonl', 'junit'],
    ],
    [
      ['pack', '--as', ''],
      ['zip', 'tar.gz', 'whl'],
    ],
    [['rename', 'x', '--review-also', 'p'], ['path']],
    [
      ['explain', 'partial/'],
      ['partial/circle', 'partial/unused'],
    ],
    [
      ['new', 'x', '--platform', 've'],
      ['vereda', ':file'],
    ],
    [
      ['new', 'x', '--platform', 'cordada', '--kit', 'b'],
      ['bare', ':folder'],
    ],
    [['kit', 'm'], ['make']],
    [
      ['kit', 'check', 'st'],
      ['standard', ':folder'],
    ],
    [['pack', '--out', ''], [':file']],
    [
      ['completion', ''],
      ['bash', 'zsh', 'fish', 'powershell'],
    ],
  ])('of %j', async (words, wanted) => {
    expect(await proposed(...words)).toEqual(wanted);
  });

  it('completes every choice that the program checks', async () => {
    const place = new Workplace();
    for (const { name, load } of COMMANDS) {
      for (const { flag, choices } of optionsOf((await load()).default)) {
        if (choices.length === 0) continue;
        expect([name, flag, await proposedIn(place, name, flag, '')]).toEqual([name, flag, choices]);
        const wrong = await place.run(name, ...(name === 'demo' ? [] : ['x', 'y'].slice(0, 1)), flag, 'no-such');
        expect([name, flag, wrong.status]).toEqual([name, flag, 2]);
      }
    }
  });

  it('works in bash', () => {
    const place = new Workplace().withShelf();
    const script = `pionero() { "${process.execPath}" "${PROGRAM}" "$@"; }\neval "$(pionero completion bash)"
      COMP_WORDS=(pionero check --format ju); COMP_CWORD=3; _pionero; echo "\${COMPREPLY[@]}"
      COMP_WORDS=(pionero rename demo/shelf/alb); COMP_CWORD=2; _pionero 2>/dev/null; printf '%s\\n' "\${COMPREPLY[@]}" | sort`;
    const { stdout } = runTool('bash', ['-c', script], { cwd: place.folder, env: place.env });
    // In which order a folder lists its entries is the file system's own affair.
    expect(stdout.trim().split('\n')).toEqual([
      'junit',
      ...['albar', 'albar', 'albar-noche', 'albar-noche'].map((id) => `demo/shelf/${id}`),
    ]);
  });
});

it('the manual page has every command and option, and is as “npm run docs” makes it', async () => {
  const { version } = JSON.parse(readFileSync('package.json', 'utf8')) as { version: string };
  const page = await manPage(version);
  expect(readFileSync('man/pionero.1', 'utf8')).toBe(page);
  const plain = page.replaceAll('\\-', '-');
  for (const { name, load } of COMMANDS) {
    expect(plain).toContain(`.SS "pionero ${name}"`);
    for (const { flag } of optionsOf((await load()).default)) expect(plain).toContain(flag);
  }
});

describe('pionero.yaml', () => {
  it('has a schema that fits what is read, and a page with every key', () => {
    const schema = configurationJsonSchema();
    expect(JSON.parse(readFileSync('schemas/pionero.schema.json', 'utf8'))).toEqual(schema);
    expect(readFileSync('docs/configuration.md', 'utf8')).toContain('| `rule-files` |');
    for (const row of configurationTable().split('\n').slice(2))
      expect(readFileSync('docs/configuration.md', 'utf8')).toContain(`| ${row.split(' | ')[0]?.slice(2)} |`.slice(0, 12));
    const validate = new Ajv2020({ strict: false }).compile(schema);
    expect(validate(parse('themes: [a/*]\nrules: { asset/unused: { severity: note, ignore: [x] }, house/own: off }\n'))).toBe(true);
    for (const wrong of ['theme: [a]', 'rules: { asset/unused: { ignor: [x] } }', 'rules: { asset/unused: eror }', 'accept: [{ rule: x }]'])
      expect([wrong, validate(parse(wrong))]).toEqual([wrong, false]);
  });

  it.each([
    ['rules: { field/type: eror }', /1:22 .*must be one of "error", "warning", "note", "off"; did you mean “error”\?/],
    ['rules: { field/typ: off }', /1:\d+ there is no rule “field\/typ”; did you mean “field\/type”\?/],
    ['shelfs: [a]', /1:1 “shelfs” is not known here; did you mean “shelves”\?/],
    ['pack: { exclude: x }', /1:18 “pack.exclude” is wrong: expected a list, received a text/],
  ])('%s is told with its place', async (text, says) => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, { 'pionero.yaml': `${text}\n` });
    expect(await place.run('check', 'demo/shelf/albar')).toMatchObject({ status: 2, stderr: expect.stringMatching(says) as string });
  });

  it('knows the platform of the workspace for a theme that lies elsewhere', async () => {
    const place = new Workplace();
    const text = readFileSync('docs/examples/sendero.platform.yaml', 'utf8').replaceAll('sendero', 'ladera');
    writeFiles(place.folder, { 'here/ladera.platform.yaml': text, 'here/pionero.yaml': 'platform: ./ladera.platform.yaml\n' });
    await place.runIn('here', 'new', 'albar', '--kit', join(process.cwd(), 'docs/examples/kits/first'), '--to', '../elsewhere', '--yes');
    // By it the theme would be known anywhere.
    rmSync(place.path('elsewhere/albar/pionero.yaml'));
    const many = await place.runIn('here', 'check', '../elsewhere/albar', '../elsewhere/albar');
    expect([many.status, many.stderr, many.stdout]).toEqual([0, '', expect.stringMatching(/albar \(Sendero, 4 files\)/)]);
    expect(await place.runIn('here', 'clone', '../elsewhere/albar', 'lumbre', '--yes')).toMatchObject({ status: 0, stderr: '' });
    expect((await place.run('meta', 'show', 'elsewhere/albar')).stderr).toMatch(/not recognized as a theme/);
  });

  it('says where each rule was set', async () => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, {
      'pionero.yaml': 'rules:\n  image/size: error\n',
      'demo/pionero.yaml': 'rules: { field/type: off, image/size: note }\n',
    });
    const { stdout } = await place.runIn('demo', 'explain');
    expect(stdout).toMatch(/\d+ rules, 2 of them set here/);
    expect(stdout).toMatch(/field\/type +off +.* \(pionero\.yaml:1\)\n/);
    expect(stdout).toMatch(/image\/size +note +.* \(pionero\.yaml:1\)\n/);
    expect((await place.run('explain', 'image/size')).stdout).toMatch(/^image\/size \(error, set in pionero\.yaml:2\)/);
  });
});

describe('a rule of one’s own', () => {
  const page = readFileSync('docs/configuration.md', 'utf8');
  const module = /```js\n\/\/ house\/rules\.mjs\n([^]*?)```/.exec(page)?.[1] ?? '';
  const settings = /```yaml\n# pionero\.yaml in the folder of all themes\n(rule-files[^]*?)```/.exec(page)?.[1] ?? '';
  const rulesOf = async (place: Workplace, ...argv: string[]) =>
    ((await place.json('check', ...argv)) as { findings: { rule: string; severity: string; hint: string }[] }).findings.map(
      ({ rule, severity, hint }) => `${severity} ${rule}: ${hint}`,
    );

  it('is written as docs/configuration.md has it', async () => {
    const place = new Workplace().withShelf();
    writeFiles(place.path('demo/shelf'), { 'pionero.yaml': settings, 'house/rules.mjs': module });
    expect(await rulesOf(place, 'demo/shelf/albar')).toEqual([]);
    // It is a program: somebody agrees to it, as it is, once.
    const before = await place.runIn('demo/shelf', 'check', 'albar');
    expect([before.status, before.stderr]).toEqual([2, expect.stringMatching(/you have not agreed to run: house\/rules\.mjs[^]*--yes/)]);
    await place.runIn('demo/shelf', 'check', 'albar', '--yes');
    const found = spawnSync(process.execPath, [PROGRAM, 'check', 'albar', '--format', 'json'], {
      cwd: place.path('demo/shelf'),
      env: place.env,
      encoding: 'utf8',
    });
    expect(found.status).toBe(1);
    expect(found.stdout).toMatch(/"house\/readme-contact"[^]*add the line “Write to huts@lumbre\.example”/);
    expect((await place.runIn('demo/shelf', 'explain', 'house/readme-contact')).stdout).toMatch(/\(error, set in pionero\.yaml:2\)/);
    expect((await place.runIn('demo/shelf', 'check', 'albar', '--format', 'sarif')).stdout).toMatch(/"ruleId": "house\/readme-contact"/);
  });

  it('is never run from what a theme brings', async () => {
    const place = new Workplace().withShelf();
    const evil = `import { writeFileSync } from 'node:fs';\nwriteFileSync(${JSON.stringify(place.path('ran'))}, '');\n${module}`;
    writeFiles(place.path('demo/shelf/albar'), {
      'pionero.yaml': 'rule-files: [rules.mjs]\nrules: { house/readme-contact: error }\n',
      'rules.mjs': evil,
    });
    for (const [folder, ...argv] of [
      ['.', 'check', 'demo/shelf'],
      ['demo/shelf/albar', 'check'],
      ['demo/shelf/albar/pages', 'check', '..'],
      ['demo/shelf/albar', 'pack', '--dry-run'],
    ])
      await place.runIn(folder ?? '', ...argv);
    writeFileSync(place.path('demo/shelf/pionero.yaml'), 'rule-files: [albar/rules.mjs]\n');
    const { stderr } = await place.runIn('demo/shelf', 'check', 'albar');
    expect(stderr).toMatch(/a module inside the theme is never run/);
    expect(existsSync(place.path('ran'))).toBe(false);
  });

  it.each([
    ['that is not there', undefined, /there is no file .*rules\.mjs/],
    ['that cannot be loaded', 'export default {', /cannot be loaded/],
    ['that is none', 'export default 7;', /must export a rule, or a list of rules, .*received number/],
    [
      'with an id of another form',
      module.replace('house/readme-contact', 'contact'),
      /default: meta\.id: an id is written like family\/name/,
    ],
    ['that does nothing', module.replace(/\*check\(/, '*chekc('), /a function “check”, “checkText” or “checkFile” is expected/],
    [
      'that fails on a text',
      module.replace('*check({ theme }) {', '*checkText(source, { theme }) {\nsource.nothing.at.all();'),
      /house\/rules\.mjs:11:\d+ house\/readme-contact failed: /,
    ],
    [
      'whose advice says nothing',
      module.replace("text: 'add the line", "say: 'add the line"),
      /house\/rules\.mjs:\d+:\d+ house\/readme-contact failed: its advice has no text/,
    ],
    [
      'that writes to what all rules are given',
      module.replace('*check({ theme }) {', "*check(context) {\ncontext.options.contact = '';\nconst { theme } = context;"),
      /house\/rules\.mjs:11:\d+ house\/readme-contact failed: Cannot add property contact/,
    ],
    ['with a name of ours', module.replace('house/readme-contact', 'field/type'), /has a rule “field\/type”, and so has Pionero/],
    [
      'that fails',
      module.replace("theme.source('README.md')", 'theme.nothing.at.all'),
      /house\/rules\.mjs:11:34 house\/readme-contact failed: .*\n\s*11 │/,
    ],
  ])('%s is told with its place', async (_what, text, says) => {
    const place = new Workplace();
    cpSync('demo/shelf', place.path('demo/shelf'), { recursive: true });
    writeFiles(place.path('demo/shelf'), {
      'pionero.yaml': 'rule-files: [house/rules.mjs]\n',
      ...(text === undefined ? {} : { 'house/rules.mjs': text }),
    });
    const { status, stderr } = await place.runIn('demo/shelf', 'check', '--yes', 'albar');
    expect([status, stderr]).toEqual([2, expect.stringMatching(says)]);
    rmSync(place.path('demo'), { recursive: true });
  });
});
