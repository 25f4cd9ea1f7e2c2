import { parseXml, XmlElement } from '@rgrove/parse-xml';
import { Ajv } from 'ajv';
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import type { Log } from 'sarif';
import { describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const HEAD = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
const BASIS = { 'sheet.css': HEAD, 'main.html': '{{{host.head}}}{{{page.content}}}{{{host.foot}}}\n' };

function withTheme(files: Readonly<Record<string, string | Buffer>>) {
  const place = new Workplace();
  writeFiles(place.path('paso'), {
    ...BASIS,
    'cover.png': readFileSync(join(import.meta.dirname, '../../demo/shelf/albar/cover.png')),
    ...files,
  });
  const rules = async (...argv: string[]) =>
    ((await place.json('check', 'paso', ...argv))['findings'] as { rule: string; file: string; line: number }[]).map(
      ({ rule, file, line }) => `${rule} ${file}:${line}`,
    );
  return { place, rules };
}

describe('the formats', () => {
  const run = () => {
    const place = new Workplace().withShelf();
    return { place, of: async (format: string, ...themes: string[]) => (await place.run('check', ...themes, '--format', format)).stdout };
  };

  it('SARIF is valid, names every rule, and has places and fixes that fit the files', async () => {
    const { of, place } = run();
    const log = JSON.parse(await of('sarif', 'demo/shelf/cornisa', 'demo/shelf/albar')) as Log;
    const require = createRequire(import.meta.url);
    const {
      $schema: _,
      id: __,
      ...schema
    } = require('@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json') as Record<string, unknown>;
    const validate = new Ajv({ strict: false, validateFormats: false, unicodeRegExp: false }).compile(schema);
    expect([validate(log), validate.errors]).toEqual([true, null]);
    const results = log.runs[0]?.results ?? [];
    expect(results).toHaveLength(17);
    for (const { locations, ruleId, ruleIndex = -1, fixes } of results) {
      expect(log.runs[0]?.tool.driver.rules?.[ruleIndex]?.id).toBe(ruleId);
      const { artifactLocation, region } = locations?.[0]?.physicalLocation ?? {};
      const text = readFileSync(place.path(decodeURIComponent(artifactLocation?.uri ?? '')), 'utf8');
      expect(text.split('\n').length).toBeGreaterThanOrEqual(region?.startLine ?? 0);
      for (const { deletedRegion } of fixes?.[0]?.artifactChanges[0]?.replacements ?? [])
        expect((deletedRegion.charOffset ?? 0) + (deletedRegion.charLength ?? 0)).toBeLessThanOrEqual(text.length);
    }
  });

  it('JUnit has a suite for each theme and a case for each finding, that fails when it decides', async () => {
    const { of } = run();
    const { root } = parseXml(await of('junit', 'demo/shelf/cornisa', 'demo/shelf/albar'));
    const suites = root?.children.filter((child) => child instanceof XmlElement) ?? [];
    expect(suites.map((suite) => suite.attributes)).toMatchObject([
      { name: 'cornisa', tests: '17', failures: '14' },
      { name: 'albar', failures: '0' },
    ]);
  });

  it('of many themes say the same as of each alone, with workers and without', async () => {
    const place = new Workplace().withShelf();
    const ids = Array.from({ length: 24 }, (_, i) => `paso-${i}`);
    const titled = (id: string) => ({ ...BASIS, 'sheet.css': BASIS['sheet.css'].replace('Paso', id) });
    for (const [i, id] of ids.entries()) writeFiles(place.path(id), { ...titled(id), ...(i % 3 === 0 ? { 'main.html': '\n' } : {}) });
    const { themes: together } = JSON.parse(place.startAndWait('check', ...ids, '--format', 'json', '--jobs', '3').stdout) as {
      themes: { theme: { id: string }; findings: { rule: string }[] }[];
    };
    expect(together.map(({ theme, findings }) => [theme.id, findings.map(({ rule }) => rule)])).toEqual(
      ids.map((id, i) => [id, i % 3 === 0 ? ['image/missing', 'file/empty'] : ['image/missing']]),
    );
    expect((await place.run('check', ...ids, '--jobs', '1')).stdout).toMatch(/24 themes: 0 without problems; 32 warnings/);
    const withMistake = place.startAndWait('check', ...ids, 'nowhere', '--jobs', '3');
    expect([withMistake.status, withMistake.stdout]).toEqual([2, expect.stringMatching(/✗ there is no folder nowhere[^]*25 themes/)]);
  });
});

it('leaves out of JSON a line that is too long to be read, and shows a part of it to people', async () => {
  const place = new Workplace();
  const long = `p { ${'margin: 0; '.repeat(400)}background: url(gone.png) }\n`;
  writeFiles(place.path('paso'), { ...BASIS, 'sheet.css': `${BASIS['sheet.css']}${long}q { background: url(other.png) }\n` });
  const { findings } = (await place.json('check', 'paso')) as { findings: { rule: string; sourceLine?: string }[] };
  expect(findings.filter(({ rule }) => rule === 'asset/missing').map(({ sourceLine }) => sourceLine)).toEqual([
    undefined,
    'q { background: url(other.png) }',
  ]);
  expect((await place.run('check', 'paso')).stdout).toMatch(/│ .*margin: 0; background: url\(gone\.png\)/);
});

it('of many themes takes ids on a shelf among folders, in the order asked for', async () => {
  const place = new Workplace().withShelf();
  const folders = Array.from({ length: 13 }, (_, i) => `paso-${i}`);
  for (const id of folders) writeFiles(place.path(id), BASIS);
  const asked = ['paso-0', 'albar', ...folders.slice(1, 9), 'albar-noche', ...folders.slice(9)];
  const { themes: reports } = (await place.json('check', ...asked, '--shelf', 'demo/shelf')) as {
    themes: { theme: { id: string }; platform: string }[];
  };
  expect(reports.map(({ theme }) => theme.id)).toEqual(asked);
  expect(new Set(reports.map(({ platform }) => platform))).toEqual(new Set(['vereda']));
});

describe('what is meant to be so', () => {
  const BROKEN = 'body { background: url(made.png) }\n';

  it.each([
    ['on the line before', `/* pionero-accept asset/missing: made at build time */\n${BROKEN}`, []],
    ['in the same line', BROKEN.replace('\n', ' /* pionero-accept asset/missing: made at build time */\n'), []],
    [
      'not further down',
      `/* pionero-accept asset/missing: made */\np {}\n${BROKEN}`,
      ['accept/unused sheet.css:6', 'asset/missing sheet.css:8'],
    ],
    ['not without a reason', `/* pionero-accept asset/missing */\n${BROKEN}`, ['accept/unused sheet.css:6', 'asset/missing sheet.css:7']],
    [
      'not for another rule',
      `/* pionero-accept asset/mising: made */\n${BROKEN}`,
      ['accept/unused sheet.css:6', 'asset/missing sheet.css:7'],
    ],
    ['and told of when it is mended', '/* pionero-accept asset/missing: made */\np {}\n', ['accept/unused sheet.css:6']],
  ])('is accepted by a comment %s', async (_where, text, wanted) => {
    expect(await withTheme({ 'sheet.css': `${HEAD}${text}` }).rules()).toEqual(wanted);
  });

  it('is accepted in pionero.yaml, for one file or several', async () => {
    const { place, rules } = withTheme({ 'sheet.css': `${HEAD}${BROKEN}` });
    const accept = (file: string): void =>
      writeFileSync(place.path('pionero.yaml'), `accept:\n  - { rule: asset/missing, file: ${file}, reason: made at build time }\n`);
    accept('"*.css"');
    expect(await rules()).toEqual([]);
    accept('other.css');
    expect(await rules()).toEqual(['asset/missing sheet.css:6']);
    // That nothing needs it is told of the whole workspace.
    expect((await place.run('check')).stdout).toMatch(/pionero\.yaml\n {2}2:\d+ .*nothing is found here[^]*accept\/unused/);
  });

  it('is known from a baseline: only what comes on top is shown', async () => {
    const { place, rules } = withTheme({ 'sheet.css': `${HEAD}${BROKEN}` });
    expect((await place.run('check', 'paso', '--baseline-out', 'known.json')).status).toBe(0);
    expect(await rules('--baseline', 'known.json')).toEqual([]);
    writeFileSync(place.path('paso/sheet.css'), `${HEAD}p {}\n${BROKEN}${BROKEN.replace('made', 'other')}`);
    expect(await rules('--baseline', 'known.json')).toEqual(['asset/missing sheet.css:8']);
    expect(await place.run('check', 'paso', '--baseline', 'nothing.json')).toMatchObject({ status: 2 });
    writeFileSync(place.path('known.json'), '{}');
    expect((await place.run('check', 'paso', '--baseline', 'known.json')).stderr).toMatch(/is not a baseline file/);
  });
});

describe('mending', () => {
  it('shows a diff in a dry run and writes nothing', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    const { stdout } = await place.run('check', 'demo/shelf/cornisa', '--fix', '--dry-run');
    expect(stdout).toMatch(/^--- a\/sheet\.css$[^]*^-titel: Cornisa$[^]*^\+title: Cornisa$/m);
    expect(snapshot(place.path('demo'))).toEqual(before);
  });

  it('leaves only what no tool could know, guesses when that is asked for, and can be taken back', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    await place.run('check', 'demo/shelf/cornisa', '--fix', '--yes');
    const left = (await place.json('check', 'demo/shelf/cornisa'))['findings'] as { fixable: boolean }[];
    expect(left.filter((finding) => finding.fixable)).toEqual([]);
    await place.run('check', 'demo/shelf/cornisa', '--fix-suggested', '--yes');
    const last = (await place.json('check', 'demo/shelf/cornisa'))['findings'] as unknown[];
    expect(last.length).toBeLessThanOrEqual(left.length);
    while ((await place.run('undo', '--yes')).status === 0);
    expect(snapshot(place.path('demo'))).toEqual(before);
  });
});

