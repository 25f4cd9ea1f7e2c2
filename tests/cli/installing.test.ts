import { cpSync, existsSync, lstatSync, mkdirSync, readFileSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { describe, expect, it } from 'vitest';
import { need } from '../support/needs.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { homeOf } from '../../src/core/theme/layout.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { Workplace } from '../support/program.ts';
import { kitFiles, snapshot, writeFiles } from '../support/trees.ts';

/** The demo's shelf, and a site of its platform with nothing in it. */
function withSite(): Workplace {
  const place = new Workplace().withShelf();
  mkdirSync(place.path('site/themes'), { recursive: true });
  return place;
}

const install = async (place: Workplace, ...argv: string[]) => place.run('install', ...argv, '--to', 'site', '--yes');

describe.each(shippedPlatforms().map((platform) => [platform.contract.name, platform] as const))('a site of %s', (_name, platform) => {
  it('gets a theme where the host looks for it, and gets rid of it by undo', async () => {
    const place = new Workplace();
    const names = { id: 'paso', vendor: 'HutLeague' };
    const home = homeOf(platform, names);
    mkdirSync(place.path('site', dirname(home)), { recursive: true });
    const source = `mine/${fillPlace(platform, names)}`;
    writeFiles(place.path(isOneFile(platform) ? 'mine' : source), {
      ...kitFiles(platform, 'paso'),
      'pionero.yaml': `platform: ${platform.contract.name}\n`,
    });
    const before = snapshot(place.path('site'));
    const done = await install(place, source);
    expect([done.status, done.stderr, done.stdout]).toEqual([0, '', expect.stringMatching(/✓ paso is installed/)]);
    expect(existsSync(place.path('site', home, 'pionero.yaml'))).toBe(false);
    expect(await place.json('check', `site/${home}`, '--platform', platform.contract.name)).toMatchObject({ summary: { errors: 0 } });
    await place.runIn(`site/${dirname(home)}`, 'undo', '--yes');
    expect(snapshot(place.path('site'))).toEqual(before);
  });
});

describe('installing', () => {
  it('brings the parents, and leaves alone what is the same', async () => {
    const place = withSite();
    expect((await install(place, 'demo/shelf/albar-noche', '--with-parents')).stdout).toMatch(
      /✓ albar is installed.*\n✓ albar-noche is installed/,
    );
    const before = snapshot(place.path('site'));
    expect((await install(place, 'demo/shelf/albar-noche', '--with-parents')).stdout).toMatch(
      /albar 2\.3\.0 in themes\/albar: nothing changes/,
    );
    expect(snapshot(place.path('site'))).toEqual(before);
  });

  it('shows what an update changes, from a folder or an archive, and undo brings the old one back', async () => {
    const place = withSite();
    await install(place, 'demo/shelf/albar');
    const old = snapshot(place.path('site'));
    await place.run('meta', 'set', 'demo/shelf/albar', 'version=2.4.0', '--yes');
    rmSync(place.path('demo/shelf/albar/CREDITS.md'));
    writeFileSync(place.path('demo/shelf/albar/partials/extra.html'), '<p>Lumbre</p>\n');
    await place.run('pack', 'demo/shelf/albar', '--out', 'albar.zip');
    const update =
      /albar 2\.3\.0 → 2\.4\.0 in themes\/albar: 1 changed, 1 added, 1 removed\n {2}~ sheet\.css\n {2}\+ partials\/extra\.html\n {2}− CREDITS\.md/;
    for (const source of ['demo/shelf/albar', 'albar.zip']) {
      expect((await place.run('install', source, '--to', 'site', '--dry-run')).stdout).toMatch(update);
      expect(snapshot(place.path('site'))).toEqual(old);
      expect((await install(place, source)).stdout).toMatch(update);
      expect(readFileSync(place.path('site/themes/albar/sheet.css'), 'utf8')).toMatch(/version: 2\.4\.0/);
      await place.runIn('site/themes', 'undo', '--yes');
      expect(snapshot(place.path('site'))).toEqual(old);
    }
  });

  it('links a theme that is worked on', async () => {
    need('links');
    const place = withSite();
    await install(place, 'demo/shelf/albar', '--link');
    expect([lstatSync(place.path('site/themes/albar')).isSymbolicLink(), readlinkSync(place.path('site/themes/albar'))]).toEqual([
      true,
      place.path('demo/shelf/albar'),
    ]);
    // Nothing is written through it.
    const before = snapshot(place.path('demo/shelf'));
    cpSync(place.path('demo/shelf/albar'), place.path('other/albar'), { recursive: true });
    writeFileSync(place.path('other/albar/new.txt'), 'x');
    expect(await install(place, 'other/albar')).toMatchObject({ status: 1, stderr: expect.stringMatching(/it is a link/) as string });
    expect(snapshot(place.path('demo/shelf'))).toEqual(before);
    await place.runIn('site', 'undo', '--yes');
    expect([existsSync(place.path('site/themes/albar')), snapshot(place.path('demo/shelf'))]).toEqual([false, before]);
  });

  it.each<[string, (place: Workplace) => void, string[], number, RegExp]>([
    [
      'a folder that is no site',
      (place) => rmSync(place.path('site/themes'), { recursive: true }),
      ['demo/shelf/albar'],
      1,
      /does not look like a site of Vereda/,
    ],
    ['a theme that the host refuses', () => {}, ['demo/shelf/cornisa'], 1, /the host refuses cornisa: 3 reasons/],
    [
      'another theme of that id',
      (place) =>
        writeFiles(place.path('site/themes/albar'), {
          'sheet.css': '/*---\ntitle: Oak\nversion: 1.0.0\nhosts: ">=2"\nauthor: Neveron\n---*/\n',
        }),
      ['demo/shelf/albar'],
      1,
      /is another theme: “Oak”, and not “Albar”/,
    ],
    [
      'what is no theme',
      (place) => writeFiles(place.path('site/themes/albar'), { 'notes.txt': 'x' }),
      ['demo/shelf/albar'],
      1,
      /is not a theme of Vereda: sheet\.css is not there/,
    ],
    ['no site', () => {}, ['demo/shelf/albar', '--site', 'stagin'], 2, /did you mean “staging”/],
    ['a site that is not there', () => {}, ['demo/shelf/albar', '--site', 'gone'], 2, /there is no folder .*nowhere/],
    ['an archive with --link', () => {}, ['albar.zip', '--link'], 1, /an archive cannot be linked/],
  ])('stops at %s, with nothing changed', async (_what, prepare, argv, status, says) => {
    const place = withSite();
    await place.run('pack', 'demo/shelf/albar', '--out', 'albar.zip');
    writeFiles(place.folder, { 'pionero.yaml': 'sites: { staging: { folder: site }, gone: { folder: nowhere } }\n' });
    prepare(place);
    const before = snapshot(place.path('site'));
    const site = argv.includes('--site') ? [] : ['--site', 'staging'];
    const outcome = await place.run('install', ...argv, ...site, '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
    expect(snapshot(place.path('site'))).toEqual(before);
  });

  it('of a theme that the host refuses is made with --force', async () => {
    const place = withSite();
    expect((await install(place, 'demo/shelf/cornisa', '--force')).status).toBe(0);
    expect(existsSync(place.path('site/themes/cornisa/sheet.css'))).toBe(true);
  });
});
