import { describe, expect, it } from 'vitest';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { confusableWith, judgeId } from '../../src/core/placing/judge-id.ts';
import { Shelves } from '../../src/core/theme/shelf.ts';
import { Workplace } from '../support/program.ts';
import { platformNamed, writeFiles } from '../support/trees.ts';

/** A shelf with `albar`, `albar-noche` and `cornisa`. */
const shelf = (): Workplace => new Workplace().withShelf();
const name = (place: Workplace, ...words: string[]) => place.run('name', ...words, '--platform', 'vereda', '--shelf', 'demo/shelf');

describe('an id', () => {
  it.each<[id: string, status: number, says: RegExp]>([
    [
      'lumbre',
      0,
      /^✓ lumbre can be used\n {2}it can be renamed later without a question[^]*folder +lumbre[^]*in code +lumbre_…[^]*package +lumbre\.zip/,
    ],
    ['albar', 1, /^✗ albar cannot be used\n {2}− the theme in demo\/shelf\/albar is called albar\n[^]*→ free: albar-theme, the-albar/],
    ['Albar', 1, /expected: a lower-case letter[^]*the theme in demo\/shelf\/albar is called albar/],
    ['albarnoche', 0, /▲ albarnoche can be used, and could be taken for another\n {2}− “albar-noche”, on the shelf, has the same letters/],
    ['albra', 0, /▲ albra [^]*“albar”, on the shelf, is one slip of the finger away/],
    ['comisa', 0, /▲ comisa [^]*“cornisa”, on the shelf, looks the same to a quick eye/],
    ['sol', 0, /▲ sol can be used\n {2}it is short: a later rename asks[^]*→ free: sol-theme, the-sol/],
    ['menu', 0, /▲ menu can be used\n {2}it is a common word/],
    ['noche', 0, /it is part of another theme’s id/],
    ['con', 1, /Windows keeps this name for a device/],
    ['conin$', 1, /Windows keeps this name for a device/],
    ['c:foo', 1, /no name of a folder holds : on Windows[^]*→ free: c-foo/],
    ['paso?', 1, /no name of a folder holds \? on Windows[^]*→ free: paso/],
    ['paso.', 1, /Windows takes full stops and blanks at the end of a name away[^]*→ free: paso/],
    ['lumbrе', 1, /− “е” only looks like e: it is a letter of another alphabet; expected: [^]*→ free: lumbre, lumbre-theme/],
    ['сосо', 1, /− “с” only looks like c[^]*→ free: coco, /],
    ['łąka', 1, /− expected: [^]*→ free: laka, /],
    ['the theme', 1, /→ free: the-theme, the-theme-look, the-theme-base, my-the-theme\n/],
  ])('%s', async (id, status, says) => {
    const outcome = await name(shelf(), id);
    expect([outcome.status, outcome.stdout]).toEqual([status, expect.stringMatching(says)]);
  });

  it('that can be used is one that “new” takes, on every platform, and so is each alternative', () => {
    for (const platform of shippedPlatforms()) {
      for (const id of ['Lumbre Alta', 'core', 'x', 'cierzo', '9hut', 'ñandú']) {
        const shelves = new Shelves(platform, []);
        const { problems, alternatives } = judgeId(id, platform, shelves);
        for (const each of [...(problems.length === 0 ? [id] : []), ...alternatives])
          expect([platform.contract.name, each, judgeId(each, platform, shelves).problems]).toEqual([platform.contract.name, each, []]);
        expect([platform.contract.name, id, alternatives.includes(id)]).toEqual([platform.contract.name, id, false]);
      }
    }
  });

  it.each(['ρico', 'рісо', 'PÍCO', 'pic0'])('%s looks like pico', (id) => {
    const pico = { id: 'pico', where: 'shelf' } as const;
    expect(confusableWith(id, [pico, { id: 'pino', where: 'shelf' }])).toEqual([{ ...pico, how: 'look-alike' }]);
  });

  it('is written as the platform writes it, each form once', () => {
    const { written } = judgeId('cierzo', platformNamed('horquilla'), new Shelves(platformNamed('horquilla'), []));
    expect(written.map(({ text }) => text)).toEqual(expect.arrayContaining(['look:cierzo', 'strings/…/look_cierzo.po']));
    expect(new Set(written.map(({ text }) => text)).size).toBe(written.length);
  });

  it('that the host keeps for itself cannot be used', () => {
    const { problems } = judgeId('elastic', platformNamed('roundcube'), new Shelves(platformNamed('roundcube'), []));
    expect(problems).toEqual([{ code: 'grammar', problem: 'the host keeps this name for itself' }]);
  });

  it('of a parent that every host brings cannot be used', () => {
    const icons = platformNamed('icons');
    const brought = { ...icons, contract: { ...icons.contract, id: { ...icons.contract.id, reserved: [] } } };
    expect(judgeId('hicolor', brought, new Shelves(icons, [])).problems).toEqual([{ code: 'brought' }]);
  });

  it('is judged for the platform around, or for all where nothing tells', async () => {
    expect((await shelf().runIn('demo/shelf', 'name', 'lumbre')).stdout).toMatch(/^✓ lumbre can be used\n/);
    const place = new Workplace();
    writeFiles(place.path('work/here'), { '.keep': '' });
    const { stdout, status } = await place.runIn('work/here', 'name', 'cumbre-sur');
    expect([status, stdout]).toEqual([
      0,
      expect.stringMatching(/can be used on \d of \d+ platforms[^]*✗ cordada +expected: .*; cumbre_sur could[^]*✓ vereda\n/),
    ]);
    const { ids } = (await place.json('name', 'lumbre', '--platform', 'vereda')) as { ids: { problems: unknown[] }[] };
    expect(ids).toMatchObject([{ id: 'lumbre', problems: [], confusable: [], weight: 'distinctive' }]);
  });

  it('that differs from another only in the case of its letters is taken', async () => {
    const place = new Workplace();
    await place.run('new', 'Cierzo', '--platform', 'sphinx', '--yes');
    expect(await place.run('new', 'cierzo', '--platform', 'sphinx', '--yes')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/the id “cierzo” is taken by the theme in Cierzo/) as string,
    });
  });

  it('that could be taken for another is told of by new, clone and rename', async () => {
    const place = shelf();
    const says = /▲ “(?:albarnoche|comisa)” could be taken for another: “(?:albar-noche|cornisa)”, on the shelf/;
    const common = ['--shelf', 'demo/shelf', '--to', 'demo/shelf', '--dry-run'];
    expect((await place.run('new', 'albarnoche', '--platform', 'vereda', ...common)).stdout).toMatch(says);
    expect((await place.run('clone', 'demo/shelf/albar', 'comisa', ...common)).stdout).toMatch(says);
    expect((await place.run('rename', 'demo/shelf/albar', 'comisa', '--dry-run')).stdout).toMatch(says);
    writeFiles(place.path('other'), { '.keep': '' });
    expect((await place.run('new', 'lumbre', '--platform', 'vereda', ...common)).stdout).not.toMatch(/taken for another/);
  });
});
