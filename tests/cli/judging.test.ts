import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { makeSymlink } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const HEAD = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';

/** What check says of a new theme with these files laid over it: `rule file:line` and the message. */
async function told(files: Record<string, string | Buffer>, ...argv: string[]) {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  writeFiles(place.path('paso'), files);
  return { place, ...(await findings(place, 'paso', ...argv)) };
}

async function findings(place: Workplace, ...argv: string[]) {
  const report = (await place.json('check', ...argv)) as {
    findings: { rule: string; file: string; line: number; column: number; message: string; hint?: string; severity: string }[];
  };
  return {
    found: report.findings.map(({ rule, file, line }) => `${rule} ${file}:${line}`),
    all: report.findings,
  };
}

describe('code that its language does not allow', () => {
  it.each([
    ['a cut PHP file', { 'hooks.php': '<?php\nfunction paso_setup() {\n  return [1,\n' }, 'code/syntax hooks.php:4', /breaks off/, 'error'],
    [
      'a missing semicolon',
      { 'hooks.php': '<?php\nfunction paso_setup() {\n  return 1\n}\n' },
      'code/syntax hooks.php:4',
      /cannot be read/,
      'error',
    ],
    [
      'a script',
      { 'scripts/a.js': 'const a = {;\n', 'main.html': '<script src="{{{theme.path}}}/scripts/a.js"></script>\n' },
      'code/syntax scripts/a.js:1',
      /unexpected token/,
      'error',
    ],
    [
      'a stylesheet with a header',
      { 'sheet.css': `${HEAD}p { margin: 0\n` },
      'code/syntax sheet.css:6',
      /the block is not closed/,
      'error',
    ],
    [
      'a stylesheet',
      { 'styles/a.css': 'p { margin: 0\n', 'sheet.css': `${HEAD}@import "styles/a.css";\n` },
      'code/syntax styles/a.css:1',
      /the block is not closed/,
      'error',
    ],
    [
      'a comment that is not closed',
      { 'styles/a.css': 'p { margin: 0 }\n/* and\n', 'sheet.css': `${HEAD}@import "styles/a.css";\n` },
      'code/syntax styles/a.css:2',
      /the comment is not closed/,
      'error',
    ],
    ['data', { 'docs/a.json': '{ "a": [1, }\n' }, 'code/syntax docs/a.json:1', /expected/, 'warning'],
    ['a drawing', { 'docs/a.svg': '<svg><g></svg>\n' }, 'code/syntax docs/a.svg:1', /missing end tag|expected/i, 'warning'],
    [
      'a minified script of others that is cut',
      { 'docs/x.min.js': '!function(){var a=1;\n' },
      'code/syntax docs/x.min.js:2',
      /breaks off/,
      'error',
    ],
    ['code of others in another dialect', { 'docs/vendor/x.js': 'let a = @b;\n' }, undefined, /./, ''],
    [
      'a dialect, and what a server fills in',
      {
        'docs/a.js': 'const a = <p>x</p>;\n',
        'docs/b.js': 'const a = <?= 1 ?>;\n',
        'docs/c.svg': '<!DOCTYPE svg [<!ENTITY a "b">]><svg>&a;</svg>\n',
      },
      undefined,
      /./,
      '',
    ],
    ['a module and a classic script', { 'docs/a.js': 'export {};\n', 'docs/b.js': 'with (window) { x }\n' }, undefined, /./, ''],
  ])('%s', async (_what, files, wanted, says, severity) => {
    const { all } = await told(files);
    const own = all.filter(({ rule }) => rule === 'code/syntax');
    expect(own.map(({ rule, file, line }) => `${rule} ${file}:${line}`)).toEqual(wanted === undefined ? [] : [wanted]);
    expect(own.every((each) => says.test(each.message) && each.severity === severity)).toBe(true);
  });
});

it.each([
  ['png', 'cover.png'],
  ['jpg', 'pictures/hero.jpg'],
])('a %s that breaks off is found, and a whole one is not', async (_format, path) => {
  const place = new Workplace().withShelf();
  expect((await findings(place, 'demo/shelf/albar')).found).toEqual([]);
  const whole = readFileSync(place.path('demo/shelf/albar', path));
  writeFileSync(place.path('demo/shelf/albar', path), whole.subarray(0, whole.length - 40));
  expect((await findings(place, 'demo/shelf/albar')).found).toEqual([`image/cut ${path}:1`]);
});

