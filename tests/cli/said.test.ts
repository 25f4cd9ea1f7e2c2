import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { columnsOf } from '../../src/cli/io.ts';
import { controlSequence, oneLine, visible } from '../../src/cli/output/visible.ts';
import { Paint } from '../../src/cli/output/paint.ts';
import { UnreadableFileError, type FileTree } from '../../src/core/files/file-tree.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { setFacts } from '../../src/core/facts/set-facts.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { makeSymlink, need } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { platformNamed, writeFiles } from '../support/trees.ts';

const EVIL = '\u001b[31mred\u001b]0;title\u0007\r\u202eback\u200b\u009b';
const SHOWN = '␛[31mred␛]0;title␇\\r\\u{202e}back\\u{200b}\\u{9b}';
const sheet = (title: string): string => `/*---\ntitle: ${JSON.stringify(title)}\nversion: 1.0.0\nhosts: ">=2"\n---*/\n`;
// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u200b]/;

describe('text for people', () => {
  it('is shown, not obeyed, but for our own colours', () => {
    const paint = new Paint(true);
    expect(visible(EVIL)).toBe(SHOWN);
    expect(visible(paint.bad(EVIL))).toBe(`\u001b[1m\u001b[31m${SHOWN}\u001b[39m\u001b[22m`);
    // What a text makes up for itself is not ours.
    const forged = controlSequence('').replace(/[0-9a-f]/g, '0');
    expect(visible(`${forged}[31m`)).not.toContain('\u001b');
    expect([visible('tab\tand\nline é 字 👩'), oneLine('a\nb')]).toEqual(['tab\tand\nline é 字 👩', 'a\\nb']);
  });

  it('brings no control character of a theme, an argument or a platform file to the terminal', async () => {
    need('unix');
    const place = new Workplace();
    const name = `a\u001b[2Jb\r.css`;
    writeFiles(place.path('paso'), {
      'sheet.css': sheet(`Paso ${EVIL}`).replaceAll('\u202e', '\\u202e'),
      'main.html': `<p>${EVIL} paso</p>{{> ${EVIL}}}\n<img src="${EVIL}.png">\n`,
      [name]: `.paso { background: url("${EVIL}") }\n`,
      [`paso-${name}`]: 'x',
    });
    writeFileSync(
      place.path('evil.platform.yaml'),
      `pionero: platform/1\nname: "${EVIL.replaceAll('\u001b', '\\e').replaceAll('\u0007', '\\a')}"\n`,
    );
    mkdirSync(place.path(EVIL));
    for (const argv of [
      ['check', 'paso', '--verbose'],
      ['check', EVIL],
      ['check', 'paso', `--${EVIL}`],
      ['meta', 'show', 'paso'],
      ['meta', 'set', 'paso', `summary=${EVIL}`, '--yes'],
      ['pack', 'paso', '--force'],
      ['clone', 'paso', 'lumbre', '--yes', '--verbose'],
      ['rename', 'paso', 'cierzo', '--yes', '--verbose'],
      ['rehearse', 'cierzo'],
      ['undo', '--list'],
      ['platform', 'check', 'evil.platform.yaml'],
      ['new', EVIL, '--platform', 'vereda', '--yes'],
      [EVIL],
    ]) {
      const { stdout, stderr } = await place.run(...argv);
      expect([argv[0], CONTROL.exec(stdout + stderr)?.[0]]).toEqual([argv[0], undefined]);
    }
    // Machines get what is there.
    expect(JSON.stringify(await place.json('check', 'cierzo'))).toContain('\\u001b[2J');
  });

  it.each([
    [true, 0, 80],
    [true, 20, 40],
    [true, 132, 132],
    [false, 0, 100],
  ])('is as wide as the terminal says (terminal: %s, %s columns): %s', (isTTY, columns, expected) => {
    expect(columnsOf({ isTTY, columns })).toBe(expected);
  });

  it('is escaped in the pages of a rehearsal', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), {
      'sheet.css': sheet('<script>alert(1)</script>'),
      'main.html': '<html><head>{{{host.head}}}</head><body>{{site.title}}{{page.title}}{{{host.foot}}}</body></html>',
    });
    expect((await place.run('rehearse', 'paso', '--out', 'site')).status).toBe(0);
    expect(readFileSync(place.path('site/front.html'), 'utf8')).not.toContain('<script>alert(1)');
  });

  it.each([
    ['NO_COLOR', { NO_COLOR: '1' }],
    ['a dumb terminal', { NO_COLOR: '', TERM: 'dumb' }],
    ['no terminal', { NO_COLOR: '', TERM: 'xterm' }],
  ])('has no control sequence with %s', (_what, env) => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': sheet('Paso'), 'main.html': '' });
    const { stdout, stderr } = place.runWith(env, 'check', 'paso');
    expect(CONTROL.test(stdout + stderr)).toBe(false);
  });
});

