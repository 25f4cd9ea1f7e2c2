import { parseXml, XmlElement } from '@rgrove/parse-xml';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { parse as parseYaml } from 'yaml';
import { DEMO_SHELF, DEMO_SHELVES, Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const TITLE = 'Rock & Ice: "North" <Face>';

/** One row a shipped platform: where its demo parent lies, what a theme is called there, and an independent reader of the title. */
interface Row {
  readonly shelf?: string;
  readonly parent?: string;
  readonly ids: readonly [first: string, second: string];
  readonly vendor?: string;
  readonly folder: (id: string) => string;
  readonly archive: (id: string) => string;
  readonly manifest: (id: string) => string;
  readonly title: (text: string) => unknown;
  /** A fact that can be set besides the title, where there is one. */
  readonly bumps?: boolean;
}

const plain = { folder: (id: string) => id, archive: (id: string) => `${id}.zip` };
const ROWS: Record<string, Row> = {
  vereda: {
    ...plain,
    shelf: '../shelf',
    parent: 'albar',
    ids: ['cierzo', 'cumbre-sur'],
    manifest: () => 'sheet.css',
    title: (text) => (parseYaml(text.split(/\/\*---|---\*\//)[1] ?? '') as { title: string }).title,
    bumps: true,
  },
  cordada: {
    ...plain,
    shelf: 'cordada',
    parent: 'albar',
    ids: ['cierzo', 'cumbre_sur'],
    manifest: (id) => `${id}.cordada.yaml`,
    title: (text) => (parseYaml(text) as { title: string }).title,
  },
  tramo: {
    shelf: 'tramo',
    parent: 'albar',
    ids: ['cierzo', 'cumbre-sur'],
    vendor: 'Wardens',
    folder: (id) => `Wardens/${id}`,
    archive: (id) => `Wardens-${id}.tar.gz`,
    manifest: () => 'theme.tramo.xml',
    bumps: true,
    title: (text) =>
      parseXml(text).root?.children.find((child): child is XmlElement => child instanceof XmlElement && child.name === 'title')?.text,
  },
  estrato: {
    ...plain,
    shelf: 'estrato',
    parent: 'albar',
    ids: ['cierzo', 'cumbre-sur'],
    manifest: () => 'layer.mjs',
    bumps: true,
    title: (text) =>
      JSON.parse(
        execFileSync(process.execPath, [
          '--input-type=module',
          '-e',
          `${text.replace('export default', 'const layer =')}console.log(JSON.stringify(layer.title))`,
        ]).toString(),
      ) as unknown,
  },
  horquilla: {
    ...plain,
    shelf: 'horquilla',
    parent: 'albar',
    ids: ['cierzo', 'cumbresur'],
    manifest: () => 'about.php',
    bumps: true,
    title: (text) => /'title' => '((?:[^'\\]|\\.)*)'/.exec(text)?.[1]?.replace(/\\(.)/g, '$1'),
  },
  bloque: {
    ...plain,
    ids: ['cierzo', 'cumbre-sur'],
    manifest: () => 'bloque.toml',
    bumps: true,
    title: (text) => JSON.parse(/^title = (".*")$/m.exec(text)?.[1] ?? 'null') as unknown,
  },
  icons: {
    ...plain,
    archive: (id) => `${id}.tar.gz`,
    shelf: 'icons',
    parent: 'albar',
    ids: ['cierzo', 'cumbre-sur'],
    manifest: () => 'index.theme',
    title: (text) => /^Name=(.*)$/m.exec(text)?.[1],
  },
};

it.each(['rehearse', 'trace', 'meta show'])('%s says so where a platform knows no templates', async (command) => {
  const said = async (theme: string) => (await new Workplace().run(...command.split(' '), theme)).stdout;
  const note = 'describes no templates, so there are no pages to show';
  expect(await said(join(DEMO_SHELVES, 'icons/albar'))).toContain(note);
  expect(await said(join(DEMO_SHELF, 'albar'))).not.toContain(note);
});

it('has a row for every shipped platform', async () => {
  const listed = (await new Workplace().json('platform', 'list')) as unknown as { name: string }[];
  // Themes of these have no version; NAME-host.test.ts lets the hosts themselves judge them.
  expect([...Object.keys(ROWS), 'sphinx', 'roundcube', 'mkdocs', 'hexo', 'marp'].sort()).toEqual(listed.map(({ name }) => name).sort());
});

describe.each(Object.entries(ROWS))('%s', (platform, row) => {
  const [first, second] = row.ids;
  const vendor = row.vendor === undefined ? [] : ['--vendor', row.vendor];
  const parent =
    row.parent === undefined || row.shelf === undefined ? [] : ['--parent', row.parent, '--shelf', join(DEMO_SHELVES, row.shelf)];
  const kits: [string, string[]][] = [
    ['bare', []],
    ['standard', []],
  ];
  if (parent.length > 0) kits.push(['child', parent]);

  it.each(kits)('new, check, clone, meta, pack, rehearse, undo, from the kit %s', async (kit, more) => {
    const place = new Workplace();
    const shelf = kit === 'child' ? more.slice(2) : [];
    const made = await place.json('new', first, '--platform', platform, '--kit', kit, ...more, ...vendor, '--to', '.', '--yes');
    expect(made).toMatchObject({ kit, applied: true });
    const own = row.folder(first);
    expect((await place.json('check', own, ...shelf))['findings']).toEqual([]);
    const before = snapshot(place.path(own));
    expect(Object.entries(before).filter(([path, content]) => /mochil/i.test(path + content))).toEqual([]);

    expect(await place.run('meta', 'set', own, `title=${TITLE}`, '--yes')).toMatchObject({ status: 0, stderr: '' });
    expect(row.title(readFileSync(place.path(own, row.manifest(first)), 'utf8'))).toBe(TITLE);
    expect((await place.json('meta', 'show', own))['theme']).toMatchObject({ title: TITLE });
    expect((await place.run('undo', '--yes')).status).toBe(0);
    expect(snapshot(place.path(own))).toEqual(before);
    expect((await place.run('meta', 'bump', 'minor', own, '--yes')).status).toBe(row.bumps === true ? 0 : 2);

    expect(await place.json('clone', own, second, ...vendor, ...shelf, '--yes')).toMatchObject({
      applied: true,
      leftovers: [],
      unsure: [],
    });
    const cloned = row.folder(second);
    expect((await place.json('check', cloned, ...shelf))['findings']).toEqual([]);
    expect(existsSync(place.path(cloned, row.manifest(second)))).toBe(true);
    expect(await place.json('pack', cloned, ...shelf)).toMatchObject({ archive: place.path(row.archive(second)), verified: true });
    const rehearsed = await place.json('rehearse', row.archive(second), ...shelf);
    expect(rehearsed).toMatchObject({ recognised: true, reasons: [], platform });
    expect((rehearsed['pages'] as { problem?: string }[]).filter((page) => page.problem !== undefined)).toEqual([]);
  });

  it('has a sound platform file', async () => {
    expect(await new Workplace().json('platform', 'check', platform)).toMatchObject({ problems: [] });
  });

  it('has a theme without findings on the demo shelf', async () => {
    if (row.shelf === undefined) return;
    const theme = join(DEMO_SHELVES, row.shelf, platform === 'tramo' ? 'HutLeague/albar' : 'albar');
    expect((await new Workplace().json('check', theme))['findings']).toEqual([]);
  });
});

describe('facts', () => {
  const setUp = async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--set', 'tags=wide,calm', '--yes');
    return place;
  };

  it('that are lists take and lose entries', async () => {
    const place = await setUp();
    expect((await place.run('meta', 'set', 'paso', 'tags+=dark', 'tags-=wide', '--yes')).status).toBe(0);
    expect(readFileSync(place.path('paso/sheet.css'), 'utf8')).toMatch(/tags: \[ ?calm, dark ?\]/);
    expect((await place.run('meta', 'set', 'paso', 'tags-=wide', '--yes')).stderr).toMatch(/“wide” is not among the tags[^]*calm, dark/);
  });

  it('that disagree are made to agree', async () => {
    const place = await setUp();
    writeFileSync(place.path('paso/README.md'), '<!--\nVersion: 1.3.0\n-->\n# Paso\n');
    expect((await place.run('check', 'paso')).stdout).toMatch(/“Version” is “1\.3\.0” here, but “0\.1\.0” in sheet\.css/);
    expect((await place.run('meta', 'sync', 'paso', '--from', 'sheet.css', '--dry-run')).stdout).toMatch(/✓ 0\.1\.0[^]*✗ 1\.3\.0/);
    expect((await place.run('meta', 'sync', 'paso', '--yes')).status).toBe(0);
    expect(readFileSync(place.path('paso/sheet.css'), 'utf8')).toContain('version: 1.3.0\n');
    await place.run('meta', 'bump', 'major', 'paso', '--yes');
    expect(readFileSync(place.path('paso/README.md'), 'utf8')).toContain('Version: 2.0.0\n');
    expect((await place.run('check', 'paso')).status).toBe(0);
  });

  it.each([
    [['version=1.3'], /cannot be the version[^]*write 1\.3\.0/],
    [['hosts=soon'], /cannot be the hosts[^]*a range of releases/],
    [['licence=MIT'], /has no fact “licence”[^]*“license”/],
    [['license=mit'], /cannot be the license[^]*write MIT/],
    [['homepage=x'], /cannot be the homepage/],
    [['title'], /there is no folder title/],
    [[], /nothing to set/],
  ])('%s are refused before anything is written', async (changes, says) => {
    const place = await setUp();
    const before = snapshot(place.path('paso'));
    const outcome = await place.run('meta', 'set', ...(changes[0] === 'title' ? changes : ['paso', ...changes]), '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([2, expect.stringMatching(says)]);
    expect(snapshot(place.path('paso'))).toEqual(before);
  });
});

describe('platform files', () => {
  const example = join(import.meta.dirname, '../../docs/examples/sendero.platform.yaml');

  it('of the tutorial is sound, and makes a theme', async () => {
    const place = new Workplace();
    expect(await place.run('platform', 'check', example)).toMatchObject({ status: 0 });
    expect(await place.run('new', 'paso', '--platform', example, '--yes')).toMatchObject({ status: 0 });
    expect(await place.run('check', 'paso', '--platform', example)).toMatchObject({ status: 0 });
    expect(await place.json('clone', 'paso', 'cumbre-sur', '--platform', example, '--yes')).toMatchObject({ leftovers: [] });
    expect(await place.json('pack', 'cumbre-sur', '--platform', example)).toMatchObject({ verified: true });
    expect(await place.run('rehearse', 'cumbre-sur', '--platform', example)).toMatchObject({ status: 0 });
  });

  it('say what newer releases call otherwise, and what a submission must hold', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', example, '--yes');
    writeFileSync(place.path('paso/board.yaml'), 'label: Paso\nrelease: 1.0.0\nfor: ">=1"\n');
    expect((await place.run('check', 'paso', '--platform', example, '--fix', '--yes')).stdout).toMatch(/rename “label” to “name”/);
    expect((await place.run('check', 'paso', '--platform', example)).status).toBe(0);
    writeFileSync(place.path('paso/board.yaml'), 'name: Paso\nrelease: 1.0.0\nfor: ">=1"\nstamp: bird.svg\n');
    expect((await place.run('check', 'paso', '--platform', example)).stdout).toMatch(
      /4:8 .*“stamp” names bird\.svg[^]*add pictures\/bird\.svg/,
    );
    await place.run('new', 'cierzo', '--platform', 'bloque', '--yes');
    rmSync(place.path('cierzo/tokens.json'));
    expect((await place.run('pack', 'cierzo')).status).toBe(0);
    expect(await place.run('pack', 'cierzo', '--for', 'submission')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/must hold tokens\.json/) as string,
    });
  });

  it('say which languages a theme speaks, and for which parents it is made', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', example, '--yes');
    const told = async (...argv: string[]) =>
      ((await place.json('check', ...argv))['findings'] as { rule: string; line: number; message: string }[]).map(
        ({ rule, line, message }) => `${rule} ${line}: ${message}`,
      );
    writeFiles(place.path('paso'), {
      'words/es-MX.json': '{}',
      'board.yaml': 'name: Paso\nrelease: 1.0.0\nfor: ">=1"\ntongues:\n  - en\n  - es\n  - ca\n',
    });
    expect(await told('paso', '--platform', example)).toEqual([
      'strings/language 7: “ca” is stated, and there is no catalogue words/ca.json',
    ]);

    const made =
      'pionero: platform/1\nextend: vereda\nname: house\ntitle: House\ninheritance: { made-for: builtOn }\ndocuments:\n  - path: sheet.css\n    fields: [{ key: built-on, fact: builtOn }]\n';
    writeFiles(place.folder, { 'house.platform.yaml': made });
    await place.run('new', 'albar', '--platform', 'vereda', '--yes');
    await place.run('new', 'noche', '--platform', 'vereda', '--parent', 'albar', '--yes');
    const sheet = readFileSync(place.path('noche/sheet.css'), 'utf8');
    const version = async (range: string, platform: string) => {
      const isStated = platform !== 'vereda';
      writeFiles(place.path('noche'), { 'sheet.css': isStated ? sheet.replace('parent:', `built-on: "${range}"\nparent:`) : sheet });
      writeFiles(place.folder, { 'pionero.yaml': isStated ? '' : `made-for: { albar: "${range}" }\n` });
      return (await told('noche', '--platform', platform)).filter((line) => line.startsWith('parent/version'));
    };
    for (const platform of ['vereda', './house.platform.yaml']) {
      expect([await version('^0.1.0', platform), await version('>=1', platform), await version('soon', platform)]).toEqual([
        [],
        [expect.stringMatching(/“albar” is version 0\.1\.0, and this theme is made for >=1/)],
        [expect.stringMatching(/“soon” is not a range of versions/)],
      ]);
    }
  });

  it.each<[width: number, height: number, says: string[]]>([
    [800, 600, []],
    [801, 601, []],
    [800, 800, ['image/size: the cover has 800 × 800 pixels; expected: 4:3']],
    [399, 299, ['image/size: the cover has 399 × 299 pixels; expected: at least 400 × 300']],
    [400, 299, ['image/size: the cover has 400 × 299 pixels; expected: at least 400 × 300']],
  ])('judge a picture of %d × %d by its ratio and least size', async (width, height, says) => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', example, '--yes');
    const picture = readFileSync(join(import.meta.dirname, '../../demo/shelf/albar/cover.png'));
    picture.writeUInt32BE(width, 16);
    picture.writeUInt32BE(height, 20);
    writeFileSync(place.path('paso/cover.png'), picture);
    const found = (await place.json('check', 'paso', '--platform', example))['findings'] as { rule: string; message: string }[];
    expect(found.map(({ rule, message }) => `${rule}: ${message}`)).toEqual(says);
  });

  it('let a parent keep kits of its own, those not for use apart', async () => {
    const place = new Workplace();
    await place.run('new', 'albar', '--platform', 'cordada', '--yes');
    const kit = (name: string, more: string) => {
      mkdirSync(place.path(`albar/kits/${name}/morral`), { recursive: true });
      writeFileSync(
        place.path(`albar/kits/${name}/kit.yaml`),
        `pionero: kit/1\nname: ${name}\ntitle: ${name}\nabout: x\ntheme: morral\nfor: child\n`,
      );
      writeFileSync(
        place.path(`albar/kits/${name}/morral/morral.cordada.yaml`),
        `title: Morral\nis: theme\nhosts: ">=4"\nbase: albar\n${more}`,
      );
    };
    kit('quick', '');
    kit('secret', 'hidden: true\n');
    expect(await place.json('new', 'cierzo', '--platform', 'cordada', '--parent', 'albar', '--kit', 'quick', '--yes')).toMatchObject({
      kit: 'quick',
      applied: true,
    });
    expect((await place.run('new', 'lumbre', '--platform', 'cordada', '--parent', 'albar', '--kit', 'secret', '--yes')).stderr).toMatch(
      /the kit “secret” is not for use\.\n.*hidden: true/,
    );
  });

  it('in the user’s folder are known by name, and may extend a shipped one', async () => {
    const place = new Workplace();
    const folder = place.path('config/pionero/platforms');
    mkdirSync(folder, { recursive: true });
    writeFileSync(
      join(folder, 'house.platform.yaml'),
      'pionero: platform/1\nextend: vereda\nname: house\ntitle: House rules\ndocuments:\n  - path: sheet.css\n    fields: [{ key: license, required: always }]\n',
    );
    const env = { XDG_CONFIG_HOME: place.path('config') };
    expect((await place.runUnder(env, 'platform', 'list')).stdout).toMatch(/house +A theme is one folder/);
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const outcome = await place.runUnder(env, 'check', 'paso', '--platform', 'house');
    expect(outcome.stdout).toMatch(/the header of sheet\.css has no “license”/);
    expect((await place.runUnder(env, 'check', 'paso')).stderr).toMatch(
      /fits more than one platform: house, vereda|fits more than one platform: vereda, house/,
    );
  });

  it.each<[string, string, RegExp]>([
    ['a syntax that is none', 'syntax: yml', /:\d+:\d+ “documents\.0\.syntax” is wrong: there is no syntax “yml”; did you mean “yaml”\?/],
    ['a role that falls back on nothing', 'else: steps', /there is no role “steps” to fall back on/],
    [
      'a state of a page that is none',
      'states: { lost: { roles: [attic], sample: {} } }',
      /“states\.lost\.roles\.0” is wrong: there is no role “attic”|there is no role “attic”/,
    ],
    ['a pattern that could run away', 'pattern: "^(a)\\\\1$"', /matched in linear time/],
    ['a place outside', 'home: ../../x/{id', /:\d+:\d+ “home” is wrong: it must not hold the parts \. and \.\./],
    ['a NUL in a place', 'top: "a\\0/{id}"', /“package\.top” is wrong: it holds a control character/],
    ['a placeholder that is none', 'name: "{ident}"', /“\{ident\}” is no placeholder/],
    ['an unknown key', 'colour: red', /“colour” is not known here/],
  ])('with %s are reported with the place', async (_name, wrong, says) => {
    const place = new Workplace();
    const key = /^\w+/.exec(wrong)?.[0] ?? '';
    const text = readFileSync(example, 'utf8');
    const line = new RegExp(`\\b${key}: (?:"[^"]*"|[^,}\\n]+)`);
    const broken =
      key === 'colour' || key === 'states'
        ? `${text}${wrong}\n`
        : key === 'name'
          ? text.replace('package: {', 'package: { name: "{ident}",')
          : text.replace(line, wrong);
    writeFileSync(place.path('x.platform.yaml'), broken);
    expect(await place.run('platform', 'check', 'x.platform.yaml')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(says) as string,
    });
  });
});
