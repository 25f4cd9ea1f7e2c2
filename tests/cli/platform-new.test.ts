import { readdirSync, readFileSync, symlinkSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { HUTS, makeBoards } from '../support/boards.ts';
import { Workplace } from '../support/program.ts';
import { kitFiles, platformNamed, writeFiles } from '../support/trees.ts';

const COVER = kitFiles(platformNamed('vereda'), 'paso')['cover.png'] ?? Buffer.alloc(0);

interface Drafted {
  readonly name: string;
  readonly home: string;
  readonly id: { readonly spelling: string };
  readonly recognise: readonly { readonly path: string }[];
  readonly documents: readonly {
    readonly path: string;
    readonly syntax: string;
    readonly fields: readonly { readonly key: unknown; readonly fact: string; readonly type?: string }[];
  }[];
  readonly images?: readonly unknown[];
  readonly templates?: {
    readonly language: unknown;
    readonly files: readonly string[];
    readonly roles: object;
    readonly partials?: { readonly file: string };
  };
  readonly assets?: object;
  readonly inheritance?: object;
}

/** Themes of hosts that nobody has described, and what is to be told from each. */
const HOSTS: readonly (readonly [
  host: string,
  folder: string,
  files: Readonly<Record<string, string | Buffer>>,
  wanted: Partial<Drafted>,
  facts: Readonly<Record<string, string>>,
])[] = [
  [
    'a board with a YAML card and mustache sheets',
    'boards/cierzo',
    {
      'board.yaml': 'name: Cierzo\nrelease: 1.2.0\ntags: [huts]\npins: { max: 12 }\nstamp: cover.png\n',
      'cover.png': COVER,
      'sheets/board.html': '<h1>{{title}}</h1>{{> parts/foot }}\n',
      'sheets/parts/foot.html': '<p>Cierzo</p>\n',
      'board.css': 'p { margin: 0 }\n',
    },
    {
      home: 'boards/{id}',
      recognise: [{ path: 'board.yaml' }],
      templates: {
        language: 'mustache',
        files: ['sheets/**/*.html'],
        roles: { board: { file: 'sheets/board.html' } },
        partials: { file: 'sheets/{path}.html', include: '{{> {path} }}' } as never,
      },
      assets: { 'main-sheet': 'board.css' },
      images: [{ role: 'cover', path: 'cover.png', formats: ['png'], 'min-width': 1200, 'min-height': 900 }],
    },
    { title: 'text', version: 'version', tags: 'list', pinsMax: 'integer', stamp: 'path' },
  ],
  [
    'a skin with a JSON manifest and elements that include',
    'skins/lumbre',
    {
      'skin.json':
        '{ "name": "Lumbre", "author": "Albar Hut League", "license": "MIT", "extends": "albar", "url": "https://lumbre.example/" }\n',
      'pages/login.html': '<include file="parts/head.html" /><p>Lumbre</p>\n',
      'parts/head.html': '<h1>Lumbre</h1>\n',
    },
    { home: 'skins/{id}', recognise: [{ path: 'skin.json' }], inheritance: { kind: 'chain', inherits: ['**'] } },
    { title: 'text', author: 'text', license: 'license', parent: 'parent', homepage: 'url' },
  ],
  [
    'a look with sections and templates that extend',
    'looks/neveron_sur',
    {
      'look.conf': '[look]\ntitle=Neveron Sur\nversion=0.3.0\n\n[options]\nsidebar=left\n',
      'layout.html': '{# the frame #}\n<title>{{ title }}</title>{% block body %}{% endblock %}\n',
      'page.html': '{% extends "layout.html" %}{% include "foot.html" %}\n',
      'foot.html': '<p>Neveron Sur</p>\n',
    },
    { home: 'looks/{id}', id: { spelling: 'snake' } },
    { title: 'text', version: 'version', optionsSidebar: 'text' },
  ],
  [
    'a frame whose XML manifest is named after it',
    'frames/albar',
    {
      'albar.frame.xml': '<frame><label>Albar</label><version>2.0.0</version><look base="plain"/></frame>\n',
      'view.tpl': '{include file="foot.tpl"}{$title}\n',
      'foot.tpl': '{* end *}\n',
    },
    { recognise: [{ path: '*.frame.xml' }] },
    { title: 'text', version: 'version' },
  ],
  [
    'a style that code describes',
    'styles/cierzo',
    {
      'style.php':
        "<?php\n\nreturn [\n  'slug' => 'cierzo',\n  'title' => 'Cierzo',\n  'version' => '1.0.0',\n  'requires' => '>=3',\n];\n",
      'main.phtml': '<p>Cierzo</p>\n',
    },
    { recognise: [{ path: 'style.php' }] },
    { id: 'id', title: 'text', version: 'version', hosts: 'range' },
  ],
];

describe.each(HOSTS)('%s', (_host, folder, files, wanted, facts) => {
  it('is drafted from its files, and the draft is right about them', async () => {
    const place = new Workplace();
    writeFiles(place.path(folder), files);
    expect(await place.run('platform', 'new', folder, '--name', 'hut-host', '--yes')).toMatchObject({ status: 0, stderr: '' });
    const text = readFileSync(place.path('hut-host.platform.yaml'), 'utf8');
    const drafted = parse(text) as Drafted;
    expect(drafted).toMatchObject({ name: 'hut-host', ...wanted });
    const fields = drafted.documents[0]?.fields ?? [];
    expect(Object.fromEntries(fields.map(({ fact, type }) => [fact, type ?? 'text']))).toMatchObject(facts);
    // Each guess says what it was made of.
    for (const line of text.split('\n').filter((each) => each.startsWith('      - { key:'))) expect(line).toMatch(/ # \S/);
    expect(await place.run('platform', 'check', './hut-host.platform.yaml')).toMatchObject({ status: 0 });
    const checked = await place.json('check', folder, '--platform', './hut-host.platform.yaml');
    expect(
      (checked as { findings: { rule: string; severity: string }[] }).findings.filter(
        ({ severity, rule }) => severity === 'error' && rule !== 'parent/missing',
      ),
    ).toEqual([]);
    writeFiles(place.folder, { 'pionero.yaml': 'platform: hut-host.platform.yaml\n' });
    expect(await place.json('check', folder)).toMatchObject({ platform: 'hut-host' });
    const renamed = await place.run(
      'clone',
      folder,
      folder.includes('_') ? 'norte_alto' : 'norte-alto',
      '--to',
      folder.split('/')[0] ?? '',
      '--yes',
    );
    expect([renamed.status, renamed.stderr]).toEqual([0, '']);
  });
});

describe('drafting', () => {
  it('learns from a folder of themes, and measures the file on others', async () => {
    const place = new Workplace();
    makeBoards(place.path('huts'));
    const made = await place.run('platform', 'new', 'huts', '--name', 'huts', '--yes');
    expect([made.status, made.stdout]).toEqual([
      0,
      expect.stringMatching(/✓ It takes 16 of the 16 themes[^]*kit make huts\/\w+ --platform/),
    ]);
    expect(await place.run('platform', 'check', './huts.platform.yaml', 'huts')).toMatchObject({ status: 0 });
    makeBoards(place.path('huts'), ['norte'], (_id, files) => ({ ...files, 'sheets/note.tpl': '{when lit}' }));
    const checked = await place.run('platform', 'check', './huts.platform.yaml', 'huts');
    expect([checked.status, checked.stdout]).toEqual([
      1,
      expect.stringMatching(
        /^✗ \S+ takes 15 of 16 themes[^]*board\.desc: board\.width +16 of 16\n[^]*norte is refused: .*template\/syntax/,
      ),
    ]);
  });

  it('adds to a file what further themes teach, and takes it back', async () => {
    const place = new Workplace();
    makeBoards(place.path('huts'), HUTS.slice(0, 8));
    await place.run('platform', 'new', 'huts', '--name', 'huts', '--yes');
    const before = readFileSync(place.path('huts.platform.yaml'), 'utf8').replace('# one sentence on its themes', '# ours');
    writeFiles(place.folder, { 'huts.platform.yaml': before });
    makeBoards(place.path('more'), HUTS.slice(8), (_id, files) => ({ ...files, 'rules.about': 'x\n' }));
    const tried = await place.run('platform', 'new', 'huts.platform.yaml', 'more', '--dry-run');
    expect([tried.status, tried.stdout, readFileSync(place.path('huts.platform.yaml'), 'utf8')]).toEqual([
      0,
      expect.stringMatching(/^\+ {2}- \{ path: rules\.about \} # 8 of 8$[^]*✓ With these lines it takes 8 of the 8 themes/m),
      before,
    ]);
    expect(await place.json('platform', 'new', 'huts.platform.yaml', 'more', '--yes')).toMatchObject({
      added: ['files: rules.about'],
      refused: [],
      applied: true,
    });
    const after = readFileSync(place.path('huts.platform.yaml'), 'utf8');
    expect([after.includes('# ours'), after.replace('  - { path: rules.about } # 8 of 8\n', '')]).toEqual([true, before]);
    const again = await place.run('platform', 'new', 'huts.platform.yaml', 'more');
    expect([again.status, again.stdout]).toEqual([
      0,
      expect.stringMatching(/^Nothing to add: huts\.platform\.yaml says all that 8 themes teach\.\n✓ It takes 8/),
    ]);
    await place.run('undo', '--yes');
    expect(readFileSync(place.path('huts.platform.yaml'), 'utf8')).toBe(before);
  });

  it('says which lines of the file refuse further themes', async () => {
    const place = new Workplace();
    makeBoards(place.path('huts'), HUTS.slice(0, 8));
    await place.run('platform', 'new', 'huts', '--name', 'huts', '--yes');
    makeBoards(place.path('more'), HUTS.slice(8), (_id, files) => ({
      ...files,
      'pieces/head.tpl': undefined,
      'sheets/front.tpl': '',
      'sheets/note.tpl': '',
    }));
    const { status, stdout } = await place.run('platform', 'new', 'huts.platform.yaml', 'more', '--yes');
    expect([status, stdout]).toEqual([
      1,
      expect.stringMatching(/▲ It takes 0 of the 8 themes[^]*they stay as they are:\n +\d+ +pieces\/head\.tpl +0 of 8 +refuses arista/),
    ]);
  });

  it('makes a first kit of a theme, which makes themes, and takes both back', async () => {
    const place = new Workplace();
    // One of the awkward names is a theme’s already.
    makeBoards(place.path('huts'), [...HUTS, 'cumbre-sur']);
    writeFiles(place.folder, { 'huts/cierzo/.draft': 'x', 'huts/cierzo/art/old.svg~': 'x' });
    symlinkSync('/etc/hosts', place.path('huts/cierzo/art/hosts'));
    const made = await place.run('platform', 'new', 'huts', '--name', 'huts', '--kit', 'huts/cierzo', '--yes');
    expect([made.status, made.stdout]).toEqual([
      0,
      expect.stringMatching(/✓ cierzo makes a kit: 1\d themes made of it, no problems[^]*and the kit kits\/cierzo\.kit\.yaml beside it/),
    ]);
    expect(readdirSync(place.path('kits/cierzo'))).toEqual(['README.md', 'art', 'board.desc', 'cierzo.sheet', 'pieces', 'sheets']);
    expect(readdirSync(place.path('kits/cierzo/art'))).toEqual(['cover.svg']);
    expect(await place.run('platform', 'check', './huts.platform.yaml')).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('1 kit passes its own check (cierzo)') as string,
    });
    expect(await place.run('new', 'nube', '--platform', './huts.platform.yaml', '--to', 'huts', '--yes')).toMatchObject({ status: 0 });
    expect(await place.run('check', 'huts/nube', '--platform', './huts.platform.yaml')).toMatchObject({ status: 0 });
    await place.run('undo', '--yes');
    await place.run('undo', '--yes');
    expect(readdirSync(place.folder).filter((name) => !name.startsWith('.'))).toEqual(['huts']);
  });

  it('shows an entry for a site that only its owner’s words are missing from', async () => {
    const place = new Workplace();
    makeBoards(place.path('huts'));
    await place.run('platform', 'new', 'huts', '--name', 'huts', '--yes');
    const text = readFileSync(place.path('huts.platform.yaml'), 'utf8');
    const entry = text
      .slice(text.indexOf('# sites:'))
      .replaceAll(/^# /gm, '')
      .replace('path/to/site', 'hosts')
      .replace('[BUILDER,', '[sh, -c, "mkdir -p {out}; echo {id} > {out}/index.html; echo {id} > {out}/note.html", sh,');
    writeFiles(place.folder, { 'pionero.yaml': `platform: huts.platform.yaml\n${entry}`, 'hosts/a.txt': 'x\n' });
    expect(await place.run('rehearse', 'huts/albar', '--site', 'mine', '--yes')).toMatchObject({
      status: 0,
      stdout: expect.stringMatching(/front[^]*note/) as string,
    });
  });

  it('takes of several themes what they share', async () => {
    const place = new Workplace();
    writeFiles(place.path('boards/cierzo'), { 'board.yaml': 'name: Cierzo\nrelease: 1.2.0\nmood: calm\n' });
    writeFiles(place.path('boards/Lumbre'), {
      'board.yaml': 'name: Lumbre\nrelease: 2.0.0\n',
      'extra.yaml': 'title: Lumbre\nversion: 1.0.0\n',
    });
    await place.run('platform', 'new', 'boards/cierzo', 'boards/Lumbre', '--name', 'sendero', '--yes');
    const drafted = parse(readFileSync(place.path('sendero.platform.yaml'), 'utf8')) as Drafted;
    expect(drafted.documents.map(({ path, fields }) => [path, fields.map(({ fact }) => fact)])).toEqual([
      ['board.yaml', ['title', 'version']],
    ]);
    expect(drafted.documents[0]?.fields.map((field) => (field as { required?: string }).required)).toEqual(['always', 'always']);
    expect(drafted.id.spelling).toBe('free');
  });

  it.each<[string, string[], number, RegExp]>([
    ['a folder that is not there', ['platform', 'new', 'nowhere', '--yes'], 2, /there is no folder nowhere/],
    ['a folder that says nothing', ['platform', 'new', 'empty', '--yes'], 1, /no file of empty tells it from any other folder/],
    ['a file that is there', ['platform', 'new', 'boards/cierzo', '--name', 'taken', '--yes'], 1, /taken\.platform\.yaml is there already/],
    ['nobody to ask', ['platform', 'new', 'boards/cierzo'], 2, /add --yes/],
    ['a file without themes', ['platform', 'new', 'taken.platform.yaml'], 2, /which themes should taken\.platform\.yaml learn from/],
    ['a file that is none', ['platform', 'new', 'taken.platform.yaml', 'boards/cierzo'], 2, /taken\.platform\.yaml/],
    [
      'a name for a file that has one',
      ['platform', 'new', 'taken.platform.yaml', 'boards', '--name', 'x'],
      2,
      /--name is for a new platform file/,
    ],
    [
      'a kit of another theme',
      ['platform', 'new', 'boards/cierzo', '--name', 'x', '--kit', 'cirzo'],
      2,
      /cirzo is not one of the themes[^]*did you mean “cierzo”/,
    ],
    [
      'a kit whose name is left in what is made of it',
      ['platform', 'new', 'mixed/cierzo', '--name', 'x', '--kit', 'cierzo', '--yes'],
      1,
      /a kit of cierzo would not work: \d+ themes made of it[^]*the kit’s name is left/,
    ],
  ])('stops at %s', async (_what, argv, status, says) => {
    const place = new Workplace();
    writeFiles(place.folder, {
      'empty/a.txt': '\n',
      'boards/cierzo/board.yaml': 'name: Cierzo\nversion: 1.0.0\n',
      'taken.platform.yaml': 'mine\n',
      'mixed/cierzo/board.yaml': 'name: Cierzo\nversion: 1.0.0\n',
      'mixed/cierzo/cierzo.sheet': '.cierzo { color: red }\n',
    });
    const outcome = await place.run(...argv);
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
    expect(readFileSync(place.path('taken.platform.yaml'), 'utf8')).toBe('mine\n');
  });
});
