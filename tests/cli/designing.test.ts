import { cpSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { lettersWithoutFont } from '../../src/core/covers/letters.ts';
import { comparePages, type ComparedPage } from '../../src/core/sites/compare-pages.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { zipOf } from '../support/archives.ts';
import { onTerminal, type Answer } from '../support/terminal.ts';
import { DEMO_SHELF, Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const NOCHE = 'demo/shelf/albar-noche';

describe('a copy of a parent’s page', () => {
  const front = (place: Workplace): string => readFileSync(place.path(NOCHE, 'pages/front.html'), 'utf8');

  it('is not made while it would lack what it asks for, and says what that is', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    for (const argv of [
      ['override', NOCHE, 'front', '--yes'],
      ['override', NOCHE, 'front', '--dry-run'],
      ['new', 'frisch', '--parent', 'demo/shelf/albar', '--take', 'front', '--dry-run'],
    ]) {
      const { status, stdout } = await place.run(...argv);
      expect([status, stdout]).toEqual([
        1,
        expect.stringMatching(
          /asks? for 1 file that the host does not take from the parent:\n {2}scripts\/albar\.min\.js {2}albar has it; pages\/front\.html:24:14\n[^]*--needs take copies it too; --needs address leads/,
        ),
      ]);
    }
    expect(snapshot(place.path('demo'))).toEqual(before);
  });

  it('takes along what it needs, which is given up only with it', async () => {
    const place = new Workplace().withShelf();
    const taken = (await place.json('override', NOCHE, 'front', '--needs', 'take', '--yes')) as { taken: { file: string }[] };
    expect(taken.taken.map(({ file }) => file)).toEqual(['pages/front.html', 'scripts/albar.min.js']);
    expect(await place.run('check', NOCHE)).toMatchObject({ status: 0 });
    expect(await place.run('override', NOCHE, 'scripts/albar.min.js', '--drop', '--yes')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/would break albar-noche[^]*asset\/missing/) as string,
    });
    writeFileSync(place.path(NOCHE, 'pages/front.html'), `${front(place)}<!-- ours -->\n`);
    expect((await place.run('override', NOCHE, '--drop', '--yes')).stdout).toMatch(
      /Nothing to give up: .* need scripts\/albar\.min\.js here/,
    );
    await place.run('undo', '--yes');
    writeFileSync(place.path(NOCHE, 'pages/front.html'), front(place).replace('<!-- ours -->\n', ''));
    expect(await place.run('override', NOCHE, '--drop', '--yes')).toMatchObject({ status: 0 });
  });

  it('can be led to the files of the parent in its place', async () => {
    const place = new Workplace().withShelf();
    const { stdout } = await place.run('override', NOCHE, 'front', '--needs', 'address', '--yes');
    expect(stdout).toContain('became “{{{theme.path}}}/../albar/scripts/albar.min.js”');
    expect(front(place)).toContain('src="{{{theme.path}}}/../albar/scripts/albar.min.js"');
    expect(await place.run('check', NOCHE)).toMatchObject({ status: 0, stdout: expect.stringContaining('no problems found') as string });
    expect(existsSync(place.path(NOCHE, 'scripts'))).toBe(false);
  });

  it('that a new theme starts with is on record with its original, so that the parent’s update merges', async () => {
    const place = new Workplace().withShelf();
    const argv = ['new', 'frisch', '--parent', 'demo/shelf/albar', '--take', 'main', '--yes'];
    expect(await place.run(...argv)).toMatchObject({ status: 0 });
    const main = (id: string): string => place.path('demo/shelf', id, 'main.html');
    const text = readFileSync(main('albar'), 'utf8');
    writeFileSync(main('albar'), text.replace('<h1>', '<h1 class="albar-title">'));
    writeFileSync(main('frisch'), readFileSync(main('frisch'), 'utf8').replace('</article>', '</article>\n<hr>'));
    expect(await place.run('drift', 'demo/shelf/frisch', '--merge', '--yes')).toMatchObject({ status: 0 });
    expect(readFileSync(main('frisch'), 'utf8')).toMatch(/<h1 class="albar-title">[^]*<\/article>\n<hr>/);
  });
});

