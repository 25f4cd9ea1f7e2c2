import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

/** A theme for old releases of a host, and what it is made of it for a newer one. */
interface Row {
  readonly platform: string;
  readonly release: string;
  /** The manifest, and how the releases are stated in it. */
  readonly manifest: string;
  readonly hosts: readonly [from: RegExp, old: string, ready: string];
  /** Files as older releases want them. */
  readonly old?: Readonly<Record<string, string>>;
  /** What stands in files afterwards; undefined: the file is gone. */
  readonly ready?: Readonly<Record<string, RegExp | undefined>>;
  /** What a person must decide: the rules. */
  readonly open?: readonly string[];
}

const ROWS: readonly Row[] = [
  {
    platform: 'vereda',
    release: '5',
    manifest: 'sheet.css',
    hosts: [/hosts: .*/, 'hosts: ">=3 <5"\nwebsite: https://albar.example', 'hosts: ">=5 <6"\nhomepage: https://albar.example'],
    old: {
      'hooks.php':
        '<?php\nfunction lumbre_kind() { return host_role(); }\n// host_role() was here before.\nhost_editor_sheet("styles/a.css");\n',
      'pages/entry.html': '<main>{{{page.content}}}<p>{{page.author}}</p>{{! {{page.author}} }}</main>\n',
      'styles/a.css': 'p { margin: 0 }\n',
    },
    ready: {
      'hooks.php': /return host_page_kind\(\); \}\n\/\/ host_role\(\) was here before\.\nhost_editor_sheet/,
      'pages/entry.html': /<p>\{\{page\.byline\}\}<\/p>\{\{! \{\{page\.author\}\} \}\}/,
    },
    open: ['release/changed'],
  },
  {
    platform: 'cordada',
    release: '5.0',
    manifest: 'lumbre.cordada.yaml',
    hosts: [/hosts: .*/, 'hosts: ">=2 <4"\nrelease-line: "3"\ndescription: A hut', 'hosts: ">=4 <6"\nabout: A hut'],
    old: { 'markup/notice.html': '<p>{{page.title}}</p>\n', 'markup/blocks/bell.html': '<b></b>\n', 'markup/front.html': '{{> bell}}\n' },
    ready: {
      'markup/notice.html': undefined,
      'markup/entry.html': /page\.title/,
      'markup/blocks/bell.html': undefined,
      'markup/parts/bell.html': /<b>/,
      'lumbre.cordada.yaml': /^(?![^]*release-line)/,
    },
  },
  {
    platform: 'bloque',
    release: '3',
    manifest: 'bloque.toml',
    hosts: [/hosts = .*/, 'hosts = ">=1 <3"', 'hosts = ">=2 <4"'],
    old: { 'page-blocks/list.html': '<h1>{{page.heading}}</h1>{{#entries}}{{title}}{{/entries}}\n' },
    ready: { 'page-blocks/list.html': undefined, 'pages/list.html': /<h1>\{\{page\.title\}\}/ },
  },
  {
    platform: 'estrato',
    release: '7',
    manifest: 'layer.mjs',
    hosts: [/hosts: .*/, "hosts: '>=5',\n  scripts: ['js/hut.js'],", "hosts: '>=6',\n  scripts: ['js/hut.js'],"],
    old: { 'language/fr.ini': 'welcome = Welcome\n', 'js/hut.js': 'layer.asset("a.css");\n' },
    ready: { 'language/fr.ini': undefined, 'words/fr.ini': /welcome/, 'js/hut.js': /^layer\.file\("a\.css"\)/ },
    open: ['strings/incomplete'],
  },
  {
    platform: 'horquilla',
    release: '5.2',
    manifest: 'about.php',
    hosts: [/'hosts' => .*/, "'hosts' => '>=5.0 <5.2',", "'hosts' => '>=5.1 <5.3',"],
    old: { 'settings.php': '<?php\nlook_option("bell");\n' },
    ready: { 'settings.php': /\noption_of\("bell"\)/ },
  },
  {
    platform: 'tramo',
    release: '2',
    manifest: 'theme.tramo.xml',
    hosts: [/<hosts>.*<\/hosts>/, '<hosts>&gt;=1 &lt;2</hosts>', '<hosts>&gt;=2 &lt;3</hosts>'],
    old: { 'pages/basket.html': '<main>{{{page.content}}}{{{shop.basket}}}</main>\n' },
    ready: { 'pages/basket.html': /\{\{\{shop\.cart\}\}\}/ },
  },
  {
    platform: 'sphinx',
    release: '5.3',
    manifest: 'theme.conf',
    hosts: [/\[theme\]/, '[theme]', '[theme]'],
    old: {
      'layout.html':
        "{% extends 'basic/layout.html' %}\n{% block relbar1 %}<img src=\"{{ pathto('_static/' + logo, 1) }}\">{{ '_static/' + style }}{% endblock %}\n",
    },
    ready: { 'layout.html': /src="\{\{ logo_url \}\}">\{\{ '_static\/' \+ style \}\}/ },
    open: ['release/changed'],
  },
];

