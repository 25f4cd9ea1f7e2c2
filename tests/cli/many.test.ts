import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { REPORT_NAMES } from '../../src/cli/report-streams.ts';
import { positionsIn } from '../../src/cli/shards.ts';
import { DiskCache } from '../../src/core/files/disk-cache.ts';
import { CheckCache } from '../../src/core/rules/engine/check-cache.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { makeSymlink, need, runTool } from '../support/needs.ts';
import { DEMO_SHELVES, PROGRAM, Workplace } from '../support/program.ts';
import { kitFiles, platformNamed, writeFiles } from '../support/trees.ts';

const FRONT = 'pages/front.html';
const WRONG = '<p>{{> nowhere}}</p>\n';

/** A folder with the demo’s themes of all platforms, vendors’ folders and a nested shelf among them. */
function workspace(): Workplace {
  const place = new Workplace().withShelf();
  cpSync(DEMO_SHELVES, place.path('demo/others'), { recursive: true });
  return place;
}

interface Report {
  readonly themes: readonly {
    readonly id: string;
    readonly folder: string;
    readonly platform: string | null;
    readonly findings: readonly { readonly rule: string; readonly file: string; readonly path: string; readonly message: string }[];
  }[];
}

const reported = async (place: Workplace, ...argv: string[]) => (await place.json('check', ...argv)) as unknown as Report;
const folders = ({ themes }: Report): string[] => themes.map(({ folder }) => folder);

describe('a folder of themes', () => {
  const ALL = [
    ...['bloque/albar', 'cordada/albar', 'estrato/albar', 'estrato/ground', 'horquilla/albar', 'icons/albar'].map(
      (id) => `demo/others/${id}`,
    ),
    'demo/others/tramo/HutLeague/albar',
    ...['albar', 'albar-noche', 'cornisa'].map((id) => `demo/shelf/${id}`),
  ];

  it.each<[string, string[], string[]]>([
    ['is checked whole', ['demo'], ALL],
    ['is checked when it is the current one', [], ALL],
    ['can be named by a glob that the shell left alone', ['demo/*/albar*'], ['demo/shelf/albar', 'demo/shelf/albar-noche']],
    ['can be named by a glob of folders above', ['demo/others/{t,i}*'], ['demo/others/icons/albar', 'demo/others/tramo/HutLeague/albar']],
    ['counts once, however often it is named', ['demo/shelf', 'demo/shelf/albar'], ALL.slice(-3)],
  ])('%s', async (_how, args, wanted) => {
    expect(folders(await reported(workspace(), ...args))).toEqual(wanted);
  });

  it('is listed in the workspace’s configuration, whose settings a theme’s own refines', async () => {
    const place = workspace();
    writeFiles(place.path('demo/shelf'), {
      'pionero.yaml': 'themes: [alb*, gone]\nrules: { image/missing: error, template/partial: off }\n',
      'albar/pionero.yaml': 'rules: { template/partial: warning }\n',
      [`albar/${FRONT}`]: WRONG,
      [`albar-noche/${FRONT}`]: WRONG,
    });
    rmSync(place.path('demo/shelf/albar/cover.png'));
    const { themes } = await reported(place, 'demo/shelf');
    const found = (id: string) => themes.find((theme) => theme.id === id)?.findings.map(({ rule, file }) => `${rule} ${file}`) ?? [];
    expect(themes.map(({ id }) => id)).toEqual(['albar', 'albar-noche', 'gone']);
    expect(found('albar')).toEqual(expect.arrayContaining(['image/missing cover.png', `template/partial ${FRONT}`]));
    expect(found('albar-noche').filter((each) => each.startsWith('template/partial'))).toEqual([]);
    expect(found('gone')).toEqual(['theme/unopened ']);
  });

  it('tells of each thing that cannot be checked, and checks all others', async () => {
    const place = workspace();
    cpSync(place.path('demo/shelf/albar'), place.path('demo/shelf/lost'), { recursive: true });
    rmSync(place.path('demo/shelf/lost/sheet.css'));
    writeFiles(place.path('demo'), { 'shelf/notes/plan.txt': 'huts\n', 'shelf/albar-noche/pionero.yaml': 'ruls: {}\n', 'stray.txt': '\n' });
    const args = ['demo/shelf', 'demo/stray.txt', 'nowhere', 'demo/others/icons/albar'];
    const { themes } = await reported(place, ...args);
    expect(
      themes.map(({ id, findings }) => [
        id,
        findings.filter(({ rule }) => /^theme|^document/.test(rule)).map(({ path, message }) => [path, message]),
      ]),
    ).toEqual([
      ['albar', []],
      ['albar-noche', [['demo/shelf/albar-noche/pionero.yaml', '“ruls” is not known here; did you mean “rules”?']]],
      ['cornisa', []],
      ['lost', [['demo/shelf/lost/sheet.css', 'the header of sheet.css is missing: the host does not list the theme']]],
      ['stray.txt', [['demo/stray.txt', expect.stringMatching(/stray.txt is not|cannot be unpacked|no archive/)]]],
      ['nowhere', [['nowhere', expect.stringMatching(/there is no folder nowhere/)]]],
      ['albar', []],
    ]);
    const text = await place.run('check', ...args);
    expect([text.status, text.stdout]).toEqual([2, expect.stringMatching(/Not checked, since they are not themes: demo\/shelf\/notes\n$/)]);
    expect((await place.run('check', 'demo/others/icons/albar', 'demo/shelf/lost')).status).toBe(1);
  });

  it('an archive is checked like a theme', async () => {
    const place = workspace();
    await place.run('pack', 'demo/shelf/albar', '--out', 'albar.zip');
    const { themes } = await reported(place, 'albar.zip', 'demo/shelf/albar-noche');
    expect(themes.map(({ id, folder, platform }) => [id, folder, platform])).toEqual([
      ['albar', 'albar.zip', 'vereda'],
      ['albar-noche', 'demo/shelf/albar-noche', 'vereda'],
    ]);
  });
});

