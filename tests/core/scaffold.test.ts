import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { plannedTree } from '../../src/core/changes/plan.ts';
import { ConfigurationError, RefusedError, UsageError } from '../../src/core/errors.ts';
import { checkTheme } from '../../src/core/rules/engine/check.ts';
import { planFixes } from '../../src/core/rules/engine/fix.ts';
import { planClone } from '../../src/core/rename/rename-theme.ts';
import { checkPlatform } from '../../src/core/scaffold/check-platform.ts';
import { checkKit } from '../../src/core/scaffold/check-kit.ts';
import { planKit } from '../../src/core/scaffold/make-kit.ts';
import { applyPlan } from '../../src/core/changes/apply.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import { streamOutput } from '../../src/core/changes/write-output.ts';
import { planPackage, writePackage } from '../../src/core/package/pack-theme.ts';
import { chooseKit, findKit, listKits } from '../../src/core/scaffold/kits.ts';
import { planNewTheme, type NewThemeRequest } from '../../src/core/scaffold/new-theme.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { isOneFile } from '../../src/core/theme/place.ts';
import { Shelves } from '../../src/core/theme/shelf.ts';
import { DEMO_SHELF, DEMO_SHELVES, Workplace } from '../support/program.ts';
import { kitFiles, onShelf, platformNamed, snapshot, themeOf, writeFiles } from '../support/trees.ts';

const AT_ROOT = { currentFolder: '/' };

const vereda = platformNamed('vereda');
const request = (more: Partial<NewThemeRequest> = {}): NewThemeRequest => ({
  platform: vereda,
  kit: chooseKit({ platform: vereda }, undefined, more.parent !== undefined),
  id: 'cierzo',
  facts: {},
  shelves: new Shelves(vereda, [DEMO_SHELF]),
  into: '/nowhere',
  ...more,
});

function thrownBy(work: () => unknown): unknown {
  try {
    work();
  } catch (error) {
    return error;
  }
  throw new Error('nothing was thrown');
}

describe.each(shippedPlatforms().map((platform) => [platform.contract.name, platform] as const))('every kit of %s', (name, platform) => {
  const shelf = name === 'vereda' ? DEMO_SHELF : join(DEMO_SHELVES, name);

  it.each(listKits({ platform }).map((kit) => [kit.name, kit] as const))(
    '%s, under every awkward name and without each of its parts, has no findings and nothing left of the kit',
    (_kit, kit) => {
      const { tried, problems } = checkKit(kit, [shelf]);
      expect(problems.map(({ id, without, problem }) => [id, without, problem])).toEqual([]);
      expect(tried).toBeGreaterThanOrEqual(11 * (1 + kit.parts.length));
      expect(kit.parts.length).toBeGreaterThanOrEqual(kit.name === 'standard' && !isOneFile(platform) ? 2 : 0);
    },
  );

  it('passes its own platform’s check, and the platform file has no contradictions', () => {
    expect(checkPlatform(platform)).toEqual([]);
  });
});

const sphinx = platformNamed('sphinx');
const OF_SPHINX = { platform: sphinx, kit: chooseKit({ platform: sphinx }, undefined, true), shelves: new Shelves(sphinx, []) };

