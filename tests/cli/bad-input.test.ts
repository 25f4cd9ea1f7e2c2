import { chmodSync, readFileSync, readdirSync, truncateSync, writeFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { makeSymlink, need } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const isRoot = process.getuid?.() === 0;
const HEADER = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';

describe('a command line', () => {
  it.each<[name: string, argv: string[], status: number, says: RegExp]>([
    ['that names no theme', ['check', 'nothing'], 2, /✗ there is no folder nothing/],
    [
      'that names a folder that is none',
      ['check', 'empty'],
      2,
      /empty is not recognized as a theme[^]*Looked for:[^]*sheet\.css with[^]*platform new empty/,
    ],
    ['that names a shelf', ['rehearse', 'demo/shelf'], 2, /a folder of themes; name one of them: albar, albar-noche, cornisa/],
    ['that nearly names a theme', ['pack', 'demo/shelf/albr'], 2, /did you mean “demo\/shelf\/albar”\?/],
    [
      'that names a file',
      ['check', 'demo/shelf/albar/sheet.css'],
      2,
      /is a file, not a theme’s folder[^]*belongs to the theme albar: name demo\/shelf\/albar/,
    ],
    ['with a misspelt command', ['chek'], 2, /did you mean check\?/],
    ['with a misspelt option', ['check', '--fixx'], 2, /did you mean --fix\?/],
    ['with a wrong value', ['check', '--format', 'xml'], 2, /allowed: text, json/],
    ['with a misspelt platform', ['new', 'paso', '--platform', 'verada', '--yes'], 2, /did you mean “vereda”\?/i],
    ['without --yes', ['new', 'paso', '--platform', 'vereda'], 2, /add --yes/i],
    ['with a misspelt fact', ['new', 'paso', '--platform', 'vereda', '--set', 'sumary=x', '--yes'], 2, /did you mean “summary”\?/i],
    [
      'with a value of the wrong type',
      ['new', 'paso', '--platform', 'vereda', '--set', 'version=1', '--yes'],
      2,
      /cannot be the version[^]*write 1\.0\.0/i,
    ],
    [
      'with a parent in the wrong case',
      ['new', 'paso', '--platform', 'vereda', '--parent', 'Albar', '--shelf', 'demo/shelf', '--yes'],
      2,
      /it is called “albar”/i,
    ],
    ['with an id that is taken', ['clone', 'demo/shelf/albar', 'cornisa', '--to', 'demo/shelf', '--yes'], 1, /the id “cornisa” is taken/i],
    ['with a folder that exists', ['clone', 'demo/shelf/albar', 'empty', '--to', '.', '--yes'], 1, /is there already/],
    ['that packs a broken theme', ['pack', 'demo/shelf/cornisa'], 1, /has \d+ errors and was not packed/],
    ...(['..', 'con', '-x', 'Ünï', 'a', 'x'.repeat(41), 'a/b'] as const).map((id): [string, string[], number, RegExp] => [
      `with the id ${id}`,
      ['new', '--platform', 'vereda', '--yes', '--', id],
      2,
      /cannot be the id of a theme/,
    ]),
  ])('%s', async (_name, argv, status, says) => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, { 'empty/readme.txt': '' });
    const before = snapshot(place.folder);
    const outcome = await place.run(...argv);
    expect(outcome.stderr + outcome.stdout).toMatch(says);
    expect(outcome.stderr).not.toMatch(/\n\s+at /);
    expect(outcome.status).toBe(status);
    expect(snapshot(place.folder)).toEqual(before);
  });

  it('offers the nearest id', async () => {
    expect((await new Workplace().run('new', 'Ünï Berg', '--platform', 'vereda', '--yes')).stderr).toContain('try “uni-berg”');
  });
});

describe('a theme', () => {
  it.each<[name: string, sheet: string, line: number, column: number, says: RegExp, shown: string]>([
    ['whose header is not closed', '/*---\ntitle: Paso\n', 1, 1, /is not closed/, '/*---'],
    ['with broken YAML', '/*---\ntitle: Paso: the one\nversion: 1.0.0\n---*/\n', 2, 8, /put the value in quotes/, 'title: Paso: the one'],
    ['with a tab', '/*---\ntitle:\n\tversion: 1.0.0\n---*/\n', 3, 1, /tab/, 'version: 1.0.0'],
  ])('%s', async (_name, sheet, line, column, says, shown) => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': sheet, 'main.html': 'x' });
    const outcome = await place.run('check', 'paso');
    expect(outcome.status).toBe(1);
    expect(outcome.stdout).toContain(`${line}:${column} `);
    expect(outcome.stdout).toContain(`│ ${shown.startsWith('version') ? ` ${shown}` : shown}`);
    expect(outcome.stdout).toMatch(says);
  });

  it('with a document of 200 MB', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': HEADER, 'main.html': 'x' });
    truncateSync(place.path('paso/sheet.css'), 200_000_000);
    const outcome = await place.run('check', 'paso');
    expect(outcome).toMatchObject({ status: 1 });
    expect(outcome.stdout).toMatch(/has more than 4 MiB/);
  });

  it('with a link that leaves it: it is told, and nothing behind it is touched', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': HEADER, 'main.html': 'x' });
    writeFiles(place.path('outside'), { 'paso.txt': 'paso' });
    makeSymlink('../outside', place.path('paso/linked'));
    expect((await place.run('check', 'paso')).stdout).toMatch(/the link linked points out of the theme, to \.\.\/outside/);
    expect((await place.run('clone', 'paso', 'lumbre', '--yes')).status).toBe(0);
    expect(snapshot(place.path('lumbre'))['linked']).toBe('-> ../outside');
    expect(snapshot(place.path('outside'))).toMatchObject({ 'paso.txt': expect.stringContaining('paso') as string });
  });
});