describe('what is new', () => {
  const albar = DEMO_SHELF;
  it.each<[what: string, argv: string[], made: string]>([
    ['a clone lies beside its source on a shelf', ['clone', 'themes/albar', 'lumbre'], 'themes/lumbre'],
    ['a clone of what lies alone is made here', ['clone', 'alone/albar', 'lumbre'], 'lumbre'],
    ['--to says otherwise', ['clone', 'themes/albar', 'lumbre', '--to', '.'], 'lumbre'],
    ['a child lies beside its parent, wherever the shelf is', ['new', 'lumbre', '--parent', 'albar', '--shelf', 'themes'], 'themes/lumbre'],
    ['a clone of an archive lies on the only shelf', ['clone', 'albar.zip', 'lumbre'], 'themes/lumbre'],
    ['a clone of an archive is made on the shelf that is named', ['clone', 'albar.zip', 'lumbre', '--shelf', 'other'], 'other/lumbre'],
  ])('%s', async (_what, argv, made) => {
    const place = new Workplace();
    cpSync(join(albar, 'albar'), place.path('themes/albar'), { recursive: true });
    writeFileSync(
      place.path('albar.zip'),
      zipOf([
        { name: 'albar/sheet.css', content: readFileSync(join(albar, 'albar/sheet.css')) },
        { name: 'albar/main.html', content: '<p>' },
      ]),
    );
    writeFiles(place.path('other'), { '.keep': '' });
    if (argv.includes('alone/albar')) cpSync(join(albar, 'albar-noche'), place.path('alone/albar'), { recursive: true });
    const { stdout } = await place.run(...argv, '--yes', '--force');
    expect([stdout.includes('is made'), existsSync(place.path(made, 'sheet.css'))]).toEqual([true, true]);
    expect(readFileSync(place.path(dirname(made), 'lumbre/sheet.css'), 'utf8')).not.toContain('shelves');
  });
});

it('a wrong answer in a question says what can be typed', async () => {
  const place = new Workplace().withShelf();
  const asked: Answer[] = [
    [/Rename .*\(y\/N\)/, 'what\r'],
    [/“what” is neither: type y for yes, or n for no[^]*\(y\/N\)/, 'n\r'],
  ];
  const { shown } = await onTerminal(place, 'demo/shelf', ['rename', 'albar-noche', 'noche'], asked, 'dumb');
  expect(shown).toMatch(/Nothing was changed/);
  const chosen: Answer[] = [
    [/Title.*: $/, '\r'],
    [/Which kit[^]*\? $/, '9\r'],
    [/“9” is not one of them: type 1, 2[^]*\? $/, '1\r'],
    [/Make it\?.*\(y\/N\)/, 'n\r'],
  ];
  expect((await onTerminal(place, 'demo/shelf', ['new', 'frisch', '--parent', 'albar'], chosen, 'dumb')).shown).toMatch(
    /Nothing was changed/,
  );
});

it('the kits of the themes around here are listed first', async () => {
  const place = new Workplace();
  cpSync(join(DEMO_SHELF, '../shelves/tramo'), place.path('shelf'), { recursive: true });
  const { stdout } = await place.run('kit', 'list');
  expect(stdout.split('\n').find((line) => line.includes('--platform'))).toContain('Tramo');
});

describe('a rehearsal', () => {
  it('says where there are no regions to outline', async () => {
    const place = new Workplace().withShelf();
    const { stdout } = await place.run('rehearse', NOCHE, '--out', 'pages', '--regions', '--yes');
    expect(stdout).toContain('Themes for Vereda have no regions: nothing is outlined.');
  });

  it('every platform’s front page is one that it has', () => {
    const fronts = shippedPlatforms().flatMap(({ contract: { templates } }) =>
      templates?.front === undefined ? [] : [[templates.front, Object.keys(templates.roles)]],
    );
    expect(fronts.length).toBeGreaterThan(5);
    for (const [front, roles] of fronts) expect(roles).toContain(front);
  });

  const page = (text: string, loaded: readonly string[]): ComparedPage => ({ role: 'front', loaded, text, findings: [] });
  it.each<[what: string, now: [ComparedPage, string[]], before: [ComparedPage, string[]], gained: string[], added: number]>([
    [
      'a child that loads its own sheet after the parent’s loads one more',
      [page('<link t/lumbre/a.css>', ['t/albar/a.css', 't/lumbre/a.css']), ['t/lumbre', 't/albar']],
      [page('<link t/albar/a.css>', ['t/albar/a.css']), ['t/albar']],
      ['{home}/a.css'],
      0,
    ],
    [
      'a copy that asks for the child’s own file in place of the parent’s differs in nothing',
      [page('<img t/lumbre/p.png>', ['t/lumbre/p.png']), ['t/lumbre', 't/albar']],
      [page('<img t/albar/p.png>', ['t/albar/p.png']), ['t/albar']],
      [],
      0,
    ],
    [
      'a name that begins with another is another',
      [page('<img t/albar-noche/p.png>', ['t/albar-noche/p.png']), ['t/albar-noche', 't/albar']],
      [page('<img t/albar/q.png>', ['t/albar/q.png']), ['t/albar']],
      ['{home}/p.png'],
      1,
    ],
  ])('against a parent: %s', (_what, now, before, gained, added) => {
    expect(comparePages(now, before)).toMatchObject({ gained, added });
  });
});

describe('the letters of a cover', () => {
  it('that no font has are named, and no others', async () => {
    // Of scripts that came to Unicode in 2022 a machine has letters only where somebody asked for them.
    const rare = ['\u{1E4D0}', '\u{11F04}'];
    const usual = ['R', 'e', '1', '·', '“', 'H', '|'];
    const hasFonts = (await lettersWithoutFont('A', 'serif')).length === 0;
    expect(await lettersWithoutFont(`${usual.join('')} ${rare.join(' ')}\u{200D}`, 'serif')).toEqual(hasFonts ? rare : [...usual, ...rare]);
  });
});
