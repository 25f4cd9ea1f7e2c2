import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { runTool } from '../support/needs.ts';
import { zipOf } from '../support/archives.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

// On a machine with Node.js alone there is nobody else to ask.

const HEADER = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
const paso = (place: Workplace, files: Record<string, string> = {}) =>
  writeFiles(place.path('paso'), { 'sheet.css': HEADER, 'main.html': '<p>x</p>\n', ...files });

describe('help', () => {
  it.each(COMMANDS.map(({ name, summary }) => [name, summary]))('of %s names its options and shows examples', async (name, summary) => {
    const { status, stdout } = await new Workplace().run(name, '--help');
    expect(status).toBe(0);
    expect(stdout.toLowerCase()).toContain(summary.toLowerCase());
    expect(stdout).toMatch(/Usage: pionero \S+[^]*--shelf <DIR>[^]*--format <FORMAT>[^]*Examples:\n {2}\$ pionero/);
  });

  it('lists every command, and what to start with', async () => {
    const { status, stdout } = await new Workplace().run();
    expect(status).toBe(2);
    for (const { name, summary } of COMMANDS) expect(stdout).toMatch(new RegExp(`${name} +${summary}`));
    expect(stdout).toContain('Start with: pionero demo');
  });

  it('and the README name the same commands', () => {
    const readme = readFileSync(new URL('../../README.md', import.meta.url), 'utf8');
    for (const { name } of COMMANDS) expect(readme).toContain(`\`pionero ${name}`);
  });

  it('tells the version', async () => {
    const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as { version: string };
    for (const flag of ['--version', '-V']) expect(new Workplace().startAndWait(flag)).toMatchObject({ status: 0, stdout: `${version}\n` });
  });
});

describe('output', () => {
  it('begins with the verdict, and says at the end what can be mended', async () => {
    const place = new Workplace().withShelf();
    const lines = (await place.run('check', 'demo/shelf/cornisa')).stdout.trim().split('\n');
    expect(lines[0]).toMatch(/^✗ cornisa \(Vereda, 6 files\) in demo\/shelf\/cornisa: \d+ errors, \d+ warnings; the host refuses it$/);
    expect(lines.at(-1)).toMatch(/^→ \d+ of \d+ can be fixed with --fix\.$/);
  });

  it('shows the line with a marker under the place, also of a very long line', async () => {
    const place = new Workplace();
    paso(place, { 'pages/front.html': `${'<i></i>'.repeat(2000)}{{> nowhere}}${'<b></b>'.repeat(2000)}\n` });
    const { stdout } = await place.run('check', 'paso');
    const [shown = '', marker = ''] = stdout.split('\n').filter((line) => line.includes('│'));
    expect(shown.length).toBeLessThanOrEqual(100);
    expect(shown.slice(marker.indexOf('▔'), marker.lastIndexOf('▔') + 1)).toBe('nowhere');
  });

  it('shows the first findings of a rule, and all of them when asked', async () => {
    const place = new Workplace();
    const lines = Array.from({ length: 40 }, (_, i) => `p { background: url(gone-${i}.png) }\n`).join('');
    paso(place, { 'styles/a.css': lines });
    const shown = async (...argv: string[]) => (await place.run('check', 'paso', ...argv)).stdout;
    expect((await shown()).match(/“gone-/g)).toHaveLength(25);
    expect(await shown()).toMatch(/→ 15 more findings of asset\/missing: --verbose shows all\./);
    expect((await shown('--verbose')).match(/“gone-/g)).toHaveLength(40);
    expect((await place.json('check', 'paso'))['summary']).toMatchObject({ errors: 40 });
  });

  it('has colours only where they are wanted', async () => {
    const place = new Workplace();
    paso(place);
    const escape = '\u001b[';
    expect((await place.run('check', 'paso')).stdout).not.toContain(escape);
    expect(place.runWith({ FORCE_COLOR: '1' }, 'check', 'paso').stdout).toContain(escape);
    expect(place.runWith({ FORCE_COLOR: '1' }, 'check', 'paso', '--no-color').stdout).not.toContain(escape);
  });

  it('is nothing but JSON when that is asked for, also for several themes', async () => {
    const place = new Workplace().withShelf();
    const many = await place.json('check', 'demo/shelf/albar', 'demo/shelf/albar-noche');
    expect(many).toMatchObject({
      themes: [{ theme: { id: 'albar' } }, { theme: { id: 'albar-noche' } }],
      summary: { themes: 2, errors: 0 },
    });
    // The same for one, whose own keys stand at the top as well.
    const one = await place.json('check', 'demo/shelf/albar');
    expect(one).toMatchObject({
      themes: [{ theme: { id: 'albar' } }],
      theme: { id: 'albar' },
      findings: [],
      summary: { themes: 1, errors: 0 },
    });
    const refused = await place.run('pack', 'demo/shelf/cornisa', '--format', 'json');
    expect([refused.status, refused.stdout, refused.stderr]).toEqual([1, '', expect.stringMatching(/was not packed/)]);
  });

  it('is little when it is to be quiet', async () => {
    const place = new Workplace();
    paso(place);
    expect(await place.run('clone', 'paso', 'lumbre', '--yes', '--quiet')).toEqual(expect.objectContaining({ status: 0, stdout: '' }));
    expect(existsSync(place.path('lumbre'))).toBe(true);
  });

  it('says of every clone what changed, what stayed and why', async () => {
    const place = new Workplace().withShelf();
    const { stdout } = await place.run('clone', 'demo/shelf/albar', 'cumbre-sur', '--dry-run');
    expect(stdout).toMatch(/^albar → cumbre-sur \(“Albar” → “Cumbre Sur”\): \d+ places changed in \d+ files, 8 files or folders renamed/);
    for (const says of [/1 another theme’s name, “albar-noche”/, /2 parts of longer words\n\s+albarda, albares/, /5 part of a link/])
      expect(stdout).toMatch(says);
    expect(stdout).toMatch(
      /In short\n.*places changed in.*\n {2}kept: .*\n✓ \d+ mentions of “albar” would remain: kept on purpose \(listed above\)\.\n✓ “check” would find no new problems\.\nDry run: nothing was written\.\n$/,
    );
    expect(existsSync(place.path('cumbre-sur'))).toBe(false);
  });
});