it('a theme without the stylesheet that its host loads is told of, unless a parent’s is loaded', async () => {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'horquilla', '--yes');
  await place.run('new', 'cierzo', '--platform', 'horquilla', '--parent', 'paso', '--yes');
  rmSync(place.path('cierzo/style/look.css'), { force: true });
  expect((await findings(place, 'cierzo')).found).toEqual([]);
  renameSync(place.path('paso/style/look.css'), place.path('paso/style/other.css'));
  renameSync(place.path('paso/style/other.css'), place.path('paso/style/Look.css'));
  const { all } = await findings(place, 'paso');
  expect(all.filter(({ rule }) => rule === 'asset/main-sheet').map(({ hint }) => hint)).toEqual([
    'rename style/Look.css to style/look.css',
  ]);
  rmSync(place.path('paso/style/Look.css'));
  expect((await findings(place, 'paso')).found).toEqual(['asset/main-sheet style/look.css:1']);
});

it('a script that ends within a word, a text of the kit, an acceptance of a misspelt rule: each at its place', async () => {
  const { all } = await told({
    'docs/a.js': 'f(1',
    'docs/b.txt': 'x\nLorem hut\n',
    'docs/c.js': '// pionero-accept asset/missin: so\n// pionero-accept zzz/zzz: so\n',
    'pionero.yaml': 'sample-texts: ["Lorem hut"]\n',
  });
  expect(
    all.map(({ rule, file, line, column, message, hint }) => `${rule} ${file}:${line}:${column} ${message} | ${hint}`),
  ).toMatchSnapshot();
});

it.each([
  ['width: 90', 'add a picture: png'],
  ['width: 90, height: 40', 'add a picture: png, 90 × 40 pixels'],
])('a picture of %s that is missing: %s', async (size, wanted) => {
  const place = new Workplace();
  const image = `images:\n  - { role: badge, path: badge.png, formats: [png], recommended: true, ${size} }\n`;
  writeFiles(place.folder, { 'own.platform.yaml': `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\n${image}` });
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  const { all } = await findings(place, 'paso', '--platform', './own.platform.yaml');
  expect(all.filter(({ file }) => file === 'badge.png').map(({ hint }) => hint)).toEqual([wanted]);
});

describe('addresses', () => {
  it('of what is inherited are right, and nothing is taken for itself', async () => {
    const place = new Workplace();
    await place.run('new', 'albar', '--platform', 'cordada', '--yes');
    await place.run('new', 'paso', '--platform', 'cordada', '--parent', 'albar', '--yes');
    writeFiles(place.path('albar'), { 'markup/hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n' });
    writeFiles(place.path('paso'), { 'markup/front.html': '<img alt="" src="{{{theme.path}}}/markup/hut.svg">{{{areas.content}}}\n' });
    expect((await findings(place, 'paso')).found.filter((each) => each.startsWith('asset/'))).toEqual([]);
    const { all } = await told({
      'styles/page.css': 'p { background: url(pages.css) }\n',
      'sheet.css': `${HEAD}@import "styles/page.css";\n`,
    });
    expect(all.map(({ rule, hint }) => [rule, hint])).toEqual([['asset/missing', 'add styles/pages.css, or change the address']]);
  });

  it.each([
    ['../../albar/art/hut.svg', undefined],
    ['../../neveron/art/hut.svg', undefined],
    ['../../../uploads/hut.svg', undefined],
    [
      '../../albar/pictures/lake.png',
      '“../../albar/pictures/lake.png” does not exist: albar has no pictures/lake.png | add it to the theme, or change the address',
    ],
    [
      '../../neveron/art/huts.svg',
      '“../../neveron/art/huts.svg” does not exist: neveron has no art/huts.svg | did you mean “art/hut.svg”?',
    ],
    [
      '../../lumbre/a.svg',
      '“../../lumbre/a.svg” leads into lumbre, which is not a theme here | put it on a shelf, or name its shelf with --shelf',
    ],
    ['../../own/ridge.svg', '“../../own/ridge.svg” does not exist | did you mean “own/ridge.svg”?'],
    ['../../../own/ridge.svg?v=2', '“../../../own/ridge.svg?v=2” does not exist | did you mean “own/ridge.svg”?'],
    ['../../../../a.svg', '“../../../../a.svg” does not exist | add it to the theme, or change the address'],
  ])('that leave the theme are resolved from where it lies in the host: %s', async (address, wanted) => {
    const place = new Workplace();
    for (const id of ['albar', 'neveron']) {
      await place.run('new', id, '--platform', 'vereda', '--yes');
      writeFiles(place.path(id), { 'art/hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n' });
    }
    await place.run('new', 'paso', '--platform', 'vereda', '--parent', 'albar', '--yes');
    writeFiles(place.path('paso'), { 'css/a.css': `p { background: url("${address}") }\n`, 'own/ridge.svg': '<svg/>\n' });
    const { all } = await findings(place, 'paso');
    const found = all.filter(({ rule }) => rule === 'asset/missing').map(({ message, hint }) => `${message} | ${hint}`);
    expect(found).toEqual(wanted === undefined ? [] : [wanted]);
  });

  it('that leave the theme by a link are one finding', async () => {
    const { place } = await told({});
    mkdirSync(place.path('elsewhere'));
    writeFileSync(place.path('elsewhere/main.html'), 'x\n');
    rmSync(place.path('paso/main.html'));
    makeSymlink('../elsewhere/main.html', place.path('paso/main.html'));
    expect((await findings(place, 'paso')).found).toEqual(['file/link main.html:1']);
    // A document that is such a link is told as a document; another link, as a link.
    writeFileSync(place.path('elsewhere/README.md'), 'x\n');
    makeSymlink('../elsewhere/README.md', place.path('paso/README.md'));
    expect((await findings(place, 'paso')).found).toEqual(['document/missing README.md:1', 'file/link main.html:1']);
  });
});

