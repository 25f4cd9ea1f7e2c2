import { appendFileSync, chmodSync, cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { licenseText } from '../../src/core/licenses/license-texts.ts';
import { runTool } from '../support/needs.ts';
import { DEMO_SHELF, Workplace } from '../support/program.ts';
import { kitFiles, platformNamed, snapshot, writeFiles } from '../support/trees.ts';

/** A repository of forty themes of one platform, `hut-01` to `hut-40`. */
function fortyThemes(): Workplace {
  const place = new Workplace();
  for (let i = 1; i <= 40; i++) {
    const id = `hut-${String(i).padStart(2, '0')}`;
    writeFiles(place.path('themes', id), kitFiles(platformNamed('vereda'), id));
  }
  return place;
}

function git(place: Workplace, ...args: string[]) {
  return runTool('git', ['-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@lumbre.example', ...args], { cwd: place.folder });
}

const BROKEN = '<p>{{> nowhere}}</p>\n';

interface Report {
  readonly summary: { errors: number; warnings: number; known: number; themes: number };
  readonly findings: { rule: string; path: string; line: number; message: string }[];
  readonly around?: { id: string; standsFor: string[]; findings: unknown[] }[];
}

async function report(place: Workplace, ...argv: string[]): Promise<Report> {
  return JSON.parse((await place.run('check', ...argv, '--format', 'json')).stdout) as Report;
}

describe('what the next commit holds', () => {
  it('is checked in its place: before the first commit all of it, then what it brings', async () => {
    const place = fortyThemes();
    git(place, 'init');
    expect((await place.run('check', '--staged')).stdout).toBe('Nothing is staged: a commit would change nothing.\n');
    const front = place.path('themes/hut-07/pages/front.html');
    writeFiles(place.path('themes/hut-07/pages'), { 'front.html': BROKEN });
    git(place, 'add', '.');
    // Mended in the folder, and not in what is committed.
    writeFileSync(front, '<p>Hut</p>\n');
    expect(await place.run('check')).toMatchObject({ status: 0 });
    const first = await place.run('check', '--staged');
    expect([first.status, first.stdout]).toEqual([
      1,
      expect.stringMatching(/themes\/hut-07\/pages\/front\.html\n[^]*template\/partial[^]*40 themes: 39/),
    ]);
    git(place, 'commit', '-m', 'huts');
    // Broken in the folder, and mended in what is committed: only a part of the work is staged.
    git(place, 'add', 'themes/hut-07');
    appendFileSync(front, BROKEN);
    writeFiles(place.path('themes/hut-09/pages'), { 'front.html': BROKEN });
    const second = await place.run('check', '--staged');
    expect([second.status, second.stdout]).toEqual([0, expect.stringMatching(/^1 file staged: 1 of 40 themes can be affected/)]);
    // What was committed before is not told again, though a file beside it is staged.
    git(place, 'add', 'themes/hut-09');
    git(place, 'commit', '-m', 'broken');
    appendFileSync(place.path('themes/hut-09/sheet.css'), 'p { margin: 0 }\n');
    git(place, 'add', '.');
    const third = (await place.json('check', '--staged', 'themes/hut-09')) as unknown as Report;
    expect(third.findings).toEqual([]);
  });

  it('is what a hook refuses, also where only some files are committed', async () => {
    const place = fortyThemes();
    git(place, 'init');
    const refusing = `#!/bin/sh\nexec '${process.execPath}' '${join(import.meta.dirname, '../../dist/pionero.cjs')}' check --staged --quiet\n`;
    writeFiles(place.path('.git/hooks'), { 'pre-commit': refusing });
    chmodSync(place.path('.git/hooks/pre-commit'), 0o755);
    git(place, 'add', '.');
    expect(git(place, 'commit', '-m', 'huts')).toMatchObject({ status: 0 });
    writeFiles(place.path('themes/hut-01/pages'), { 'front.html': BROKEN });
    appendFileSync(place.path('themes/hut-02/sheet.css'), 'p { margin: 0 }\n');
    git(place, 'add', '.');
    expect(git(place, 'commit', '-m', 'all').status).toBe(1);
    expect(git(place, 'commit', '-m', 'one', 'themes/hut-02/sheet.css').status).toBe(0);
  });

  it.each([['--fix'], ['--watch'], ['--since', 'HEAD']])('does not go with %s', async (...argv) => {
    expect(await new Workplace().run('check', '--staged', ...argv)).toMatchObject({ status: 2 });
  });
});

describe('one theme of many', () => {
  /** Three of the forty lack a partial, one of them twice. */
  function withMistakes(configuration: string): Workplace {
    const place = fortyThemes();
    for (const id of ['hut-01', 'hut-02', 'hut-03'])
      writeFiles(place.path('themes', id, 'pages'), { 'front.html': id === 'hut-03' ? BROKEN + BROKEN : BROKEN });
    writeFileSync(place.path('pionero.yaml'), configuration);
    return place;
  }
  const accept = (...more: string[]): string =>
    `accept:\n${more.map((each) => `  - { rule: template/partial, reason: made at build time, ${each} }\n`).join('')}`;

  it.each<[what: string, entries: string[], left: string[]]>([
    ['by its id', ['theme: hut-01'], ['hut-02', 'hut-03', 'hut-03']],
    ['by a glob of ids', ['theme: "hut-0[12]"'], ['hut-03', 'hut-03']],
    ['by its path from the file', ['theme: themes/hut-02, file: "pages/*.html"'], ['hut-01', 'hut-03', 'hut-03']],
    ['several, each up to a number', ['theme: [hut-02, hut-03], most: 1'], ['hut-01', 'hut-03']],
    ['in every theme, where none is named', ['file: pages/front.html'], []],
  ])('is accepted from outside %s', async (_what, entries, left) => {
    const { findings } = await report(withMistakes(accept(...entries)));
    expect(findings.map(({ path }) => path.split('/')[1])).toEqual(left);
  });

  it('what none of them needs is told once, at its line, when all were checked', async () => {
    const place = withMistakes(accept('theme: "hut-0?"', 'theme: hut-40'));
    const unused = ({ findings }: Report) => findings.map(({ rule, path, line }) => `${rule} ${path}:${line}`);
    expect(unused(await report(place))).toEqual(['accept/unused pionero.yaml:3']);
    expect(unused(await report(place, 'themes/hut-40'))).toEqual([]);
    expect(unused(await report(place, 'themes'))).toEqual([]);
    writeFileSync(place.path('pionero.yaml'), `${accept('theme: "hut-*"', 'theme: hut-40')}rules: { accept/unused: off }\n`);
    expect(unused(await report(place))).toEqual([]);
  });

  it('a baseline that the configuration names leaves out what it knows, and says how much', async () => {
    const place = withMistakes('');
    await place.run('check', '--baseline-out', 'known.json');
    writeFileSync(place.path('pionero.yaml'), 'baseline: known.json\n');
    writeFiles(place.path('themes/hut-04/pages'), { 'front.html': BROKEN });
    const { status, stdout } = await place.run('check');
    expect([status, stdout]).toEqual([
      1,
      expect.stringMatching(
        /✓ hut-01 .*: nothing new; 1 known\n[^]*✗ hut-04[^]*· 4 known findings are not shown: known\.json knows them\.\n$/,
      ),
    ]);
    expect((await report(place, 'themes/hut-03')).summary).toMatchObject({ errors: 0, known: 2 });
    expect((await place.runIn('themes/hut-03', 'check')).stdout).toMatch(/2 known findings are not shown: .*known\.json knows them/);
  });

  it.each<[what: string, files: Record<string, string>, says: RegExp]>([
    [
      'in the configuration',
      { 'pionero.yaml': 'rules: { asset/mising: off }\n' },
      /^✗ 40 themes cannot be checked: hut-01, .*\npionero\.yaml\n {2}1:\d+ +✗ there is no rule “asset\/mising”/,
    ],
    [
      'in a rule of one’s own',
      {
        'pionero.yaml': 'rule-files: [own.mjs]\n',
        'own.mjs': `export default {
  meta: { id: 'hut/bell', severity: 'warning', summary: 'No bell', why: 'Guests ring.', messages: { none: 'no bell' }, example: { none: 'x' } },
  *check({ theme }) {
    if (theme.bell.rope) yield { message: 'none', file: '' };
  },
};\n`,
      },
      /^✗ 40 themes cannot be checked: .*\nown\.mjs\n {2}4:\d+ +✗ hut\/bell failed: .*rope.*\n +│ +if \(theme\.bell\.rope\)/,
    ],
  ])('one mistake %s is one finding, with its line', async (_what, files, says) => {
    const place = fortyThemes();
    writeFiles(place.folder, files);
    const { status, stdout } = await place.run('check', '--yes');
    expect([status, stdout]).toEqual([2, expect.stringMatching(says)]);
    expect(stdout.match(/✗/g)).toHaveLength(2);
    const told = await report(place);
    expect([told.around?.map(({ standsFor }) => standsFor.length), told.findings.length]).toEqual([[40], 1]);
  });
});

describe('a license that is set', () => {
  const GPL = licenseText('GPL-2.0-only') ?? '';
  const MIT = licenseText('MIT') ?? '';
  function paso(license: string, text: string | undefined): Workplace {
    const place = new Workplace();
    const sheet = `/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\nauthor: Albar Hut League\nlicense: ${license}\n---*/\n`;
    writeFiles(place.path('paso'), {
      ...kitFiles(platformNamed('vereda'), 'paso'),
      'sheet.css': sheet,
      ...(text === undefined ? {} : { 'LICENSE.txt': text }),
    });
    return place;
  }

  it.each<[text: string | undefined, says: RegExp]>([
    [GPL, /paso has LICENSE\.txt with GPL-2\.0-only: --license-text writes the text of MIT/],
    ['Licensed under the GPL version 2 or later.\n', /paso has LICENSE\.txt with GPL-2\.0-or-later/],
    [undefined, /paso has no license file/],
  ])('is held against the file, which follows it when that is wished', async (text, says) => {
    const place = paso('GPL-2.0-only', text);
    const before = snapshot(place.path('paso'));
    expect((await place.run('meta', 'set', 'paso', 'license=MIT', '--yes')).stdout).toMatch(says);
    await place.run('undo', '--yes');
    expect((await place.run('meta', 'set', 'paso', 'license=MIT', '--license-text', '--yes')).stdout).toMatch(
      /text {2}LICENSE\.txt\n {2}\+ the text of MIT/,
    );
    expect(readFileSync(place.path('paso/LICENSE.txt'), 'utf8')).toMatch(/^MIT License[^]*Albar Hut League/);
    expect((await place.json('check', 'paso'))['findings']).toEqual([]);
    await place.run('undo', '--yes');
    expect(snapshot(place.path('paso'))).toEqual(before);
  });

  it.each<[what: string, license: string, text: string, found: string[]]>([
    ['a heading over another text', 'GPL-2.0-only', `MIT License\n\n${GPL}`, ['heading']],
    ['a text of another license', 'MIT', `MIT License\n\n${GPL}`, ['other']],
    ['a note that names another', 'MIT', 'Licensed under the GPL version 2 or later.\n', ['note']],
    ['the heading of its own text', 'MIT', MIT, []],
    ['a note that names it otherwise', 'GPL-2.0-only', 'Licensed under the GPL version 2 or later.\n', []],
  ])('%s is found where it disagrees', async (_what, license, text, found) => {
    const { findings } = (await paso(license, text).json('check', 'paso')) as { findings: { rule: string; code: string }[] };
    expect(findings.filter(({ rule }) => rule === 'license/text').map(({ code }) => code)).toEqual(found);
  });
});

it('options that had another name go on working under it', async () => {
  const place = new Workplace().withShelf();
  writeFiles(place.path('site/themes'), { '.keep': '' });
  expect(await place.run('install', 'demo/shelf/albar', '--into', 'site', '--yes')).toMatchObject({ status: 0 });
  expect(existsSync(place.path('site/themes/albar/sheet.css'))).toBe(true);
  for (const [side, asked] of [
    ['ours', '--take'],
    ['mine', '--side'],
  ] as const)
    expect((await place.run('drift', 'demo/shelf/albar-noche', '--merge', asked, side, '--yes')).status).toBe(0);
  expect((await place.run('drift', 'demo/shelf/albar-noche', '--merge', '--take', 'nobody')).stderr).toMatch(
    /--side does not take this value; allowed: mine, parent/,
  );
  const { stdout } = await place.run('install', '--help');
  expect([stdout.includes('--into'), stdout.includes('--to <DIR>')]).toEqual([false, true]);
});

it.each<[argv: string[], has: string[], lacks: string[]]>([
  [
    ['meta', 'set'],
    ['Usage: pionero meta set <changes> [themes...] [options]', '--license-text', 'meta set license=MIT'],
    ['--from', 'meta bump'],
  ],
  [['meta', 'sync'], ['--from <FILE>'], ['--license-text']],
  [['kit', 'make'], ['--part <NAME=GLOB,GLOB>', '--dry-run'], ['--all']],
  [
    ['kit', 'list'],
    ['--all', '--parent <ID>'],
    ['--dry-run', '--part'],
  ],
  [['platform', 'show'], ['pionero platform show cordada'], ['--kit', '--yes']],
])('help on %j has its own options and no others', async (argv, has, lacks) => {
  const { stdout } = await new Workplace().run(...argv, '--help');
  expect([has.filter((each) => !stdout.includes(each)), lacks.filter((each) => stdout.includes(each))]).toEqual([[], []]);
});

it('an option of another action is refused, with whose it is', async () => {
  expect(await new Workplace().withShelf().run('meta', 'show', 'demo/shelf/albar', '--from', 'x')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--from is not an option of “meta show”; it belongs to “meta sync”/) as string,
  });
});

it('a readme that is written says what the theme needs, and how it is brought to a host', async () => {
  const place = new Workplace();
  cpSync(DEMO_SHELF, place.path('shelf'), { recursive: true });
  rmSync(place.path('shelf/albar/README.md'));
  for (const id of ['albar', 'albar-noche']) await place.run('pack', `shelf/${id}`, '--write', '--yes', '--out', `${id}.zip`);
  expect(readFileSync(place.path('shelf/albar-noche/README.md'), 'utf8')).toMatch(
    /## What it needs\n\n- Vereda >=3 <5\n- the theme albar, which it builds on\n\n## To install it\n\n1\. Upload albar-noche\.zip under .*\n2\. Activate/,
  );
});