describe('what decides the exit status', () => {
  const one = (): Workplace => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { ...kitFiles(platformNamed('vereda'), 'paso'), [FRONT]: WRONG });
    rmSync(place.path('paso/cover.png'));
    return place;
  };

  it.each<[string, string[], number, RegExp]>([
    ['errors', [], 1, /^paso\/pages\/front\.html\n[^]*template\/partial\n$/],
    ['warnings with --strict', ['--strict'], 1, /cover\.png[^]*image\/missing[^]*template\/partial/],
    ['more warnings than allowed', ['--max-warnings', '0'], 1, /image\/missing/],
    ['not as many as allowed', ['--max-warnings', '1'], 1, /^(?![^]*image\/missing)/],
  ])('%s, which --quiet shows and nothing else', async (_what, args, status, says) => {
    expect(await one().run('check', 'paso', '--quiet', ...args)).toEqual({
      status,
      stdout: expect.stringMatching(says) as string,
      stderr: '',
    });
  });

  it('is nothing where nothing does', async () => {
    const place = one();
    writeFiles(place.path('paso'), { [FRONT]: '<p>Paso</p>\n' });
    expect(await place.run('check', 'paso', '--quiet')).toEqual({ status: 0, stdout: '', stderr: '' });
    expect((await place.run('check', 'paso', '--format', 'junit')).stdout).toMatch(/failures="0"[^]*<system-out>warning: paso\/cover\.png/);
    expect((await place.run('check', 'paso', '--max-warnings', 'few')).status).toBe(2);
  });
});

it('a code-quality report has a place and a fingerprint of its own for every finding', async () => {
  const issues = JSON.parse((await workspace().run('check', 'demo/shelf', '--format', 'code-quality')).stdout) as {
    severity: string;
    fingerprint: string;
    location: { path: string; lines: { begin: number } };
  }[];
  expect(new Set(issues.map(({ fingerprint }) => fingerprint)).size).toBe(issues.length);
  expect(new Set(issues.map(({ location }) => location.path))).toContain('demo/shelf/cornisa/sheet.css');
  expect(new Set(issues.map(({ severity }) => severity))).toEqual(new Set(['blocker', 'major', 'minor']));
});