describe('values', () => {
  const fields = (more: string): string => `documents:\n  - path: sheet.css\n    fields: [{ ${more} }]\n`;
  const judged = async (more: string, line: string, files: Record<string, string> = {}) => {
    const place = new Workplace();
    writeFiles(place.folder, { 'own.platform.yaml': `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\n${fields(more)}` });
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFiles(place.path('paso'), { 'sheet.css': HEAD.replace('---*/', `${line}\n---*/`), ...files });
    const { all } = await findings(place, 'paso', '--platform', './own.platform.yaml');
    return all.map(({ rule, line: at, column, message }) => `${rule} ${at}:${column} ${message}`);
  };

  it.each([
    [
      'each entry of a list in one text',
      'key: uses, fact: uses, type: list, separator: ",", of: path',
      'uses: main.html, gone.css',
      ['field/path 5:18 “uses” names gone.css, which is not there'],
    ],
    [
      'the values of a map',
      'key: uses, fact: uses, type: map, of: path',
      'uses: { a: main.html, b: gone.css }',
      ['field/path 5:26 “uses” names gone.css, which is not there'],
    ],
    [
      'the types in a map',
      'key: uses, fact: uses, type: map, of: url',
      'uses: { a: "https://site.example", b: hut }',
      [expect.stringMatching(/^field\/type 5:7 .*https:/)],
    ],
    [
      'a key that is called otherwise now',
      'key: [look, tone], fact: tone, replaced-by: shade',
      'look: { tone: dark }',
      ['field/replaced 5:15 “look.tone” is called “shade” from release 2 on'],
    ],
    [
      'a key that stands there under its new name too',
      'key: [look, tone], fact: tone, replaced-by: shade',
      'look: { tone: dark, shade: dark }',
      ['field/replaced 5:15 “look.tone” is called “shade” from release 2 on'],
    ],
    ['a shape', 'key: is, fact: id, shape: "look:{id}"', 'is: lock-paso', [expect.stringMatching(/^field\/type 5:5 .*look:\{id\}/)]],
    ['a shape in another spelling', 'key: is, fact: id, shape: "look:{id:constant}"', 'is: look:PASO', []],
  ])('%s', async (_what, more, line, wanted) => {
    expect(await judged(more, line)).toEqual(wanted);
  });
});

it('a label that was changed in one place of two is told of, and mended as the first says', async () => {
  const place = new Workplace();
  const documents = (path: string) => `  - { path: ${path}, syntax: yaml, fields: [{ key: areas, fact: areas, type: map }] }\n`;
  writeFiles(place.folder, {
    'own.platform.yaml': `pionero: platform/1\nextend: cordada\nname: own\ntitle: Own\ndocuments:\n${documents('one.yaml')}${documents('two.yaml')}`,
  });
  await place.run('new', 'paso', '--platform', 'cordada', '--yes');
  writeFiles(place.path('paso'), {
    'one.yaml': 'areas:\n  top: Top\n  foot: Foot\n',
    'two.yaml': 'areas:\n  top: Top\n  foot: Below\n  own: x\n',
  });
  const { all } = await findings(place, 'paso', '--platform', './own.platform.yaml');
  expect(
    all.filter(({ rule }) => rule === 'fact/agrees').map(({ file, line, column, message }) => `${file}:${line}:${column} ${message}`),
  ).toEqual(['two.yaml:3:9 “areas.foot” is “Below” here, but “Foot” in one.yaml']);
});

