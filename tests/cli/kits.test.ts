import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { Workplace } from '../support/program.ts';
import { named } from '../support/renaming.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

describe('kits', () => {
  it('of every platform are listed, with their parts, and pass their trial', async () => {
    const place = new Workplace();
    const kits = (await place.json('kit', 'list')) as unknown as { platform: string; name: string; parts: { name: string }[] }[];
    const listed = (await place.json('platform', 'list')) as unknown as { name: string }[];
    expect([...new Set(kits.map((kit) => kit.platform))].sort()).toEqual(listed.map(({ name }) => name).sort());
    expect(kits.filter((kit) => kit.name === 'standard' && kit.platform !== 'marp').every((kit) => kit.parts.length >= 2)).toBe(true);
    // All of them are tried in tests/core/scaffold.test.ts.
    const { status, stdout } = await place.run('kit', 'check', '--platform', 'bloque');
    expect([status, stdout.split('\n').filter((line) => line !== '' && !line.startsWith('✓'))]).toEqual([0, []]);
  });

  it('are made of a theme, tried, used without a part, and taken back', async () => {
    const place = new Workplace().withShelf();
    const shelf = place.path('demo/shelf');
    const before = snapshot(shelf);
    const made = await place.run('kit', 'make', 'demo/shelf/albar', '--part', 'menu=partials/albar-nav.html,scripts/**', '--yes');
    expect([made.status, made.stdout]).toEqual([0, expect.stringMatching(/can be renamed unambiguously/)]);
    expect((await place.run('kit', 'check', 'demo/shelf/albar')).stdout).toMatch(/✓ albar .*no problems and nothing left of “albar”/);
    const argv = ['--platform', 'vereda', '--kit', 'albar', '--shelf', 'demo/shelf', '--without', 'menu', '--yes'];
    expect((await place.run('new', 'cumbre-sur', ...argv)).status).toBe(0);
    expect(existsSync(place.path('cumbre-sur/scripts'))).toBe(false);
    expect((await place.json('check', 'cumbre-sur'))['findings']).toEqual([]);
    expect([(await place.run('undo', '--yes')).status, (await place.run('undo', '--yes')).status]).toEqual([0, 0]);
    expect(snapshot(shelf)).toEqual(before);
  });

  it('have texts that a new theme must replace', async () => {
    const place = new Workplace();
    await place.run('new', 'mochila', '--platform', 'vereda', '--yes');
    const page = readFileSync(place.path('mochila/main.html'), 'utf8').replace('<main', '<p>Tell here who keeps Mochila</p>\n<main');
    writeFiles(place.path('mochila'), { 'main.html': page, 'pionero.yaml': 'sample-texts: [Tell here who keeps Mochila]\n' });
    expect((await place.run('kit', 'make', 'mochila', '--yes')).status).toBe(0);
    expect((await place.run('kit', 'check', 'mochila')).status).toBe(0);
    expect((await place.run('new', 'cierzo', '--kit', 'mochila', '--platform', 'vereda', '--yes')).status).toBe(0);
    const told = async () =>
      ((await place.json('check', 'cierzo'))['findings'] as { message: string; file: string }[]).map(({ message }) => message);
    expect(await told()).toContain('“Tell here who keeps Cierzo” is sample text of the kit');
    writeFiles(place.path('cierzo'), {
      'main.html': page.replaceAll('mochila', 'cierzo').replace('Tell here who keeps Mochila', 'Wardens all year'),
    });
    expect((await told()).filter((message) => message.includes('sample'))).toEqual([]);
    expect((await place.json('pack', 'cierzo', '--force'))['entries']).not.toContainEqual(
      expect.objectContaining({ path: 'cierzo/pionero.yaml' }),
    );
  });

  it('with a common word for a name are told of, place by place', async () => {
    const place = new Workplace();
    writeFiles(place.path('menu'), {
      'sheet.css': '/*---\ntitle: Menu\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.menu-x, .menu {}\n',
      'main.html': 'x\n',
    });
    const { stdout } = await place.run('kit', 'make', 'menu', '--dry-run');
    expect(stdout).toMatch(/▲ “menu” cannot be renamed for sure in 1 place, because it is a common word:\n {2}sheet\.css:6:11/);
    expect(existsSync(place.path('menu.kit.yaml'))).toBe(false);
  });

  it('that leave something of their name are found out', async () => {
    const place = new Workplace().withShelf();
    writeFileSync(
      place.path('demo/shelf/albar/main.html'),
      `${readFileSync(place.path('demo/shelf/albar/main.html'), 'utf8')}<!-- aLBaR -->\n`,
    );
    await place.run('kit', 'make', 'demo/shelf/albar', '--yes');
    const { status, stdout } = await place.run('kit', 'check', 'demo/shelf/albar');
    expect([status, stdout]).toEqual([1, expect.stringMatching(/main\.html:\d+ the kit’s name is left: .*aLBaR/)]);
  });

  it.each<[string[], number, RegExp]>([
    [['kit', 'mak', 'albar'], 2, /did you mean “make”/],
    [['kit', 'make', 'demo/shelf/albar', '--part', 'menu', '--yes'], 2, /not of the form NAME=GLOB/],
    [['kit', 'make', 'demo/shelf/albar', '--part', 'menu=nothing.html', '--yes'], 2, /nothing matches nothing\.html/],
    [['kit', 'make', 'demo/shelf/albar', '--ask', 'colour', '--yes'], 2, /no fact “colour”/],
    [['kit', 'make', 'demo/shelf/albar'], 2, /no terminal to confirm on/],
    [['kit', 'check', 'standard'], 2, /platforms have a kit “standard”/],
    [['kit', 'check', 'nothing'], 2, /there is no folder nothing/],
    [['new', 'paso', '--platform', 'vereda', '--without', 'meun', '--kit', 'standard', '--yes'], 2, /no part “meun”/],
    [['new', 'paso', '--platform', 'vereda', '--kit', './nowhere', '--yes'], 2, /there is no kit in/],
    [['new', 'paso', '--platform', 'bloque', '--kit', 'demo/shelf/albar', '--yes'], 2, /is neither a kit nor a theme for Bloque/],
  ])('%j is refused with a reason', async (argv, status, says) => {
    const outcome = await new Workplace().withShelf().run(...argv);
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });
});