describe('a disk', () => {
  /** Runs a line of shell as somebody who is not root, whom permissions do not stop. */
  const asUser = (place: Workplace, line: string) => {
    if (!isRoot) return place.shell(line);
    chmodSync(place.folder, 0o777);
    return place.shell(
      `mkdir -p .state && chmod 777 .state && setpriv --reuid 65534 --regid 65534 --clear-groups bash -c '${line.replaceAll('pionero ', `"${process.execPath}" "$PIONERO" `)}'`.replaceAll(
        '$PIONERO',
        `${import.meta.dirname}/../../dist/pionero.cjs`,
      ),
    );
  };

  it('with a file that cannot be read', () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': HEADER, 'main.html': 'x' });
    chmodSync(place.path('paso/main.html'), 0);
    const checked = asUser(place, 'pionero check paso');
    expect([checked.status, checked.stdout]).toEqual([1, expect.stringMatching(/main\.html cannot be read: permission denied/)]);
    const packed = asUser(place, 'pionero pack paso --force');
    expect([packed.status, packed.stderr]).toEqual([1, expect.stringMatching(/main\.html cannot be read/)]);
  });

  it('whose target is read-only', () => {
    const place = new Workplace().withShelf();
    writeFiles(place.path('locked'), { x: '' });
    chmodSync(place.path('locked'), 0o555);
    const outcome = asUser(place, 'pionero clone demo/shelf/albar lumbre --to locked --yes');
    expect(outcome.stderr).toMatch(/failed and was taken back[^]*permission denied/i);
    expect(outcome.status).toBe(3);
    expect(readdirSync(place.path('locked'))).toEqual(['x']);
    chmodSync(place.path('locked'), 0o755);
  });

  it.skipIf(!isRoot).each(['meta set paso title=X', 'cover paso', 'pack paso --write'])(
    'of somebody else, who lets nobody write there: %s',
    async (line) => {
      const place = new Workplace();
      await place.run('new', 'paso', '--platform', 'vereda', '--yes');
      chmodSync(place.folder, 0o777);
      const before = snapshot(place.path('paso'));
      for (let again = 0; again < 2; again++) {
        const outcome = asUser(place, `pionero ${line} --yes`);
        expect([outcome.status, outcome.stderr]).toEqual([
          3,
          expect.stringMatching(/failed and was taken back[^]*permission denied[^]*nothing was changed/),
        ]);
        expect(outcome.stderr).not.toContain('tidied up');
      }
      expect(snapshot(place.path('paso'))).toEqual(before);
    },
  );

  it('that is full: files cannot grow past a size', () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    const outcome = place.shell('ulimit -f 10; pionero clone demo/shelf/albar lumbre --to demo/shelf --yes');
    expect(outcome.stderr).toMatch(/failed and was taken back/i);
    expect(outcome.status).toBe(3);
    expect(snapshot(place.path('demo'))).toEqual(before);
  });
});

describe('Ctrl-C in the middle of a clone', () => {
  it('leaves nothing behind', async () => {
    need('unix');
    const place = new Workplace().withShelf();
    const many = Object.fromEntries(Array.from({ length: 3000 }, (_, i) => [`pages/p${i}.html`, `albar ${i}`]));
    writeFiles(place.path('demo/shelf/albar'), many);
    const running = place.start('clone', 'demo/shelf/albar', 'lumbre', '--to', '.', '--yes');
    const closed = new Promise<number | null>((resolve) => running.on('close', resolve));
    const hasStaging = () => readdirSync(place.folder).some((name) => name.startsWith('.pionero-'));
    while (!hasStaging() && running.exitCode === null) await sleep(5);
    running.kill('SIGINT');
    expect(await closed).toBe(3);
    expect(readdirSync(place.folder).sort()).toEqual(['.state', 'demo']);
    expect(readdirSync(place.path('.state/pionero/journal/pending'))).toEqual([]);
  });
});

describe('an archive', () => {
  it('that is no archive, or no theme’s, is refused', async () => {
    const place = new Workplace();
    writeFileSync(place.path('x.zip'), 'not a zip');
    expect(await place.run('rehearse', 'x.zip')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/cannot be unpacked/) as string,
    });
    writeFileSync(place.path('pionero.yaml'), 'platfrom: vereda\n');
    const outcome = await place.run('rehearse', 'x.zip');
    expect([outcome.status, readFileSync(place.path('pionero.yaml'), 'utf8')]).toEqual([1, 'platfrom: vereda\n']);
    writeFiles(place.path('paso'), { 'sheet.css': HEADER, 'main.html': 'x' });
    expect(await place.run('check', 'paso')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/pionero\.yaml:1:1 “platfrom”[^]*“platform”/) as string,
    });
  });
});
