import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { ENTER, onTerminal, type Answer } from '../support/terminal.ts';
import { writeFiles } from '../support/trees.ts';

const DOWN = '\u001b[B';

/** The demo’s shelf without the themes that are children already. */
function besideParent(): Workplace {
  const place = new Workplace().withShelf();
  for (const id of ['albar-noche', 'cornisa']) rmSync(place.path('demo/shelf', id), { recursive: true });
  return place;
}

describe('a designer with a parent theme', () => {
  it('comes from an empty folder beside it to a packed child, in at most five answers', async () => {
    const place = besideParent();
    mkdirSync(place.path('demo/shelf/lumbre'));
    const answers: Answer[] = [
      [/A child of albar/, ENTER],
      [/Title, shown to people/, ENTER],
      [/Which kit does it start from/, ENTER],
      [/Make it\?/, 'y'],
    ];
    const made = await onTerminal(place, 'demo/shelf/lumbre', ['new'], answers);
    expect([made.status, made.shown]).toEqual([
      0,
      expect.stringMatching(/For Vereda, like albar here[^]*✓ lumbre is complete: 4 files added in \./),
    ]);
    expect(readFileSync(place.path('demo/shelf/lumbre/sheet.css'), 'utf8')).toMatch(/title: Lumbre[^]*parent: albar/);
    expect((await place.run('check', 'demo/shelf/lumbre')).stdout).toMatch(/✓ lumbre .*no problems found/);
    const packed = await onTerminal(place, 'demo/shelf/lumbre', ['pack'], []);
    expect([packed.status, packed.shown]).toEqual([0, expect.stringMatching(/✓ .*lumbre.*\.zip holds 4 files/)]);
    expect(answers.length).toBeLessThanOrEqual(5);
  }, 60_000);

  it('is told at once of an id that is taken, and can go back', async () => {
    const place = besideParent();
    const { status, shown } = await onTerminal(
      place,
      'demo',
      ['new'],
      [
        [/A child of albar/, ENTER],
        [/Theme id/, `albar${ENTER}`],
        [/shelf\/albar has that id already/, `${'\u007f'.repeat(5)}<${ENTER}`],
        [/A child of albar/, `${DOWN}${ENTER}`],
        [/Theme id/, ENTER],
        [/Title/, `<${ENTER}`],
        [/Theme id/, `norte${ENTER}`],
        [/Title/, ENTER],
        [/Which kit/, ENTER],
        [/Summary/, ENTER],
        [/Author/, ENTER],
        [/Make it\?/, 'y'],
      ],
    );
    expect([status, shown]).toEqual([0, expect.stringMatching(/new norte: a theme for Vereda[^]*✓ norte is made/)]);
    expect(existsSync(place.path('demo/shelf/norte/sheet.css'))).toBe(true);
  }, 60_000);

  it.each<[from: string, argv: string[], made: string]>([
    ['demo', ['lumbre', '--parent', 'albar'], 'demo/shelf/lumbre'],
    ['demo/shelf', ['lumbre', '--parent', 'albar'], 'demo/shelf/lumbre'],
    ['demo/shelf/albar', ['lumbre', '--parent', 'albar'], 'demo/shelf/lumbre'],
    ['demo/shelf/albar/pages', ['lumbre', '--parent', 'albar'], 'demo/shelf/lumbre'],
    ['demo/shelf/lumbre', ['--parent', 'albar'], 'demo/shelf/lumbre'],
    ['demo/shelf/lumbre', ['lumbre', '--parent', '../albar'], 'demo/shelf/lumbre'],
    ['.', ['lumbre', '--parent', 'demo/shelf/albar'], 'demo/shelf/lumbre'],
    ['.', ['lumbre', '--parent', 'demo/shelf/albar', '--to', 'mine'], 'mine/lumbre'],
  ])('needs no platform in %s: new %j', async (from, argv, made) => {
    const place = besideParent();
    if (from.endsWith('lumbre')) mkdirSync(place.path(from));
    const outcome = await place.runIn(from, 'new', ...argv, '--kit', 'child', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([0, '']);
    expect(readFileSync(place.path(made, 'sheet.css'), 'utf8')).toMatch(/parent: albar/);
    expect(await place.json('check', made)).toMatchObject({ summary: { errors: 0, warnings: 0 } });
  });

  it('is not stopped by what is wrong in a neighbour', async () => {
    const place = besideParent();
    writeFiles(place.path('demo/shelf/albar-dos'), { 'sheet.css': '/*---\n---*/\n', 'pionero.yaml': 'a: [\n' });
    expect(await place.runIn('demo/shelf', 'new', 'lumbre', '--parent', 'albar', '--kit', 'child', '--yes')).toMatchObject({ status: 0 });
  });

  it('is asked for the platform where the themes around are of several, and told of one’s own', async () => {
    const place = besideParent();
    writeFiles(place.path('demo/other/paso'), { 'bloque.toml': 'title = "Paso"\nversion = "1.0.0"\nhosts = ">=3"\n' });
    expect(await place.runIn('demo', 'new', 'lumbre', '--yes')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(
        /for several platforms\.\n.*--platform: (vereda|bloque), (vereda|bloque); if yours is not among them: “pionero platform new”/,
      ) as string,
    });
    const { status, shown } = await onTerminal(
      place,
      '.',
      ['new', 'lumbre', '--to', 'x'],
      [[/Which platform is it for\?[^]*Mine is not here/, '\u0003']],
    );
    expect([status, shown]).toEqual([2, expect.stringMatching(/stopped: nothing was made/)]);
  }, 30_000);
});