describe('the cache', () => {
  const found = async (place: Workplace, ...argv: string[]) =>
    (await reported(place, 'demo/shelf', ...argv)).themes.map(({ findings }) => findings);

  it.each<[string, (place: Workplace) => void]>([
    ['one byte of a theme', (place) => writeFileSync(place.path('demo/shelf/albar/styles/albar-base.css'), 'x{')],
    ['a file that goes', (place) => rmSync(place.path('demo/shelf/albar/cover.png'))],
    ['a mode', (place) => spawnSync('chmod', ['+x', place.path('demo/shelf/albar/sheet.css')])],
    ['the parent', (place) => rmSync(place.path('demo/shelf/albar'), { recursive: true })],
    [
      'a sibling’s title',
      (place) => {
        const path = place.path('demo/shelf/cornisa/sheet.css');
        writeFileSync(path, readFileSync(path, 'utf8').replace(/^titel: .*/m, 'title: Albar'));
      },
    ],
    ['a sibling that comes', (place) => writeFiles(place.path('demo/shelf/twin'), { 'sheet.css': '/*---\ntitle: Albar\n---*/\n' })],
    ['the configuration', (place) => writeFiles(place.folder, { 'pionero.yaml': 'rules: { field/type: off }\n' })],
    [
      'the configuration of one theme',
      (place) => writeFiles(place.path('demo/shelf/cornisa'), { 'pionero.yaml': 'rules: { field/type: off }\n' }),
    ],
    [
      'the platform file',
      (place) => {
        const path = place.path('own.platform.yaml');
        writeFileSync(
          path,
          readFileSync(path, 'utf8')
            .replace('pages: { file', 'pagess: { file')
            .replace(/^summary: .*/m, 'summary: Another')
            .concat('\nfiles: [{ path: extra.txt, required: always }]\n'),
        );
      },
    ],
  ])('never answers for what was there before: %s', async (_what, change) => {
    const place = workspace();
    writeFiles(place.folder, { 'own.platform.yaml': 'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\nsummary: Like it\n' });
    const argv = _what === 'the platform file' ? ['--platform', 'own.platform.yaml', 'demo/shelf/albar'] : [];
    const before = await found(place, ...argv);
    expect(await found(place, ...argv)).toEqual(before);
    if (_what === 'a mode') need('unix');
    change(place);
    const after = await found(place, ...argv);
    expect(after).not.toEqual(before);
    expect(after).toEqual(await found(place, '--no-cache', ...argv));
  });

  it('makes room where there is too much, the oldest first, and clears nothing else', () => {
    const place = new Workplace();
    const keys = ['1', '2', '3'].map((end) => `ab${end.repeat(62)}`);
    // Each of the 256 folders has its part.
    const small = () => new DiskCache(place.path('cache'), 256 * 250);
    for (const [i, key] of keys.entries()) {
      small().keep(key, 'x'.repeat(100));
      utimesSync(place.path('cache/ab', key), i, i);
    }
    small().keep(`ab${'4'.repeat(62)}`, 'x');
    expect(keys.map((key) => small().find(key) !== undefined)).toEqual([false, true, true]);
    writeFiles(place.path('other'), { [keys[0] ?? '']: 'mine' });
    writeFiles(place.path('cache'), { 'ab/notes.txt': 'mine', 'notes/a': 'mine' });
    makeSymlink(place.path('other'), place.path('cache/cd'));
    expect(small().clear()).toEqual({ dropped: 3, left: 0 });
    expect([existsSync(place.path('other', keys[0] ?? '')), existsSync(place.path('cache/ab/notes.txt')), small().size().entries]).toEqual([
      true,
      true,
      0,
    ]);
  });

  it.each([FRONT, 'sheet.css'])('keeps nothing of a theme whose %s was saved while it was checked', (file) => {
    const place = workspace();
    const path = place.path('demo/shelf/albar', file);
    const text = readFileSync(path, 'utf8');
    const cache = new CheckCache(new DiskCache(place.path('cache')), 'one');
    let checks = 0;
    const check = (meanwhile?: string) => {
      writeFileSync(path, text);
      // Files that were written just before a check are taken for changed.
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 50);
      const opened = openThemeFolder(place.path('demo/shelf/albar'), { currentFolder: place.folder });
      cache.resultOf(opened, 'install', () => {
        checks++;
        if (meanwhile !== undefined) writeFileSync(path, meanwhile);
        return { findings: [], rules: 0, files: 0, accepted: 0 };
      });
      return checks;
    };
    expect([check(`${text} `), check(), check()]).toEqual([1, 2, 2]);
  });
});