describe('a document that cannot be read', () => {
  it.each<[what: string, make: (place: Workplace) => void]>([
    ['a link that leaves the theme', (place) => makeSymlink('../outside.css', place.path('paso/sheet.css'))],
    ['a link to an absolute path', (place) => makeSymlink(place.path('outside.css'), place.path('paso/sheet.css'))],
    ['a document that is no text', (place) => writeFileSync(place.path('paso/sheet.css'), Buffer.from([0, 1, 2]))],
    ['a document that is too large', (place) => writeFileSync(place.path('paso/sheet.css'), Buffer.alloc(5_000_000, ' '))],
  ])('(%s) is not changed, and said so', async (_what, make) => {
    const place = new Workplace();
    writeFiles(place.folder, { 'outside.css': sheet('Outside'), 'paso/main.html': 'x' });
    make(place);
    const outcome = await place.run('meta', 'set', 'paso', 'title=Mine', '--platform', 'vereda', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([
      1,
      expect.stringMatching(/sheet\.css cannot be read, so it cannot be changed[^]*(?:link|text|large)/),
    ]);
    expect(readFileSync(place.path('outside.css'), 'utf8')).toBe(sheet('Outside'));
    expect((await place.run('meta', 'show', 'paso', '--platform', 'vereda')).stdout).not.toContain('Outside');
  });
});

describe('a place for a new theme', () => {
  it('is not inside another theme', async () => {
    const place = new Workplace().withShelf();
    for (const argv of [
      ['new', 'paso', '--platform', 'vereda', '--to', 'demo/shelf/albar', '--yes'],
      ['clone', 'demo/shelf/albar', 'paso', '--to', 'demo/shelf/albar/partials', '--yes'],
    ]) {
      const outcome = await place.run(...argv);
      expect([outcome.status, outcome.stderr]).toEqual([1, expect.stringMatching(/lies inside the theme albar[^]*demo\/shelf/)]);
    }
  });

  it('that is not there is asked about, or made with --yes, and named', async () => {
    const place = new Workplace().withShelf();
    const albar = 'demo/shelf/albar';
    for (const argv of [
      ['pack', albar, '--out', 'outt/albar.zip'],
      ['clone', albar, 'paso', '--to', 'shelff'],
      ['rehearse', albar, '--out', 'sitess/site'],
    ])
      expect(await place.run(...argv)).toMatchObject({
        status: 2,
        stderr: expect.stringMatching(/there is no folder (?:outt|shelff|sitess)/) as string,
      });
    expect((await place.run('pack', albar, '--out', 'outt/albar.zip', '--yes')).stdout).toMatch(/^The folder outt is made, too\./);
  });
});

describe('an archive’s name', () => {
  it.each(['x.tar.gz', 'x.tgz', 'x.TGZ'])('%s says what it is', async (name) => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'icons', '--title', 'Paso', '--yes');
    expect(await place.run('pack', 'paso', '--out', name, '--force')).toMatchObject({ status: 0, stderr: '' });
    expect(readFileSync(place.path(name)).subarray(0, 2).toString('hex')).toBe('1f8b');
    expect((await place.run('pack', 'paso', '--out', 'x.zip', '--force')).stderr).toContain('does not take zip');
  });

  it.each([
    [['--out', 'x.rar'], /does not say which kind of archive/],
    [['--out', 'x.zip', '--as', 'tar.gz'], /contradict each other/],
  ])('%j is refused', async (more, says) => {
    const place = new Workplace().withShelf();
    expect(await place.run('pack', 'demo/shelf/albar', ...more)).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(says) as string,
    });
  });
});

describe('output that nobody takes', () => {
  it('ends nothing: the work is done, and the status is kept', async () => {
    const place = new Workplace().withShelf();
    const cut = place.shell(
      'pionero clone demo/shelf/albar paso --yes --verbose | head -1; echo ${PIPESTATUS[0]}; pionero check demo/shelf/cornisa | head -1; echo ${PIPESTATUS[0]}',
    );
    expect(cut.stdout.match(/^\d+$/gm)).toEqual(['0', '1']);
    expect((await place.run('check', 'paso', '--shelf', 'demo/shelf')).status).toBe(0);
  });

  it('is said when the disk is full', () => {
    const full = new Workplace().withShelf().shell('pionero check demo/shelf/albar > /dev/full; echo $?');
    expect([full.stdout, full.stderr]).toEqual(['3\n', '✗ The output could not be written: the disk is full.\n']);
  });
});

it.each(['SIGINT', 'SIGTERM', 'SIGHUP'] as const)('%s takes back what every command that writes has done', async (signal) => {
  need('shell');
  const place = new Workplace();
  writeFiles(place.path('paso'), { 'sheet.css': sheet('Paso'), 'main.html': 'x' });
  for (let i = 0; i < 1500; i++) writeFileSync(place.path(`paso/f${i}.css`), '.paso { }\n');
  const child = place.startPiped('rehearse', 'paso', '--out', 'site');
  // As soon as the first trace of its work is there.
  await expect
    .poll(() => place.shell('ls .state/pionero/journal/temporary 2>/dev/null').stdout, { interval: 5, timeout: 15_000 })
    .not.toBe('');
  child.kill(signal);
  const status = await new Promise((resolve) => child.on('exit', resolve));
  expect(status).toBe(3);
  expect(place.shell('ls -A . /tmp | grep -c pionero-host; ls .state/pionero/journal/temporary').stdout).toMatch(/^0\n$/);
});

it('says why a document that may not be read is not changed', () => {
  const files = MemoryTree.of({ 'sheet.css': sheet('Paso'), 'main.html': 'x' });
  const closed: FileTree = {
    entries: files.entries,
    get: (path) => files.get(path),
    parts: (path) => files.parts(path),
    tail: (path, length) => files.tail(path, length),
    read(path) {
      throw new UnreadableFileError(path, 'permission denied');
    },
  };
  const theme = new Theme(platformNamed('vereda'), closed, { id: 'paso' }, 'paso');
  expect(() => setFacts(theme, [{ fact: 'title', op: 'set', value: 'x' }])).toThrow(
    expect.objectContaining({
      code: 'refused',
      what: 'the header of sheet.css cannot be read, so it cannot be changed',
      why: 'permission denied',
    }),
  );
});