describe('a folder that is there already', () => {
  const HUT = { 'sheet.css': '@charset "utf-8";\nbody { margin: 0 }\n', 'main.html': '<p>{{title}}</p>\n' };

  it('becomes a theme by what it lacks, and keeps every byte that it has', async () => {
    const place = new Workplace();
    writeFiles(place.path('hut'), HUT);
    const done = await place.runIn('hut', 'new', '--here', '--platform', 'vereda', '--title', 'The Hut', '--set', 'tags=huts', '--yes');
    expect(done.stdout).toMatch(/\+\+\+ b\/sheet\.css[^]*\+title: The Hut[^]*✓ hut is complete: 1 file added and 1 changed/);
    expect(readFileSync(place.path('hut/sheet.css'), 'utf8')).toMatch(
      /^@charset "utf-8";\n\/\*---\ntitle: The Hut\nversion: 0\.1\.0\nhosts: .*\ntags: \[huts\]\n---\*\/\nbody \{ margin: 0 \}\n$/,
    );
    expect(readFileSync(place.path('hut/main.html'), 'utf8')).toBe(HUT['main.html']);
    expect((await place.runIn('hut', 'new', '--here', '--platform', 'vereda', '--yes')).stdout).toMatch(/Nothing is missing/);
    await place.runIn('hut', 'undo', '--yes');
    expect(readFileSync(place.path('hut/sheet.css'), 'utf8')).toBe(HUT['sheet.css']);
  });

  it('gets what its manifest lacks: required fields, bundles, the regions that it prints', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), {
      'paso.cordada.yaml': '# ours\ntitle: Paso\nis: theme\nareas:\n  header: Top\n',
      'markup/page.html': '{{{areas.header}}}{{{areas.aside}}}\n',
    });
    await place.runIn('paso', 'new', '--here', '--platform', 'cordada', '--yes');
    expect(readFileSync(place.path('paso/paso.cordada.yaml'), 'utf8')).toMatch(
      /^# ours\ntitle: Paso\nis: theme\nhosts: .*\nbase: none\nload: \[base\]\nareas:\n {2}header: Top\n {2}aside: Aside\n$/,
    );
    expect(await place.json('check', 'paso')).toMatchObject({ summary: { errors: 0 } });
  });

  it('is proposed by “new ID” in a folder of that name', async () => {
    const place = new Workplace();
    writeFiles(place.path('hut'), HUT);
    expect(await place.runIn('hut', 'new', 'hut', '--platform', 'vereda', '--yes')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/complete it with “pionero new --here”/) as string,
    });
    const { status } = await onTerminal(
      place,
      'hut',
      ['new', 'hut', '--platform', 'vereda', '--kit', 'bare'],
      [
        [/You are in a folder called hut/, 'y'],
        [/Title/, ENTER],
        [/Summary/, ENTER],
        [/Author/, ENTER],
        [/Make it\?/, 'y'],
      ],
    );
    expect([status, readFileSync(place.path('hut/sheet.css'), 'utf8')]).toEqual([0, expect.stringMatching(/title: Hut/)]);
  }, 30_000);
});

it('a rename that is asked about has what decides on the screen, however long the list is', async () => {
  const place = new Workplace().withShelf();
  const { shown } = await onTerminal(
    place,
    'demo/shelf',
    ['rename', 'albar', 'lumbre'],
    [[/Rename albar to lumbre \(\d+ places in \d+ files\)\?/, 'n']],
  );
  const screen = shown.slice(0, shown.indexOf('Rename albar to lumbre (')).split('\n').slice(-38).join('\n');
  expect(screen).toMatch(
    /In short\n.*places changed in[^]*kept: [^]*✓ \d+ mentions of “albar” would remain: kept on purpose[^]*✓ “check” would find no new problems/,
  );
  expect(shown).not.toMatch(/A second scan found/);
}, 30_000);