it('a rule is explained, and a misspelt one offered', async () => {
  const place = new Workplace();
  expect((await place.run('explain', 'parent/styles')).stdout).toMatch(
    /^parent\/styles \(warning\)[^]*Wrong \(on vereda\)[^]*parent: albar\n[^]*Right[^]*parent-sheet: before/,
  );
  expect(await place.run('explain', 'parent/style')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/did you mean “parent\/styles”/) as string,
  });
});

describe('the machine output of clone', () => {
  it('has places that hold in the files that were written', async () => {
    const place = new Workplace().withShelf();
    const clone = (await place.json('clone', 'demo/shelf/albar', 'cumbre-sur', '--to', '.', '--yes')) as Record<
      'edits' | 'kept',
      { file: string; line: number; column: number; after: string; kind: string; text: string }[]
    >;
    expect(new Set(clone.edits.map((edit) => edit.kind))).toEqual(new Set(['declared', 'path', 'identifier', 'text']));
    const lineOf = ({ file, line }: { file: string; line: number }) =>
      readFileSync(place.path('cumbre-sur', file), 'utf8').split(/\r?\n/)[line - 1] ?? '';
    const plain = clone.edits.filter((edit) => !/\.min\.js$|\.txt$|\.de\.ini$/.test(edit.file));
    for (const edit of plain) expect(lineOf(edit).slice(edit.column - 1)).toMatch(/^cumbre|^Cumbre|^CUMBRE/);
    for (const kept of clone.kept.filter((each) => !each.file.endsWith('.jpg')))
      expect(
        lineOf(kept)
          .slice(kept.column - 1)
          .toLowerCase(),
      ).toMatch(/^albar/);
  });

  it('keeps bytes that nobody meant: encodings, line ends, pictures', async () => {
    const place = new Workplace().withShelf();
    await place.run('clone', 'demo/shelf/albar', 'lumbre', '--to', '.', '--yes');
    const read = (path: string) => readFileSync(place.path(path));
    expect(read('lumbre/pictures/hero.jpg')).toEqual(read('demo/shelf/albar/pictures/hero.jpg'));
    expect(read('lumbre/styles/editor.css').toString()).toBe(
      read('demo/shelf/albar/styles/editor.css').toString().replaceAll('albar', 'lumbre').replaceAll('Albar', 'Lumbre'),
    );
    expect(read('lumbre/docs/translators.txt')).toEqual(
      Buffer.from(
        read('demo/shelf/albar/docs/translators.txt').toString('latin1').replaceAll('albar', 'lumbre').replaceAll('Albar', 'Lumbre'),
        'latin1',
      ),
    );
  });
});