/** A theme of the bare kit, as it was for older releases. */
async function oldTheme({ platform, manifest, hosts, old = {} }: Row): Promise<{ place: Workplace; theme: string }> {
  const place = new Workplace();
  const vendor = platform === 'tramo' ? ['--vendor', 'HutLeague'] : [];
  await place.run('new', 'lumbre', '--platform', platform, ...vendor, '--kit', 'bare', '--to', 'shelf', '--yes');
  const theme = platform === 'tramo' ? 'shelf/HutLeague/lumbre' : 'shelf/lumbre';
  const path = place.path(theme, manifest);
  const [from, stated] = hosts;
  writeFileSync(path, readFileSync(path, 'utf8').replace(from, stated));
  writeFiles(place.path(theme), old);
  return { place, theme };
}

describe.each(ROWS)('a theme for older releases of $platform', (row) => {
  const { platform, release, manifest, hosts, ready = {}, open = [] } = row;

  it('is made ready in one step, with what a person must decide, and one undo', async () => {
    const { place, theme } = await oldTheme(row);
    const before = snapshot(place.path('shelf'));
    const dry = (await place.json('upgrade', theme, '--release', release, '--dry-run')) as {
      themes: { open: { rule: string }[]; newFindings: unknown[] }[];
    };
    expect(snapshot(place.path('shelf'))).toEqual(before);
    expect([dry.themes[0]?.open.map(({ rule }) => rule), dry.themes[0]?.newFindings]).toEqual([open, []]);
    await place.run('upgrade', theme, '--release', release, '--yes');
    expect(readFileSync(place.path(theme, manifest), 'utf8')).toContain(hosts[2]);
    const now = snapshot(place.path(theme));
    const gone = Object.keys(ready).filter((path) => ready[path] === undefined);
    expect(gone.filter((path) => now[path] !== undefined)).toEqual([]);
    const wrong = Object.entries(ready).filter(
      ([path, wanted]) => wanted !== undefined && !wanted.test(now[path]?.replace(/^\d+ /, '') ?? ''),
    );
    expect(wrong.map(([path]) => [path, now[path]])).toEqual([]);
    // Once more there is nothing to do, and the release finds no more than what was left.
    const again = (await place.json('upgrade', theme, '--release', release, '--dry-run')) as {
      themes: { changes: unknown[]; range: unknown }[];
    };
    expect(again.themes).toMatchObject([{ changes: [], range: null }]);
    const { findings } = (await place.json('check', theme, '--release', release)) as { findings: { rule: string; severity: string }[] };
    expect(findings.map(({ rule }) => rule)).toEqual(open);
    await place.run('undo', '--yes');
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it('says alone whether it would run there', async () => {
    const { place, theme } = await oldTheme(row);
    const { stdout } = await place.run('check', theme, '--release', release, '--no-cache');
    const { title } = shippedPlatforms().find(({ contract }) => contract.name === platform)?.contract ?? { title: '' };
    expect(stdout).toContain(`(${title} ${release.replace(/\.0$/, '')}, `);
    expect(stdout).toMatch(/✗|▲/);
  });
});

it('every platform with several releases takes a new theme through an upgrade', async () => {
  for (const { contract } of shippedPlatforms().filter(({ contract: { releases } }) => releases.length > 1)) {
    const place = new Workplace();
    const vendor = contract.vendor === undefined ? [] : ['--vendor', 'HutLeague'];
    await place.run('new', 'lumbre', '--platform', contract.name, ...vendor, '--to', 'shelf', '--yes');
    const outcome = await place.run('upgrade', 'shelf', '--release', contract.releases.at(-1) ?? '', '--yes');
    expect([contract.name, outcome.status, outcome.stdout]).toEqual([contract.name, 0, expect.stringMatching(/✓ lumbre needs no change/)]);
  }
});

describe('a shelf', () => {
  it('is made ready with its children, parents first, and one undo', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    const { status, stdout } = await place.run('upgrade', 'demo/shelf', '--release', '5', '--yes');
    expect([status, stdout]).toEqual([
      1,
      expect.stringMatching(
        /✗ albar → Vereda 5: 4 changes, 1 thing to decide\n\n[^]*hooks\.php:35 +host_role\(\) → host_page_kind\(\)[^]*releases +>=2 <5 → >=5 <6\n[^]*no longer runs on 2, 3, 4[^]*To decide[^]*▲ cornisa needs no change for Vereda 5; “pionero check” reports \d+ errors on every release[^]*✓ albar-noche → Vereda 5: 1 change\n[^]*>=3 <5 → >=3 <6/,
      ),
    ]);
    expect(readdirSync(place.path('demo/shelf'))).toEqual(['albar', 'albar-noche', 'cornisa']);
    await place.run('undo', '--yes');
    expect(snapshot(place.path('demo'))).toEqual(before);
  });

  it('tells of a parent that stays behind', async () => {
    const place = new Workplace().withShelf();
    const { stdout } = await place.run('upgrade', 'demo/shelf/albar-noche', '--release', '5', '--dry-run');
    expect(stdout).toMatch(/▲ albar-noche → Vereda 5: 1 change, 1 thing to decide[^]*the parent “albar” is not made for 5/);
  });
});

it.each<[argv: string[], says: RegExp]>([
  [['upgrade', 'demo/shelf/albar'], /for which release of the host\?[^]*Vereda has 2, 3, 4, 5/],
  [['upgrade', 'demo/shelf/albar', '--release', '9'], /does not know the release “9”[^]*it knows 2, 3, 4, 5/],
  [['check', 'demo/shelf/albar', '--release', 'next'], /does not know the release “next”/],
])('%j is told what to do', async (argv, says) => {
  expect(await new Workplace().withShelf().run(...argv)).toMatchObject({ status: 2, stderr: expect.stringMatching(says) as string });
});

it.each<[span: string, hosts: string, isFound: boolean]>([
  ['since: "4"', '>=2 <4', false],
  ['since: "4"', '>=2', true],
  ['until: "3"', '>=4', false],
  ['until: "3"', '>=3', true],
])('names that releases share with %s are looked for in a theme for %s: %s', async (span, hosts, isFound) => {
  const place = new Workplace();
  const identifiers = `identifiers:\n  - { files: ["**/*.php"], declared: 'define_menu("{name}"', shape: "{id:snake}_{name}", ${span}, why: they share a list }\n`;
  writeFiles(place.folder, {
    'own.platform.yaml': `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\n${identifiers}`,
    'shelf/cierzo/sheet.css': `/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: "${hosts}"\n---*/\n`,
    'shelf/cierzo/main.html': '<p>{{page.title}}</p>\n',
    'shelf/cierzo/hooks.php': '<?php\ndefine_menu("huts", 1);\n',
  });
  const { stdout } = await place.run('check', 'shelf/cierzo', '--platform', './own.platform.yaml');
  expect([stdout.includes('hooks.php'), stdout.includes('identifier/prefix')]).toEqual([isFound, isFound]);
});

it.each<[what: string, yaml: string, says: RegExp]>([
  ['an end before the beginning', '{ since: "4", gone: "3", files: [a], written: b, now: c, why: d }', /ends before release 4/],
  [
    'a placeholder of nothing',
    '{ since: "4", files: [a], written: "b({name})", now: "c({path})", why: d }',
    /\{path\} stands in no place of/,
  ],
  ['no files', '{ since: "4", files: [], written: b, why: d }', /changes\.0\.files/],
])('a change with %s is a mistake of the platform file', async (_what, yaml, says) => {
  const place = new Workplace();
  writeFiles(place.folder, { 'own.platform.yaml': `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\nchanges: [${yaml}]\n` });
  expect((await place.run('platform', 'check', './own.platform.yaml')).stderr).toMatch(says);
});