describe('what changed since a revision', () => {
  const git = (place: Workplace, ...args: string[]) =>
    runTool('git', ['-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@lumbre.example', ...args], { cwd: place.folder });
  const repository = (): Workplace => {
    const place = workspace();
    for (const args of [['init'], ['add', 'demo'], ['commit', '-m', 'all']]) git(place, ...args);
    return place;
  };
  const since = async (place: Workplace, revision = 'HEAD') =>
    (await reported(place, 'demo', '--since', revision)).themes.map(({ folder, findings }) => [
      folder,
      findings.map(({ rule, file }) => `${rule} ${file}`),
    ]);

  it('is nothing where nothing did', async () => {
    expect(await since(repository())).toEqual([]);
  });

  it('is what stands in changed files, and what they brought elsewhere', async () => {
    const place = repository();
    writeFiles(place.path('demo/shelf/cornisa'), { [FRONT]: '' });
    // Its child inherits the partial, and is affected though none of its files changed.
    rmSync(place.path('demo/shelf/albar/partials/header.html'));
    const found = new Map((await since(place)).map(([folder, findings]) => [folder, findings as string[]]));
    expect([...found.keys()]).toEqual(['demo/shelf/albar', 'demo/shelf/albar-noche', 'demo/shelf/cornisa']);
    expect(found.get('demo/shelf/albar')).toContain('template/partial pages/page.html');
    expect(found.get('demo/shelf/cornisa')).toEqual(['partial/unused partials/header.html']);
    git(place, 'commit', '-am', 'more');
    expect(await since(place)).toEqual([]);
    expect((await since(place, 'HEAD~1')).map(([folder]) => folder)).toEqual([...found.keys()]);
  });

  it('needs a revision that Git knows', async () => {
    expect(await repository().run('check', 'demo', '--since', 'never')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/Git knows no revision “never”/) as string,
    });
    expect((await workspace().run('check', 'demo', '--since', '--output=x')).status).toBe(2);
  });
});