it('every line of the text fits into 100 columns', async () => {
  const place = new Workplace().withShelf();
  const long = `/*---\ntitle: ${'x'.repeat(90)}\nversion: v2.3.0\nhosts: ">=2"\nhomepage: nowhere\nparent: albar\n---*/\n`;
  writeFileSync(place.path('demo/shelf/albar-noche/sheet.css'), long);
  const { stdout } = await place.run('check', 'demo/shelf/cornisa', 'demo/shelf/albar-noche', '--verbose');
  const lines = stdout.split('\n').filter((line) => !line.includes('Vereda:'));
  expect(lines.filter((line) => line.length > 100)).toEqual([]);
});

describe('a commit that is tagged', () => {
  const commit = 'a'.repeat(40);
  const object = 'b'.repeat(40);
  const main = { HEAD: 'ref: refs/heads/main\n', 'refs/heads/main': `${commit}\n` };
  const annotated = deflateSync(`tag 99\0object ${commit}\ntype commit\ntag v1.1.0\n`);
  const packed = (tag: string) => `# pack-refs\n${object} refs/tags/${tag}\n^${commit}\n${'c'.repeat(40)} refs/tags/v0.1.0\n`;
  const below = (folder: string, files: Readonly<Record<string, string | Buffer>>) =>
    Object.fromEntries(Object.entries(files).map(([path, content]) => [`${folder}/${path}`, content]));
  const told = ['version/tag sheet.css:3'];

  it.each<[string, Readonly<Record<string, string | Buffer>>, string[]]>([
    ['in the packed list', below('.git', { ...main, 'packed-refs': packed('v1.1.0') }), told],
    ['as it says', below('.git', { ...main, 'packed-refs': packed('v1.0.0') }), []],
    ['with no version', below('.git', { ...main, 'packed-refs': packed('nightly') }), []],
    ['by a file', below('.git', { ...main, 'refs/tags/v1.1.0': `${commit}\n` }), told],
    ['by a file, with a slash', below('.git', { ...main, 'refs/tags/out/1.1.0': `${commit}\n`, 'refs/tags/v1.0.0': `${commit}\n` }), []],
    ['by an object', below('.git', { ...main, 'refs/tags/v1.1.0': object, [`objects/bb/${object.slice(2)}`]: annotated }), told],
    ['elsewhere', below('.git', { ...main, 'refs/tags/v1.1.0': object }), []],
    [
      'in a worktree',
      {
        '.git': 'gitdir: ../store/worktrees/paso\n',
        ...below('../store', { ...main, 'refs/tags/v1.1.0': commit }),
        ...below('../store/worktrees/paso', { HEAD: commit, commondir: '../..' }),
      },
      told,
    ],
  ])('%s', async (_how, files, wanted) => {
    expect(await withTheme(files).rules()).toEqual(wanted);
  });
});