describe('settings', () => {
  it('in pionero.yaml turn rules off, keep names, and exclude from packages', async () => {
    const place = new Workplace();
    paso(place, {
      'draft/x.txt': 'x',
      'pionero.yaml': 'rules: { image/missing: off, file/empty: error }\nrename: { keep: [paso-mark] }\npack: { exclude: [draft/] }\n',
      'notes.md': 'paso-mark, paso\n',
      'pages/list.html': '',
    });
    expect((await place.json('check', 'paso'))['findings']).toEqual([]);
    expect((await place.json('pack', 'paso'))['leftOut']).toEqual([
      { path: 'draft/', reason: 'excluded by pionero.yaml' },
      { path: 'pionero.yaml', reason: 'Vereda wants no such files in a package' },
    ]);
    await place.run('clone', 'paso', 'lumbre', '--yes');
    expect(readFileSync(place.path('lumbre/notes.md'), 'utf8')).toBe('paso-mark, lumbre\n');
  });

  it('make warnings count', async () => {
    const place = new Workplace();
    paso(place);
    expect([(await place.run('check', 'paso')).status, (await place.run('check', 'paso', '--strict')).status]).toEqual([0, 1]);
  });

  it('find a theme by its id on a shelf', async () => {
    const place = new Workplace().withShelf();
    expect((await place.json('check', 'albar', '--shelf', 'demo/shelf'))['theme']).toMatchObject({ id: 'albar' });
    expect((await place.run('check', 'albar')).status).toBe(2);
  });

  it('work from inside a theme', async () => {
    const place = new Workplace().withShelf();
    expect((await place.runIn('demo/shelf/albar-noche', 'check')).status).toBe(0);
    expect((await place.runIn('demo/shelf/albar-noche', 'meta', 'show')).stdout).toMatch(/^albar-noche[^]*(?<!themes)\n$/);
    expect((await place.runIn('demo/shelf', 'meta', 'show')).stdout).toMatch(/^albar [^]*\nalbar-noche [^]*· 3 themes\n$/);
  });
});

describe('packages', () => {
  it('of errors are refused unless forced', async () => {
    const place = new Workplace();
    paso(place, { 'pages/front.html': '{{> nowhere}}' });
    expect((await place.run('pack', 'paso')).status).toBe(1);
    expect(existsSync(place.path('paso.zip'))).toBe(false);
    const forced = await place.run('pack', 'paso', '--force', '--out', 'out/x.zip', '--yes');
    expect([forced.status, forced.stdout]).toEqual([0, expect.stringMatching(/Packed all the same[^]*out\/x\.zip holds 3 files/)]);
    expect((await place.run('pack', 'paso', '--force', '--as', 'tar.gz')).stderr).toMatch(
      /Vereda does not take tar\.gz packages[^]*it takes zip/,
    );
  });

  const PYTHON = 'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; z.extractall(sys.argv[2])';
  it.each<[program: string, form: 'zip' | 'tar.gz', args: (archive: string, out: string) => string[]]>([
    ['tar', 'tar.gz', (archive, out) => ['-xzf', archive, '-C', out]],
    ['bsdtar', 'tar.gz', (archive, out) => ['-xf', archive, '-C', out]],
    ['bsdtar', 'zip', (archive, out) => ['-xf', archive, '-C', out]],
    ['unzip', 'zip', (archive, out) => ['-q', archive, '-d', out]],
    ['7z', 'zip', (archive, out) => ['x', '-bso0', `-o${out}`, archive]],
    ['python3', 'zip', (archive, out) => ['-c', PYTHON, archive, out]],
  ])('are read by %s (%s), with every byte', async (program, form, args) => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'cordada', '--kit', 'standard', '--yes');
    writeFiles(place.path('paso'), { 'css/é ü.css': 'a {}\n' });
    await place.run('pack', 'paso', '--as', form, '--force');
    mkdirSync(place.path('out'));
    runTool(program, args(place.path(`paso.${form}`), place.path('out')), { env: { ...process.env, LANG: 'C.UTF-8' } });
    // Not every program keeps modes.
    const contents = (folder: string) =>
      Object.fromEntries(Object.entries(snapshot(folder)).map(([path, state]) => [path, state.replace(/^(?:folder )?\d+ ?/, '')]));
    expect(contents(place.path('out/paso'))).toEqual(contents(place.path('paso')));
  });

  it('with a wrong top folder are not recognized', async () => {
    const place = new Workplace();
    writeFileSync(
      place.path('flat.zip'),
      zipOf([
        { name: 'sheet.css', content: HEADER },
        { name: 'main.html', content: 'x' },
      ]),
    );
    const outcome = await place.run('rehearse', 'flat.zip');
    expect([outcome.status, outcome.stderr]).toEqual([1, expect.stringMatching(/Vereda wants one folder \{id\}\/ with everything in it/)]);
  });
});