it('a large theme is renamed with a worker as it is without', async () => {
  const place = new Workplace();
  const files: Record<string, string> = { 'sheet.css': '/*---\ntitle: Albar\nversion: 1.0.0\nhosts: ">=2"\n---*/\n', 'main.html': 'x\n' };
  for (let i = 0; i < 1700; i++)
    files[`part-${i % 9}/${i % 5 === 0 ? 'albar-' : ''}${i}.${['css', 'js', 'md'][i % 3]}`] = `.albar-${i} { }\n/* Albar ${i} */\n`;
  writeFiles(place.path('albar'), files);
  const { theme } = openThemeFolder(place.path('albar'), { currentFolder: place.folder, platform: 'vereda' });
  const alone = renameTree({ theme, from: named('albar'), to: named('cumbre-sur'), otherThemes: [], keep: [] });
  const told = JSON.parse(
    place.startAndWait('clone', 'albar', 'cumbre-sur', '--platform', 'vereda', '--jobs', '2', '--yes', '--format', 'json').stdout,
  ) as {
    edits: unknown[];
    moves: unknown[];
    leftovers: unknown[];
  };
  expect(told.edits).toEqual(alone.edits);
  expect([told.moves, told.leftovers]).toEqual([alone.moves, []]);
  const made = new DiskTree(place.path('cumbre-sur'));
  expect(made.entries.length).toBe(theme.tree.entries.length);
  expect(readFileSync(join(made.root, 'part-0/cumbre-sur-0.css'), 'utf8')).toBe('.cumbre-sur-0 { }\n/* Cumbre Sur 0 */\n');
});