it('a name in a shape stands apart: function {name}( is not function_exists(', async () => {
  const { found } = await told({ 'hooks.php': "<?php\nif (function_exists('x')) {\n  paso_go();\n}\nfunction   paso_go() {}\n" });
  expect(found).toEqual([]);
});

describe('a new theme', () => {
  it('of a platform file notes where that lies, so that the next command finds it', async () => {
    const place = new Workplace();
    await place.run('new', 'albar', '--platform', 'vereda', '--yes');
    writeFiles(place.folder, { 'hosts/own.platform.yaml': 'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\n' });
    await place.run('new', 'paso', '--platform', 'hosts/own.platform.yaml', '--kit', './albar', '--yes');
    expect(readFileSync(place.path('paso/pionero.yaml'), 'utf8')).toContain('platform: ../hosts/own.platform.yaml\n');
    expect(await place.json('check', 'paso')).toMatchObject({ platform: 'own', findings: [] });
    writeFiles(place.folder, { 'pionero.yaml': 'platform: hosts/own.platform.yaml\n' });
    await place.run('new', 'cierzo', '--platform', 'hosts/own.platform.yaml', '--kit', './albar', '--yes');
    expect(() => readFileSync(place.path('cierzo/pionero.yaml'))).toThrow(/ENOENT/);
  });

  it('of a kit with a configuration of its own keeps that, is checked by it, and finds its parent on another shelf', async () => {
    const place = new Workplace().withShelf();
    await place.run('new', 'mochilina', '--platform', 'vereda', '--parent', 'albar', '--shelf', 'demo/shelf', '--to', 'kits', '--yes');
    writeFiles(place.path('kits'), {
      'mochilina/pionero.yaml': '# ours\nrules: { image/missing: error, parent/styles: off }\n',
      'mochilina/sheet.css': HEAD.replace('---*/', 'parent: albar\n---*/'),
    });
    await place.run('kit', 'make', 'kits/mochilina', '--yes', '--shelf', 'demo/shelf');
    const made = await place.run(
      'new',
      'cierzo',
      '--kit',
      'kits/mochilina',
      '--platform',
      'vereda',
      '--parent',
      'albar',
      '--shelf',
      'demo/shelf',
      '--to',
      '.',
      '--yes',
    );
    expect(made).toMatchObject({ status: 0, stdout: expect.not.stringMatching(/parent\/styles/) as string });
    expect(readFileSync(place.path('cierzo/pionero.yaml'), 'utf8')).toMatch(
      /^# ours\nrules: .*\nplatform: vereda\nshelves:\n {2}- \.\.\/demo\/shelf\n$/,
    );
    expect((await findings(place, 'cierzo')).found).toEqual([]);
  });
});

it('platform check points at the line of the kit that does not pass', async () => {
  const place = new Workplace();
  await place.run('new', 'mochila', '--platform', 'vereda', '--to', 'kits', '--yes');
  const kit = 'pionero: kit/1\nname: bare\ntitle: Bare\nabout: x\ntheme: mochila\n';
  writeFiles(place.folder, {
    'kits/kit.yaml': kit,
    'kits/mochila/main.html': '<p>\n{{> gone}}</p>\n',
    'own.platform.yaml': 'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\n',
  });
  const { status, stderr } = await place.run('platform', 'check', './own.platform.yaml');
  expect([status, stderr]).toEqual([2, expect.stringMatching(/kits\/mochila\/main\.html:2:5 .*the kit “bare” does not pass/s)]);
});

it('names of the host in PHP are the host’s in any case', async () => {
  const { place } = await told({ 'hooks.php': '<?php\nfunction paso_setup() { MENU_Paso(); }\n', 'docs/a.css': '.MENU_Paso { }\n' });
  writeFiles(place.folder, { 'own.platform.yaml': 'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\nhost-names: [menu_*]\n' });
  const { kept } = (await place.json('clone', 'paso', 'lumbre', '--platform', './own.platform.yaml', '--dry-run')) as {
    kept: { file: string; reason: string }[];
  };
  expect(kept.filter(({ reason }) => reason.includes('the host owns')).map(({ file }) => file)).toEqual(['hooks.php']);
});