describe('undo', () => {
  it('takes back one change after another, and says when there is none', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const first = snapshot(place.path('paso'));
    await place.run('meta', 'set', 'paso', 'title=Two', '--yes');
    await place.run('meta', 'set', 'paso', 'title=Three', '--yes');
    expect((await place.run('undo', '--yes')).stdout).toMatch(
      /“meta set title \(paso\)” \(just now\): taking it back restores 1 file in paso/,
    );
    expect((await place.run('undo', '--yes')).status).toBe(0);
    expect(snapshot(place.path('paso'))).toEqual(first);
    expect((await place.run('undo', '--yes')).stdout).toMatch(/removes paso/);
    expect(await place.run('undo', '--yes')).toMatchObject({ status: 1, stderr: expect.stringMatching(/nothing to undo/) as string });
  });

  it('refuses to lose work that was done since', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFileSync(place.path('paso/main.html'), 'my own');
    writeFileSync(place.path('paso/more.html'), 'more');
    const refused = await place.run('undo', '--yes');
    expect([refused.status, refused.stderr]).toEqual([
      1,
      expect.stringMatching(/2 files of paso were changed after “new paso”: main\.html, more\.html/),
    ]);
    expect(readFileSync(place.path('paso/main.html'), 'utf8')).toBe('my own');
  });

  it('knows nothing of other folders', async () => {
    const place = new Workplace();
    mkdirSync(place.path('a'));
    mkdirSync(place.path('b'));
    await place.runIn('a', 'new', 'paso', '--platform', 'vereda', '--yes');
    expect((await place.runIn('b', 'undo', '--yes')).status).toBe(1);
    expect((await place.runIn('a/paso', 'undo', '--dry-run')).stdout).toMatch(/Dry run/);
    rmSync(place.path('a/paso'), { recursive: true });
    expect(await place.runIn('a', 'undo', '--yes')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/is not there any more[^]*--drop/) as string,
    });
    expect((await place.runIn('a', 'undo', '--drop', '--yes')).stdout).toMatch(/“new paso” is off the list/);
    expect((await place.runIn('a', 'undo', '--yes')).stderr).toMatch(/nothing to undo/);
  });

  it('lists what can be undone, and undoes one of them by its number', async () => {
    const place = new Workplace();
    for (const id of ['paso', 'lumbre']) await place.run('new', id, '--platform', 'vereda', '--yes');
    expect((await place.run('undo', '--list')).stdout).toMatch(/^1 {2}new lumbre {2}just now, lumbre\n2 {2}new paso {2}just now, paso\n$/);
    expect(await place.json('undo', '--list')).toMatchObject([{ number: 1, title: 'new lumbre' }, { number: 2 }]);
    expect(await place.run('undo', '3', '--yes')).toMatchObject({ status: 2, stderr: expect.stringMatching(/1 to 2/) as string });
    expect((await place.run('undo', '2')).status).toBe(2);
    expect((await place.run('undo', '2', '--yes')).stdout).toContain('paso is gone');
    expect([existsSync(place.path('paso')), existsSync(place.path('lumbre'))]).toEqual([false, true]);
  });
});