describe('a check that several machines share', () => {
  it('gives the report of a single one, whatever its form', async () => {
    const place = workspace();
    const child = 'demo/shelf/albar-noche/sheet.css';
    writeFiles(place.folder, { [child]: readFileSync(place.path(child), 'utf8').replace(/^title: .*$/m, 'title: Albar') });
    const parts = ['a.json', 'b.jsonl', 'c.json'];
    for (const [i, file] of parts.entries()) {
      const { stdout } = await place.run('check', 'demo', '--shard', `${i + 1}/3`, '--format', file.slice(2));
      expect(stdout.match(/"id":/g)?.length).toBeGreaterThan(0);
      writeFiles(place.folder, { [file]: stdout });
    }
    for (const format of REPORT_NAMES)
      expect(await place.run('report', 'merge', ...parts.toReversed(), '--format', format)).toEqual(
        await place.run('check', 'demo', '--format', format),
      );
    // Another place that a finding is about leads there from here, too.
    const { themes } = await reported(place, 'demo');
    expect(themes.flatMap(({ findings }) => findings).find(({ path }) => path === child)).toMatchObject({
      rule: 'title/unique',
      related: [{ path: 'demo/shelf/albar/sheet.css', line: 2, column: 8, length: 5, message: 'the title of “albar”' }],
    });
  });

  it('deals out each package once, and looks at none of many', () => {
    const targets = Array.from({ length: 1203 }, (_, i) => ({ kind: 'folder' as const, path: `/nowhere/hut-${i}` }));
    const parts = [1, 2, 3, 4].map((part) => positionsIn({ part, of: 4 }, targets));
    expect(parts.flat().toSorted((a, b) => a - b)).toEqual(targets.map((_, i) => i));
    expect(parts.map(({ length }) => length)).toEqual([301, 301, 301, 300]);
  });

  it.each<[string, string[], RegExp]>([
    ['a part that is missing', ['report', 'merge', 'a.json'], /of 2 parts, 2 is missing/],
    ['a part that is named twice', ['report', 'merge', 'a.json', 'a.json', 'b.json'], /named twice/],
    ['a file that is no report', ['report', 'merge', 'demo/shelf/albar/sheet.css'], /is not a report: it is not JSON/],
    ['another report', ['report', 'merge', 'c.json'], /is not a report of “pionero check --format json”/],
    ['a folder', ['report', 'merge', 'demo'], /demo cannot be read/],
    ['no file', ['report', 'merge', 'nothing.json'], /there is no report nothing\.json/],
    ['a wrong part', ['check', 'demo', '--shard', '3/2'], /--shard 3\/2 is not a valid shard/],
    ['a misspelt action', ['report', 'merg', 'a.json'], /did you mean “merge”/],
  ])('is told of %s', async (_what, argv, says) => {
    const place = workspace();
    for (const [i, file] of ['a.json', 'b.json'].entries())
      writeFiles(place.folder, { [file]: (await place.run('check', 'demo/shelf', '--shard', `${i + 1}/2`, '--format', 'json')).stdout });
    writeFiles(place.folder, { 'c.json': '{"themes": [7]}' });
    expect(await place.run(...argv)).toMatchObject({ status: 2, stderr: expect.stringMatching(says) as string });
  });

  it('runs as docs/examples/check-shards.mk has it, over a hundred themes on four workers', () => {
    const place = new Workplace();
    const files = kitFiles(platformNamed('bloque'), 'paso');
    for (let i = 0; i < 100; i++)
      writeFiles(place.path(`themes/group-${i % 7}/paso-${i}`), i % 9 === 0 ? { ...files, 'bloque.toml': 'name = \n' } : files);
    mkdirSync(place.path('bin'));
    writeFileSync(place.path('bin/pionero'), `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n`, { mode: 0o755 });
    const env = { ...place.env, PATH: `${place.path('bin')}:${process.env['PATH']}` };
    const recipe = join(import.meta.dirname, '../../docs/examples/check-shards.mk');
    const made = runTool('make', ['-f', recipe, '-j4', 'PARTS=4', 'THEMES=themes'], { cwd: place.folder, env });
    const whole = place.startAndWait('check', 'themes', '--format', 'json');
    expect([made.status, whole.status, (JSON.parse(whole.stdout) as Report).themes.length]).toEqual([2, 1, 100]);
    expect(readFileSync(place.path('check-report/whole.json'), 'utf8')).toBe(whole.stdout);
  }, 120_000);
});