describe('a new theme', () => {
  it.each<[string, Partial<NewThemeRequest>, typeof UsageError | typeof RefusedError, RegExp]>([
    ['with a bad id', { id: 'Cierzo!' }, UsageError, /cannot be the id/],
    ['with an id that is taken', { id: 'albar' }, RefusedError, /taken by the theme in/],
    ['with an id that is taken but for case', { id: 'albar', shelves: new Shelves(vereda, [DEMO_SHELF]) }, RefusedError, /taken/],
    ['with a parent that is not there', { parent: 'lumbre' }, UsageError, /in none of the folders of themes/],
    ['with a parent of the host’s in the wrong case', { ...OF_SPHINX, parent: 'Classic' }, UsageError, /none of the folders/],
    [
      'with files of a parent that the host brings',
      { ...OF_SPHINX, parent: 'classic', take: ['page.html'] },
      UsageError,
      /the host brings it/,
    ],
    ['with a parent in the wrong case', { parent: 'Albar' }, UsageError, /in none of the folders of themes/],
    ['with an unknown fact', { facts: { colour: 'red' } }, UsageError, /has no fact “colour”/],
    ['with a fact of the wrong type', { facts: { version: '1' } }, UsageError, /cannot be the version/],
    [
      'for a platform without parents',
      {
        platform: platformNamed('bloque'),
        kit: chooseKit({ platform: platformNamed('bloque') }, undefined, false),
        shelves: new Shelves(platformNamed('bloque'), []),
        parent: 'albar',
      },
      UsageError,
      /have no parents/,
    ],
    [
      'without a vendor',
      {
        platform: platformNamed('tramo'),
        kit: chooseKit({ platform: platformNamed('tramo') }, undefined, false),
        shelves: new Shelves(platformNamed('tramo'), []),
      },
      UsageError,
      /needs a vendor/,
    ],
  ])('%s is refused', (_name, more, error, says) => {
    const plan = () => planNewTheme(request(more));
    expect(plan).toThrow(error);
    expect(plan).toThrow(says);
  });

  it('notes where its parent lies, when that is on another shelf', () => {
    const { plan } = planNewTheme(request({ parent: 'albar' }));
    const note = plannedTree(plan.operations).read('pionero.yaml').toString();
    expect(note).toMatch(/^# .*\nplatform: vereda\nshelves:\n {2}- \.\.\/.*demo\/shelf\n$/);
    const beside = planNewTheme(request({ parent: 'albar', into: DEMO_SHELF }));
    expect(beside.plan.operations.map((operation) => operation.path)).not.toContain('pionero.yaml');
  });

  it('writes nothing while it is planned', () => {
    const place = new Workplace();
    planNewTheme(request({ into: place.folder }));
    expect(snapshot(place.folder)).toEqual({});
  });
});

describe('kits', () => {
  it.each([
    ['nonsense', false, /has no kit “nonsense”/],
    ['stndard', false, /has no kit “stndard”/],
    ['child', false, /makes a child: it needs a parent/],
    ['bare', true, /makes a theme without a parent/],
  ])('%s (for a child: %s) cannot be had', (kit, isChild, says) => {
    expect(() => chooseKit({ platform: vereda }, kit, isChild)).toThrow(says);
  });

  it.each([
    ['pionero: kit/1\nname: x\n', /“title” is missing/],
    ['pionero: kit/2\nname: x\ntitle: x\nabout: x\ntheme: x\n', /“pionero” must be "kit\/1"/],
    ['pionero: kit/1\nname: x\ntitle: x\nabout: x\ntheme: gone\n', /names the theme “gone”, which is not beside it/],
  ])('with the description %j are reported', (text, says) => {
    const place = new Workplace();
    writeFiles(place.path('kits/x'), { 'kit.yaml': text });
    const list = () => listKits({ platform: { ...vereda, folder: place.folder } });
    expect(list).toThrow(ConfigurationError);
    const { what, problems } = thrownBy(list) as ConfigurationError;
    expect([what, ...problems.map((problem) => problem.message)].join(' ')).toMatch(says);
  });
});

describe('a kit of one’s own', () => {
  const menu = { name: 'menu', title: 'the menu', files: ['partials/albar-nav.html', 'scripts/**'] };
  const wishes = { about: 'For huts', parts: [menu], asks: ['author'], markers: ['homepage'] };

  /** The demo's shelf, on which albar is made a kit. */
  async function setUp() {
    const place = new Workplace().withShelf();
    const shelf = place.path('demo/shelf');
    const shelves = new Shelves(vereda, [shelf]);
    const opened = openThemeFolder(join(shelf, 'albar'), AT_ROOT);
    const made = planKit(opened, wishes);
    await applyPlan(made.plan, { journal: new Journal(place.path('.journal')), now: 1 });
    const kit = async (path: string) => findKit({ platform: vereda, shelves }, path, false);
    const names = () => listKits({ platform: vereda, shelves }).map((each) => each.name);
    return { place, shelf, shelves, opened, made, kit, names };
  }

  it('is written beside the theme, with a judgement of its name', async () => {
    const { made, names, opened } = await setUp();
    expect(made).toMatchObject({ file: 'albar.kit.yaml', weight: 'distinctive', unsure: [] });
    expect(names()).toContain('albar');
    expect(() => planKit(opened, wishes)).toThrow(/is a kit already/);
  });

  it.each([
    [{ ...wishes, parts: [{ ...menu, files: ['nothing/**'] }] }, /nothing matches nothing/],
    [{ ...wishes, parts: [], asks: ['colour'] }, /no fact “colour”/],
  ])('is refused when it asks for what is not there: %j', (wrong, says) => {
    expect(() => planKit(openThemeFolder(join(DEMO_SHELF, 'albar-noche'), AT_ROOT), wrong)).toThrow(says);
  });

  it('makes themes without its markers and without a part and all that refers to it', async () => {
    const { kit, shelf, shelves } = await setUp();
    const { theme, findings } = planNewTheme(request({ kit: await kit(join(shelf, 'albar')), shelves, without: ['menu'] }));
    expect(theme.tree.get('partials/cierzo-nav.html')).toBeUndefined();
    expect(theme.tree.get('scripts')).toBeUndefined();
    expect(theme.text('homepage')).toBeUndefined();
    expect(theme.tree.entries.filter((entry) => theme.source(entry.path)?.text.includes('{{> cierzo-nav}}'))).toEqual([]);
    expect(findings).toEqual([]);
  });

  it('comes from a folder without a kit file, and from an archive, as well', async () => {
    const { kit, opened, place, shelf } = await setUp();
    const plan = planPackage(opened.theme, []);
    await streamOutput(place.path('albar.zip'), new Journal(place.path('.journal')), { write: async (sink) => writePackage(plan, sink) });
    expect((await kit(place.path('albar.zip'))).theme.names).toMatchObject({ id: 'albar', title: 'Albar' });
    await expect(kit(join(shelf, 'albar-noche'))).rejects.toThrow(/makes a child/);
    await expect(kit(place.path('demo'))).rejects.toThrow(/neither a kit nor a theme/);
    await expect(kit('./nowhere')).rejects.toThrow(/there is no kit in/);
  });

  it('that is not offered is neither listed nor found by name', async () => {
    const { names, shelf, shelves } = await setUp();
    writeFileSync(join(shelf, 'albar.kit.yaml'), `${readFileSync(join(shelf, 'albar.kit.yaml'), 'utf8')}offered: false\n`);
    expect(names()).not.toContain('albar');
    expect(() => chooseKit({ platform: vereda, shelves }, 'albar', false)).toThrow(/has no kit “albar”/);
  });
});

describe('a clone', () => {
  it('leaves its source as it was, and gives back what was there when it is cloned back', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo/shelf/albar'));
    const there = await planClone(openThemeFolder(place.path('demo/shelf/albar'), AT_ROOT), place.folder, { id: 'quebranta', keep: [] });
    expect(snapshot(place.path('demo/shelf/albar'))).toEqual(before);
    const tree = plannedTree(there.plan.operations);
    writeFiles(
      place.path('quebranta'),
      Object.fromEntries(tree.entries.flatMap((entry) => (entry.kind === 'file' ? [[entry.path, tree.read(entry.path)]] : []))),
    );
    const back = await planClone(openThemeFolder(place.path('quebranta'), AT_ROOT), place.path('elsewhere'), { id: 'albar', keep: [] });
    const again = plannedTree(back.plan.operations);
    for (const path of [
      'hooks.php',
      'sheet.css',
      'scripts/albar.min.js',
      'strings/albar.es.ini',
      'docs/translators.txt',
      'styles/editor.css',
      'pages/front.html',
    ]) {
      expect([path, again.read(path).toString('latin1')]).toEqual([path, before[path]?.replace(/^\d+ /, '')]);
    }
  });

  it.each([
    ['albar-noche', 'taken'],
    ['Bad Id', 'cannot be the id'],
    ['con', 'Windows keeps this name'],
  ])('cannot be called %s', async (id, says) => {
    const source = openThemeFolder(join(DEMO_SHELF, 'albar'), AT_ROOT);
    const plan = planClone(source, DEMO_SHELF, { id, keep: [] });
    const { what, why } = (await plan.catch((error: unknown) => error)) as UsageError;
    expect(`${what} ${why}`).toContain(says);
  });
});

