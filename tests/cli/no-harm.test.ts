import { cpSync, existsSync, readFileSync, renameSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { runTool } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const CONFLICT = '<<<<<<< cierzo\n<p>a</p>\n=======\n<p>b</p>\n>>>>>>> the site\n';

/** A workplace whose shelf is the demo's. */
const demo = () => new Workplace().withShelf();
const shelf = (place: Workplace, path = '') => place.path('demo/shelf', path);

describe('a proof that fails stops the change before anything is written', () => {
  const kit = {
    'kit.yaml': 'pionero: kit/1\nname: parts\ntitle: Parts\nabout: A\ntheme: paso\nparts: { foot: { title: F, files: [main.html] } }\n',
  };
  const head = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
  const paso = { 'sheet.css': head, 'main.html': '<p>x</p>\n' };

  it.each<[string, Record<string, string>, string[], RegExp]>([
    // A translated catalogue of a name that only one id is long enough for: what the platform then does not take.
    [
      'rename',
      { 'demo/shelf/paso/sheet.css': head, 'demo/shelf/paso/main.html': 'x' },
      ['rename', 'demo/shelf/paso', '--title-only', '--title', 'x'.repeat(61)],
      /more than 60|at most 60/,
    ],
    [
      'clone',
      { 'demo/shelf/paso/sheet.css': head, 'demo/shelf/paso/main.html': 'x' },
      ['clone', 'demo/shelf/paso', 'lumbre', '--to', 'demo/shelf', '--title', 'x'.repeat(61)],
      /at most 60/,
    ],
    ['meta set', {}, ['meta', 'set', 'demo/shelf/albar', 'title='], /field\/missing|field\/type|empty/],
    [
      'new',
      Object.fromEntries(
        Object.entries({ ...kit, ...Object.fromEntries(Object.entries(paso).map(([path, text]) => [`paso/${path}`, text])) }).map(
          ([path, text]) => [`kits/parts/${path}`, text],
        ),
      ),
      ['new', 'lumbre', '--platform', 'vereda', '--kit', 'kits/parts', '--without', 'foot', '--to', 'demo/shelf'],
      /main\.html/,
    ],
  ])('%s', async (_name, files, argv, says) => {
    const place = demo();
    writeFiles(place.folder, files);
    const before = snapshot(place.path('demo'));
    for (const last of ['--yes', '--dry-run']) {
      const { status, stdout, stderr } = await place.run(...argv, last);
      expect([status, stdout + stderr]).toEqual([1, expect.stringMatching(says)]);
      expect(stdout).toMatch(/Nothing was written, because the proof failed[^]*--force/);
      expect(snapshot(place.path('demo'))).toEqual(before);
    }
    const result = await place.json(...argv, '--yes');
    expect([result['applied'], (result['newFindings'] as unknown[]).length]).toEqual([false, expect.any(Number)]);
    expect(await place.run(...argv, '--yes', '--force')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/only because of --force/) as string,
    });
    expect(snapshot(place.path('demo'))).not.toEqual(before);
  });

  it('drift --merge and harvest', async () => {
    const place = demo();
    // A site that broke the theme's head, and a parent that lost what its child shows.
    cpSync(shelf(place, 'albar'), place.path('export/albar'), { recursive: true });
    const sheet = readFileSync(shelf(place, 'albar/sheet.css'), 'utf8');
    writeFiles(place.path('export/albar'), { 'sheet.css': sheet.replace('title: ', 'tilte: ') });
    const before = snapshot(shelf(place));
    const harvest = ['harvest', 'export', '--to', 'demo/shelf/albar', '--base', 'demo/shelf/albar'];
    expect(await place.run(...harvest, '--yes')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/This would break albar: 1 new error/) as string,
    });
    expect(snapshot(shelf(place))).toEqual(before);
    await place.run('new', 'cierzo', '--parent', 'demo/shelf/albar', '--take', 'main.html', '--yes', '--force');
    writeFiles(shelf(place, 'albar'), {
      'main.html': readFileSync(shelf(place, 'albar/main.html'), 'utf8').replace('{{{host.head}}}', ''),
    });
    const child = snapshot(shelf(place, 'cierzo'));
    expect(await place.run('drift', 'demo/shelf/cierzo', '--merge', '--yes')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/This would break cierzo/) as string,
    });
    expect(snapshot(shelf(place, 'cierzo'))).toEqual(child);
  });
});