it('files addressed from the site’s root are addressed from where they are asked for', async () => {
  const { place, rules } = withTheme({
    'styles/more.css': '@import "/themes/paso/sheet.css?v=2";\np { background: url(/hut.svg#a), url(/themes/paso/gone.svg) }\n',
    'main.html': '{{{host.head}}}<img src="/hut.svg" alt="">{{{page.content}}}{{{host.foot}}}{{! more.css }}\n',
    'hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
  });
  await place.run('check', 'paso', '--fix', '--yes');
  // The site may have a hut.svg of its own.
  expect(await rules()).toEqual(['asset/absolute main.html:1', 'asset/absolute styles/more.css:2', 'asset/absolute styles/more.css:2']);
  await place.run('check', 'paso', '--fix-suggested', '--yes');
  expect(readFileSync(place.path('paso/styles/more.css'), 'utf8')).toBe(
    '@import "../sheet.css?v=2";\np { background: url(../hut.svg#a), url(/themes/paso/gone.svg) }\n',
  );
  expect(readFileSync(place.path('paso/main.html'), 'utf8')).toContain('<img src="{{{theme.path}}}/hut.svg" alt="">');
  expect(await rules()).toEqual(['asset/absolute styles/more.css:2']);
});

it('a submission is asked for more than an install', async () => {
  const place = new Workplace();
  const text = readFileSync(join(import.meta.dirname, '../../platforms/vereda/vereda.platform.yaml'), 'utf8');
  const asking = text.replace(/^package:\n/m, 'package:\n  submission: { requires: [LICENSE], forbids: ["*.odt", "*.psd"] }\n');
  writeFiles(place.folder, {
    'v.platform.yaml': asking,
    'paso/sheet.css': HEAD,
    'paso/main.html': BASIS['main.html'],
    'paso/a.psd': 'x',
    'paso/b.odt': 'x',
  });
  const rules = async (...argv: string[]) =>
    ((await place.json('check', 'paso', '--platform', './v.platform.yaml', ...argv))['findings'] as { rule: string; file: string }[]).map(
      ({ rule, file }) => `${rule} ${file}`,
    );
  expect(await rules()).toEqual(['image/missing cover.png']);
  expect(await rules('--for', 'submission')).toEqual([
    'submission/contents LICENSE',
    // A picture’s source, a.psd, is left out of packages and so not handed in.
    'submission/contents b.odt',
    'image/missing cover.png',
  ]);
});