describe('fixes', () => {
  it('are planned until a further check would offer none', () => {
    const broken = openThemeFolder(join(DEMO_SHELF, 'cornisa'), AT_ROOT);
    const { plan, fixes } = planFixes(broken.theme, broken.shelves, broken.folder, {});
    // Renaming the field uncovers that its value is wrong too.
    expect(fixes.map(({ finding }) => finding.rule)).toEqual(
      expect.arrayContaining(['field/unknown', 'field/type', 'parent/missing', 'parent/styles', 'template/fragment', 'asset/missing']),
    );
    const files = Object.fromEntries(
      plan.operations.flatMap((operation) => (operation.op === 'edit' ? [[operation.path, operation.bytes]] : [])),
    );
    expect(files['sheet.css']?.toString()).toMatch(/title: Cornisa[^]*license: MIT[^]*parent: albar\nparent-sheet: before\n/);
  });

  it('never touch the same place twice', () => {
    const theme = themeOf(vereda, 'paso', {
      'sheet.css': '/*---\ntitel: Paso\nversoin: 1.0\nhosts: ">=2"\nlicence: mit\n---*/\n',
      'main.html': '<head></head><body></body>\n',
    });
    const { theme: opened, shelves } = onShelf(theme);
    const { plan } = planFixes(opened, shelves, '/nowhere', {});
    const texts = plan.operations.map((operation) => (operation.op === 'edit' ? operation.bytes.toString() : ''));
    expect(texts).toEqual([
      '<head>{{{host.head}}}</head><body>{{{host.foot}}}</body>\n',
      '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\nlicense: MIT\n---*/\n',
    ]);
  });
});