describe('a folder with another name than its theme', () => {
  const files = {
    'sheet.css': '/*---\ntitle: Zirrus\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.laden-wall { color: red }\n.laden-zirrus { margin: 0 }\n',
    'main.html': '<main class="laden-wall" data-zirrus="1">{{{page.content}}} Zirrus</main>\n',
    'hooks.php': '<?php\nfunction laden_zirrus_setup() {}\nfunction laden_menus() {}\n',
    'scripts/laden.js': 'window.laden = 1;\n',
  };

  it.each(['laden-main', 'laden (1)', 'my-copy', 'Laden-1.2.0'])(
    '%s is said by check in one finding, and renamed from its own',
    async (folder) => {
      const place = new Workplace();
      writeFiles(place.path('s', folder), files);
      const { findings } = (await place.json('check', `s/${folder}`, '--platform', 'vereda')) as {
        findings: { rule: string; message: string }[];
      };
      const other = findings.filter(({ rule }) => !['id/grammar', 'asset/unused', 'image/missing'].includes(rule));
      expect(other.map(({ rule, message }) => `${rule} ${message}`)).toEqual([
        `identifier/own-name this folder is called “${folder}”, and the theme calls itself “laden”`,
      ]);
      const outcome = await place.run(
        'clone',
        `s/${folder}`,
        'wolke',
        '--title',
        'Hohe Wolken',
        '--to',
        's',
        '--platform',
        'vereda',
        '--yes',
      );
      expect([outcome.status, outcome.stdout]).toEqual([0, expect.stringMatching(/the theme calls itself laden/)]);
      const text = (path: string) => readFileSync(place.path('s/wolke', path), 'utf8');
      // A title of two words never goes into one token: its words do, as the place joins them.
      expect(text('hooks.php')).toBe('<?php\nfunction wolke_hohe_wolken_setup() {}\nfunction wolke_menus() {}\n');
      expect(text('sheet.css')).toMatch(/title: Hohe Wolken\n[^]*\.wolke-wall [^]*\.wolke-hohe-wolken /);
      expect(text('main.html')).toBe('<main class="wolke-wall" data-hohe-wolken="1">{{{page.content}}} Hohe Wolken</main>\n');
      expect(text('scripts/wolke.js')).toBe('window.wolke = 1;\n');
    },
  );

  it('is offered --was, filled in, and can get the theme’s name', async () => {
    const place = new Workplace();
    writeFiles(place.path('s/lumbre'), files);
    const rename = async (...argv: string[]) => place.run('rename', 's/lumbre', ...argv, '--platform', 'vereda', '--yes');
    expect((await rename()).stderr).toMatch(/the theme calls itself laden[^]*pionero rename lumbre --was laden/);
    expect((await rename('--was', 'neveron')).stderr).toMatch(/nothing in .*lumbre is called neveron[^]*--was laden/);
    expect(await rename('laden')).toMatchObject({ status: 0 });
    expect(readFileSync(place.path('s/laden/hooks.php'), 'utf8')).toBe(files['hooks.php']);
    renameSync(place.path('s/laden'), place.path('s/lumbre'));
    expect(await rename('lumbre')).toMatchObject({ status: 0 });
    expect(readFileSync(place.path('s/lumbre/hooks.php'), 'utf8')).toMatch(/function lumbre_menus/);
  });

  it.each([
    ['it is used as well', { 'scripts/cierzo.js': 'x();\n' }],
    [
      'the title alone says another',
      { 'sheet.css': files['sheet.css'].replaceAll('laden', 'hut'), 'hooks.php': '', 'scripts/laden.js': '', 'main.html': '<p></p>' },
    ],
  ])('is none where %s', async (_why, more) => {
    const place = new Workplace();
    writeFiles(place.path('s/cierzo'), { ...files, ...more });
    expect((await place.run('check', 's/cierzo', '--platform', 'vereda')).stdout).not.toMatch(/own-name/);
  });
});