describe('threads', () => {
  it('make the same packages as one thread, and leave out the same themes', async () => {
    const place = new Workplace();
    const ids = Array.from({ length: 24 }, (_, i) => `hut-${i}-paso`);
    for (const [i, id] of ids.entries()) {
      const files = kitFiles(platformNamed('vereda'), id);
      writeFiles(place.path('shelf', id), i === 7 ? { ...files, 'main.html': WRONG } : files);
    }
    // What is wrong in a theme and left out of its package is not wrong in the package.
    writeFiles(place.path('shelf', 'hut-9-paso'), { 'drafts/a.html': WRONG, 'pionero.yaml': 'pack: { exclude: [drafts/] }\n' });
    const packed = (jobs: string) => {
      const { status, stdout } = place.startAndWait('pack', 'shelf', '--out', `dist-${jobs}`, '--yes', '--jobs', jobs, '--format', 'json');
      const results = JSON.parse(stdout) as { theme: string; archive: string | null; sha256?: string; why?: string }[];
      return { status, results: results.map(({ theme, sha256, why }) => [theme, sha256, why]) };
    };
    const many = packed('3');
    expect(many.status).toBe(1);
    expect(many.results.filter(([, , why]) => why !== undefined)).toEqual([
      ['hut-7-paso', undefined, 'hut-7-paso has 1 error and was not packed'],
    ]);
    // Fewer than are worth threads: each is checked in its turn.
    const few = ids.slice(5, 10).map((id) => `shelf/${id}`);
    const alone = (await place.json('pack', ...few, '--out', 'dist-few', '--yes')) as unknown as { theme: string; sha256: string }[];
    const wanted = new Map(alone.map(({ theme, sha256 }) => [theme, sha256]));
    expect(many.results.filter(([id]) => wanted.has(id ?? '')).map(([id, sha256]) => [id, sha256])).toEqual([...wanted]);
  }, 60_000);

  it('read facts as one thread does, and say which themes have none', async () => {
    const place = new Workplace();
    const platforms = [...shippedPlatforms(), ...shippedPlatforms(), ...shippedPlatforms()].slice(0, 30);
    for (const [i, platform] of platforms.entries()) {
      const home = `huts/${i}/${fillPlace(platform, { id: 'cierzo', vendor: 'HutLeague' })}`;
      writeFiles(place.path(isOneFile(platform) ? `huts/${i}` : home), kitFiles(platform, 'cierzo'));
    }
    writeFiles(place.folder, { 'huts/5/broken.zip': 'no archive' });
    const [huts, wrong] = [Array.from({ length: 30 }, (_, i) => `huts/${i}`), ['huts/5/broken.zip', 'nowhere']];
    const many = (...more: string[]) => place.startAndWait('meta', 'show', ...huts, ...wrong, ...more);
    const told = many('--jobs', '3', '--format', 'json');
    const { themes } = JSON.parse(told.stdout) as { themes: { folder: string; platform: string; facts: unknown; failure: unknown }[] };
    expect([told.status, themes.length, themes.filter(({ failure }) => failure !== null).map(({ folder }) => folder)]).toEqual([
      2,
      32,
      wrong,
    ]);
    // What one theme alone says of itself.
    for (const { folder, platform, facts } of [themes[3], themes[10]].filter((each) => each !== undefined))
      expect(await place.json('meta', 'show', folder, '--platform', platform)).toMatchObject({ platform, facts });
    expect(many('--jobs', '1').stdout).toBe(many('--jobs', '3').stdout);
    expect(many().stderr + many().stdout).toMatch(/✗ there is no folder nowhere[^]*✗ 32 themes; 2 cannot be opened\n/);
  }, 60_000);

  it('check kits as one thread does, also those of a parent and of your own platform', async () => {
    const place = new Workplace().withShelf();
    cpSync(join(import.meta.dirname, '../../platforms/vereda'), place.path('mine'), { recursive: true });
    // Its themes without each part in turn are many.
    rmSync(place.path('mine/kits/standard'), { recursive: true });
    const file = 'mine/vereda.platform.yaml';
    writeFileSync(place.path(file), readFileSync(place.path(file), 'utf8').replace('name: vereda', 'name: senda'));
    const line = ['kit', 'check', '--platform', file, '--shelf', 'demo/shelf'];
    const many = place.startAndWait(...line, '--jobs', '3');
    const one = await place.run(...line);
    expect([many.status, many.stdout, many.stderr]).toEqual([one.status, one.stdout, one.stderr]);
    expect(many.stdout.match(/✓/g)?.length).toBeGreaterThan(2);
  }, 60_000);
});