it('has no field missing that can only be said in one way', () => {
  const cordada = platformNamed('cordada');
  const { tree } = planNewTheme({
    platform: cordada,
    kit: chooseKit({ platform: cordada }, undefined, false),
    id: 'paso',
    facts: { hosts: '>=3' },
    shelves: new Shelves(cordada, []),
    into: '/nowhere',
  }).theme;
  const { theme, shelves } = onShelf(themeOf(cordada, 'paso', tree));
  expect(planFixes(theme, shelves, '/nowhere', {}).fixes).toEqual([]);
  // A text that reads like a number is quoted, so that every reader takes it for the text.
  expect(tree.read('paso.cordada.yaml').toString()).toMatch(/hosts: ">=3"\nrelease-line: "?3"?\nbase: none/);
});

it.each<[platform: string, hosts: string, wanted: string[]]>([
  ['bloque', '>=1', ['page-blocks/index.html', 'pages/index.html']],
  ['bloque', '>=3', ['pages/index.html']],
])('on %s for the releases %s it has its files in every place that they look in', (name, hosts, wanted) => {
  const platform = platformNamed(name);
  const kit = chooseKit({ platform }, undefined, false);
  const { theme, findings } = planNewTheme({
    platform,
    kit,
    id: 'paso',
    facts: { hosts },
    shelves: new Shelves(platform, []),
    into: '/nowhere',
  });
  expect(findings).toEqual([]);
  expect(theme.tree.entries.filter(({ path }) => path.endsWith('index.html')).map(({ path }) => path)).toEqual(wanted);
});

it('moves what is in an old place, with one finding for it', () => {
  const platform = platformNamed('bloque');
  const files = kitFiles(platform, 'paso');
  const { 'pages/index.html': page = Buffer.alloc(0), ...others } = files;
  const { theme, shelves, chain } = onShelf(
    themeOf(platform, 'paso', {
      ...others,
      'bloque.toml': others['bloque.toml']?.toString().replace(/hosts = .*/, 'hosts = ">=3"') ?? '',
      'page-blocks/index.html': page,
    }),
  );
  expect(checkTheme(theme, chain, shelves).findings.map(({ rule }) => rule)).toEqual(['file/moved']);
  const fixed = planFixes(theme, shelves, '/shelf/paso', {});
  expect([fixed.findings, fixed.theme.tree.get('page-blocks'), fixed.theme.tree.read('pages/index.html')]).toEqual([
    [],
    expect.anything(),
    page,
  ]);
  expect(fixed.plan.operations.some(({ path }) => path.startsWith('page-blocks'))).toBe(false);
  expect([fixed.plan.isNewRoot, fixed.plan.replaces]).toEqual([true, '/shelf/paso']);
});