it('a folder of themes is no theme to be completed', async () => {
  const place = demo();
  const before = snapshot(place.folder);
  const outcome = await place.runIn('demo/shelf', 'new', '--here', '--platform', 'vereda', '--yes');
  expect([outcome.status, outcome.stderr]).toEqual([1, expect.stringMatching(/this folder holds themes \(albar, [^]*leave --here out/)]);
  expect(snapshot(place.folder)).toEqual(before);
});

it('conflict marks are errors to check, pack, install, rehearse and submit', async () => {
  const place = demo();
  writeFiles(shelf(place, 'albar'), { 'pages/front.html': CONFLICT });
  writeFiles(place.path('site/themes'), { '.keep': '' });
  for (const argv of [['check'], ['pack', '--yes'], ['install', '--to', 'site', '--yes'], ['rehearse'], ['submit', '--dry-run', '--yes']]) {
    const [command = '', ...more] = argv;
    const { status, stdout, stderr } = await place.run(command, 'demo/shelf/albar', ...more);
    expect([command, status === 0, stdout + stderr]).toEqual([command, false, expect.stringMatching(/conflict is not decided|catalogue/)]);
  }
  expect(existsSync(place.path('site/themes/albar'))).toBe(false);
});

describe('work that was done here since', () => {
  /** A theme in a repository, exported, and changed on both sides while its version stayed. */
  const place = (): Workplace => {
    const made = demo();
    const git = (...argv: string[]) =>
      runTool('git', ['-c', 'user.name=a', '-c', 'user.email=a@hut.example', ...argv], { cwd: shelf(made, 'albar') });
    git('init', '-q');
    git('add', '-A');
    git('commit', '-q', '-m', 'First');
    cpSync(shelf(made, 'albar'), made.path('export/albar'), { recursive: true, filter: (path) => !path.endsWith('.git') });
    return made;
  };
  const add = (made: Workplace, at: string, line: string, isFirst = false) => {
    const path = made.path(at, 'styles/print.css');
    const old = existsSync(path) ? readFileSync(path, 'utf8') : '';
    writeFiles(made.path(at), { 'styles/print.css': isFirst ? `${line}\n${old}` : `${old}${line}\n` });
  };

  it.each([false, true])('is not removed by a harvest of the same version (committed: %s)', async (isCommitted) => {
    const made = place();
    add(made, 'demo/shelf/albar', '.own-work { color: red }', true);
    if (isCommitted)
      runTool('git', ['-c', 'user.name=a', '-c', 'user.email=a@hut.example', 'commit', '-qam', 'Own', '--allow-empty'], {
        cwd: shelf(made, 'albar'),
      });
    add(made, 'export/albar', '.of-owner { color: blue }');
    const outcome = await made.run('harvest', 'export', '--to', 'demo/shelf/albar', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([0, expect.stringMatching(/from albar \(commit [0-9a-f]{10}\)/)]);
    const sheet = readFileSync(shelf(made, 'albar/styles/print.css'), 'utf8');
    expect([sheet.includes('.own-work'), sheet.includes('.of-owner')]).toEqual([true, true]);
  });

  it('is a conflict where nobody knows what was put on the site', async () => {
    const made = demo();
    cpSync(shelf(made, 'albar'), made.path('export/albar'), { recursive: true });
    add(made, 'demo/shelf/albar', '.own-work { color: red }');
    const outcome = await made.run('harvest', 'export', '--to', 'demo/shelf/albar', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([
      1,
      expect.stringMatching(/Nobody knows what was put on the site[^]*--base demo\/shelf\/albar/),
    ]);
    expect(readFileSync(shelf(made, 'albar/styles/print.css'), 'utf8')).toMatch(/<<<<<<< albar\n\.own-work \{ color: red \}\n=======/);
  });
});

it('a path with the theme in it, its shape and its file change together', async () => {
  const place = new Workplace();
  writeFiles(place.folder, {
    'own.platform.yaml':
      'pionero: platform/1\nname: own\ntitle: Own\nsummary: S\nreleases: ["1"]\nhome: themes/{id}\nid: { pattern: "^[a-z]+$", grammar: letters }\nrecognise: [{ path: hut.json }]\npackage: { formats: [zip] }\ndocuments: [{ path: hut.json, syntax: json, required: always, fields: [{ key: title, fact: title }, { key: cover, fact: cover, type: path, shape: "/srv/{id}/{path}" }] }]\n',
    's/albar/hut.json': '{ "title": "Albar", "cover": "/srv/albar/albar/albar.script" }\n',
    's/albar/albar/albar.script': 'x\n',
  });
  expect(await place.run('clone', 's/albar', 'lumbre', '--to', 's', '--platform', 'own.platform.yaml', '--yes')).toMatchObject({
    status: 0,
  });
  expect(readFileSync(place.path('s/lumbre/hut.json'), 'utf8')).toMatch('"/srv/lumbre/lumbre/lumbre.script"');
  expect(existsSync(place.path('s/lumbre/lumbre/lumbre.script'))).toBe(true);
  // What “platform check” refuses, every command refuses, with its place.
  const wrong = readFileSync(place.path('own.platform.yaml'), 'utf8').replace(
    'fact: cover,',
    'fact: cover, required-when: { fact: nothing, is: x },',
  );
  writeFiles(place.folder, { 'own.platform.yaml': wrong });
  for (const argv of [
    ['platform', 'check', 'own.platform.yaml'],
    ['check', 's/albar', '--platform', 'own.platform.yaml'],
    ['clone', 's/albar', 'paso', '--platform', 'own.platform.yaml', '--yes'],
  ])
    expect(await place.run(...argv)).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/own\.platform\.yaml:10:\d+[^]*no field carries the fact “nothing”/) as string,
    });
});

it('what a rename was asked to take in and is nowhere is no success', async () => {
  const place = demo();
  const clone = async (...argv: string[]) => place.run('clone', 'demo/shelf/albar', 'lumbre', '--to', 'demo/shelf', '--dry-run', ...argv);
  expect(await clone('--include', 'licnse')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--include licnse matches nothing[^]*did you mean “licence”\?/) as string,
  });
  expect((await clone('--keep', 'nowhere-at-all')).stdout).toMatch(/--keep nowhere-at-all matches nothing/);
});

it('rules that are not run from here are mentioned', async () => {
  const place = demo();
  writeFiles(shelf(place), { 'pionero.yaml': 'rule-files: [house/rules.mjs]\n', 'house/rules.mjs': 'export default [];\n' });
  expect((await place.run('check', 'demo/shelf/albar')).stdout).toMatch(
    /The rules in demo\/shelf\/house\/rules\.mjs are not run: .*works in demo\/shelf; run it there/,
  );
});
