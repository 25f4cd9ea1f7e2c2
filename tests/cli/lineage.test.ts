import { chmodSync, cpSync, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { explainTrace } from '../../src/core/lineage/explain.ts';
import { traceTheme } from '../../src/core/lineage/trace.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { need, runTool } from '../support/needs.ts';
import { zipOf } from '../support/archives.ts';
import { ENTER, onTerminal } from '../support/terminal.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const DEMO = join(import.meta.dirname, '../../demo/lineage');

/** The demo's child of a parent that was updated. */
function demo(): Workplace {
  const place = new Workplace();
  cpSync(DEMO, place.folder, { recursive: true });
  return place;
}

/** Without the archive of the version that its files were taken from. */
function takeOld(place: Workplace): void {
  rmSync(place.path('albar-2.0.0.zip'));
}

const withParents = shippedPlatforms().filter(({ contract }) => contract.inheritance.inherits.length > 0);
const VENDORED = new Set(['tramo', 'bloque']);

/** A parent and a child of it on a shelf. */
async function family(platform: string): Promise<{ place: Workplace; parent: string; child: string }> {
  const place = new Workplace();
  writeFiles(place.path('shelf'), { '.keep': '' });
  const vendor = VENDORED.has(platform) ? ['--vendor', 'HutLeague'] : [];
  const common = ['--platform', platform, ...vendor, '--to', 'shelf', '--shelf', 'shelf', '--yes'];
  for (const line of [
    ['albar', '--kit', 'standard'],
    ['cierzo', '--kit', 'child', '--parent', 'albar'],
  ]) {
    const made = await place.run('new', ...line, ...common);
    expect([made.status, made.stderr]).toEqual([0, '']);
  }
  const at = VENDORED.has(platform) ? 'shelf/HutLeague' : 'shelf';
  return { place, parent: `${at}/albar`, child: `${at}/cierzo` };
}

describe.each(withParents.map(({ contract }) => contract.name))('on %s', (platform) => {
  it('the trace names for each page the template that the rehearsal shows', async () => {
    const { place, child } = await family(platform);
    const trace = (await place.json('trace', child, '--platform', platform)) as {
      pages: { role: string; template: string | null; from: string | null }[];
    };
    const shown = (await place.json('rehearse', child, '--platform', platform)) as {
      pages: { role: string; template?: string; from?: string }[];
    };
    const rows = (pages: readonly { role: string; template?: string | null; from?: string | null }[]) =>
      pages.map(({ role, template, from }) => [role, template ?? null, from ?? null]);
    expect(rows(trace.pages)).toEqual(rows(shown.pages));
    const { chain } = openThemeFolder(place.path(child), { currentFolder: place.folder, platform });
    const { files, layers } = traceTheme(chain);
    for (const { path, from } of files) {
      const last = explainTrace(chain, path).steps.find(({ found }) => found === 'taken');
      expect([path, last?.layer]).toEqual([path, from]);
    }
    expect(layers.slice(0, 2).map(({ id }) => id)).toEqual(['cierzo', 'albar']);
  });

  it('a copy of a parent’s file is served, has not drifted, and is given up without a trace', async () => {
    const { place, parent, child } = await family(platform);
    const inherited = (
      (await place.json('trace', child, '--platform', platform)) as { files: { path: string; from: string; kind: string }[] }
    ).files.filter(({ from, kind }) => from === 'albar' && kind !== 'document');
    const [file, ...more] = inherited.slice(0, 3).map(({ path }) => path);
    if (file === undefined) throw new Error('a child inherits nothing');
    const before = snapshot(place.path('shelf'));
    const common = ['--platform', platform, '--yes'];
    expect(await place.run('override', child, file, ...more, ...common)).toMatchObject({ status: 0, stderr: '' });
    const drift = (await place.json('drift', child, '--platform', platform)) as { files: { state: string }[]; lacking: unknown[] };
    expect([drift.files.map(({ state }) => state), drift.lacking]).toEqual([[file, ...more].map(() => 'kept'), []]);
    expect((await place.run('drift', child, '--platform', platform)).stdout).toMatch(/nothing changed there/);
    const traced = (await place.json('trace', child, file, '--platform', platform)) as { steps: { theme: string; found: string }[] };
    expect(traced.steps.slice(0, 2).map(({ theme, found }) => [theme, found])).toEqual([
      ['cierzo', 'taken'],
      ['albar', 'shadowed'],
    ]);
    expect(await place.run('override', child, '--drop', ...common)).toMatchObject({ status: 0 });
    expect(snapshot(place.path('shelf'))).toEqual(before);
    expect(parent).toContain('albar');
  });
});

describe('a parent’s update', () => {
  it('is told file by file: one could be given up, one merges, one conflicts', async () => {
    const place = demo();
    const { stdout, status } = await place.run('drift', 'shelf/cierzo');
    expect(status).toBe(0);
    expect(stdout.split('\n')[0]).toBe('▲ cierzo: 3 files on record; 2 files changed by the parent, 1 new in the parent');
    expect(stdout).toMatch(/pages\/front\.html {2}albar 2\.0\.0, now 2\.1\.0; changed here too\n {4}@@[^]*\+ {4}\{\{> beds\}\}/);
    expect(stdout).toMatch(/partials\/footer\.html .*you can drop it\n\nNew in the parent\n {2}pages\/front\.html {2}albar includes beds/);
  });

  it('is merged, with what conflicts marked, found by check, and taken back', async () => {
    const place = demo();
    const before = snapshot(place.folder);
    const merged = await place.run('drift', 'shelf/cierzo', '--merge', '--yes');
    expect([merged.status, merged.stdout]).toEqual([
      1,
      expect.stringMatching(/✓ pages\/front\.html {2}\+1 −0\n.*header\.html .*1 conflict\n✓ 2 files merged/),
    ]);
    expect(readFileSync(place.path('shelf/cierzo/pages/front.html'), 'utf8')).toMatch(/cierzo-wind[^]*\{\{> beds\}\}/);
    expect(readFileSync(place.path('shelf/cierzo/partials/header.html'), 'utf8')).toMatch(
      /^<<<<<<< cierzo\n.*hut of Cierzo.*\n=======\n.*albar-name.*\n>>>>>>> albar 2\.1\.0$/m,
    );
    expect((await place.run('check', 'shelf/cierzo', '--no-cache')).stdout).toMatch(/1 error[^]*text\/conflict/);
    expect((await place.run('drift', 'shelf/cierzo')).stdout).toMatch(/nothing changed there/);
    await place.run('undo', '--yes');
    expect(snapshot(place.folder)).toMatchObject(before);
  });

  it('finds the original in an archive, in the history of the parent, or in the record', async () => {
    const where = async (place: Workplace): Promise<unknown> =>
      ((await place.json('drift', 'shelf/cierzo')) as { files: { original: string | null }[] }).files.map(({ original }) => original);
    const place = demo();
    expect(await where(place)).toEqual(['albar-2.0.0.zip', 'albar-2.0.0.zip', null]);
    takeOld(place);
    expect(await where(place)).toEqual([null, null, null]);
    expect((await place.run('drift', 'shelf/cierzo', '--merge', '--yes')).stdout).toMatch(/nobody keeps the original: choose with --side/);
    // In the history of the parent's own repository.
    const old = demo();
    const git = (...args: string[]) =>
      runTool('git', ['-c', 'user.name=L', '-c', 'user.email=l@hut.example', ...args], { cwd: old.path('shelf/albar') });
    const now = readFileSync(old.path('shelf/albar/pages/front.html'));
    git('init', '-q');
    writeFiles(old.path('shelf/albar'), { 'pages/front.html': unzipped(old, 'albar-2.0.0.zip', 'albar/pages/front.html') });
    git('add', '-A');
    git('commit', '-qm', 'First');
    writeFiles(old.path('shelf/albar'), { 'pages/front.html': now });
    takeOld(old);
    expect(await where(old)).toEqual([expect.stringMatching(/^commit [0-9a-f]{10}$/), null, null]);
    // Where neither keeps it, the record does.
    const kept = demo();
    for (const archive of ['albar-2.0.0.zip', 'albar-2.1.0.zip']) rmSync(kept.path(archive));
    rmSync(kept.path('shelf/cierzo/pionero.overrides.yaml'));
    for (const path of ['pages/front.html', 'partials/header.html', 'partials/footer.html']) rmSync(kept.path('shelf/cierzo', path));
    await kept.run('override', 'shelf/cierzo', 'front', '--yes');
    writeFiles(kept.path('shelf/albar'), { 'pages/front.html': 'x\n' });
    expect(await where(kept)).toEqual(['the record']);
  });

  it.each<[why: string, change: (place: Workplace) => void, says: RegExp]>([
    ['removed', (place) => rmSync(place.path('shelf/albar/partials/footer.html')), /Removed by the parent[^]*partials\/footer\.html/],
    [
      'moved',
      (place) => {
        writeFiles(place.path('shelf/albar'), { 'partials/foot.html': readFileSync(place.path('shelf/albar/partials/footer.html')) });
        rmSync(place.path('shelf/albar/partials/footer.html'));
      },
      /Moved by the parent[^]*footer\.html .*now in partials\/foot\.html/,
    ],
    [
      'moved and changed',
      (place) => {
        writeFiles(place.path('shelf/albar'), { 'parts/footer.html': '<footer>new</footer>\n' });
        rmSync(place.path('shelf/albar/partials/footer.html'));
      },
      /Moved by the parent[^]*footer\.html .*now in parts\/footer\.html/,
    ],
    [
      'gone here',
      (place) => rmSync(place.path('shelf/cierzo/partials/footer.html')),
      /On record, and not there any more[^]*--drop[^]*footer\.html/,
    ],
    [
      'without its parent',
      (place) => rmSync(place.path('shelf/albar'), { recursive: true }),
      /Taken from a theme that is not in the chain[^]*“albar” is on no shelf/,
    ],
    [
      'downgraded',
      (place) =>
        writeFiles(place.path('shelf/albar'), {
          'sheet.css': readFileSync(place.path('shelf/albar/sheet.css'), 'utf8').replace('2.1.0', '1.9.0'),
        }),
      /now 1\.9\.0 \(an older one\)/,
    ],
    [
      'copied by hand',
      (place) => writeFiles(place.path('shelf/cierzo'), { 'pages/list.html': readFileSync(place.path('shelf/albar/pages/list.html')) }),
      /In the place of a parent’s file, and not on record\n {2}pages\/list\.html {2}albar’s, the same: it could be removed/,
    ],
  ])('with a file that is %s says so', async (_why, change, says) => {
    const place = demo();
    change(place);
    expect((await place.run('drift', 'shelf/cierzo')).stdout).toMatch(says);
  });

  it('says which regions, texts and fields of the parent a child lacks that has its own', async () => {
    const lacking = async ({ place, child }: { place: Workplace; child: string }, platform: string): Promise<unknown> =>
      ((await place.json('drift', child, '--platform', platform)) as { lacking: { kind: string; name: string; of: string }[] }).lacking.map(
        ({ kind, name, of }) => `${of} ${kind} ${name}`,
      );
    const regions = await family('cordada');
    const manifest = (id: string): string => regions.place.path('shelf', id, `${id}.cordada.yaml`);
    const parents = readFileSync(manifest('albar'), 'utf8');
    expect(parents).toMatch(/^areas:\n {2}\w+:/m);
    writeFiles(regions.place.path(regions.child), {
      'cierzo.cordada.yaml': `${readFileSync(manifest('cierzo'), 'utf8')}areas:\n  attic: Attic\n`,
    });
    expect(await lacking(regions, 'cordada')).toEqual(expect.arrayContaining(['albar region content', 'albar region footer']));
    const texts = await family('estrato');
    writeFiles(texts.place.path(texts.parent), { 'words/es.ini': 'read = Leer\nbeds = Camas\n' });
    writeFiles(texts.place.path(texts.child), { 'words/es.ini': 'read = Lee\n' });
    expect(await lacking(texts, 'estrato')).toEqual(['albar text beds']);
    const fields = demo();
    const sheet = readFileSync(fields.path('shelf/cierzo/sheet.css'), 'utf8');
    writeFiles(fields.path('shelf/cierzo'), { 'sheet.css': sheet.replace(/hosts: .*\n/, '') });
    expect((await fields.run('drift', 'shelf/cierzo')).stdout).toMatch(/sheet\.css {2}albar states hosts/);
  });

  it('keeps our line ends, and asks for a side of what is no text', async () => {
    const place = demo();
    const front = place.path('shelf/cierzo/pages/front.html');
    writeFiles(place.path('shelf/cierzo'), { 'pages/front.html': readFileSync(front, 'utf8').replaceAll('\n', '\r\n') });
    await place.run('drift', 'shelf/cierzo', '--merge', '--yes');
    const text = readFileSync(front, 'utf8');
    expect(text).toContain('{{> beds}}\r\n');
    expect(text.replaceAll('\r\n', '')).not.toContain('\n');
    const pictures = demo();
    writeFiles(pictures.path('shelf/albar'), { 'pictures/hut.png': Buffer.from([137, 80, 0, 1]) });
    await pictures.run('override', 'shelf/cierzo', 'pictures/hut.png', '--yes');
    writeFiles(pictures.path('shelf/albar'), { 'pictures/hut.png': Buffer.from([137, 80, 0, 2]) });
    writeFiles(pictures.path('shelf/cierzo'), { 'pictures/hut.png': Buffer.from([137, 80, 0, 3]) });
    const asked = await pictures.run('drift', 'shelf/cierzo', '--merge', '--dry-run');
    expect([asked.status, asked.stdout]).toEqual([
      1,
      expect.stringMatching(/hut\.png {2}not text, and changed on both sides: choose with --side mine or --side parent/),
    ]);
    const kept = await pictures.run('drift', 'shelf/cierzo', '--merge', '--side', 'mine', '--yes');
    expect(kept.stdout).toMatch(/hut\.png {2}yours is kept\n[^]*✓ 2 files merged, 1 file kept as yours; /);
    await pictures.run('undo', '--yes');
    await pictures.run('drift', 'shelf/cierzo', '--merge', '--side', 'parent', '--yes');
    expect([...readFileSync(pictures.path('shelf/cierzo/pictures/hut.png'))]).toEqual([137, 80, 0, 2]);
  });

  it('is walked through on a terminal, conflict by conflict', async () => {
    const place = demo();
    const down = '\u001b[B';
    const { status, shown } = await onTerminal(
      place,
      'shelf',
      ['drift', 'cierzo', '--merge'],
      [
        [/header\.html, conflict 1[^]*− .*hut of Cierzo[^]*\+ .*albar-name[^]*Which is right/, `${down}${ENTER}`],
        [/Write 2 files\?/, `y${ENTER}`],
      ],
    );
    expect([status, shown]).toEqual([0, expect.stringMatching(/✓ 2 files merged/)]);
    expect(readFileSync(place.path('shelf/cierzo/partials/header.html'), 'utf8')).toMatch(
      /^<header class="albar-header">\n {2}<a class="albar-name"/,
    );
  }, 30_000);

  it('is left as it was when the walk is broken off', async () => {
    const place = demo();
    const before = snapshot(place.folder);
    const broken = await onTerminal(place, 'shelf', ['drift', 'cierzo', '--merge'], [[/Which is right/, '\u0003']]);
    expect([broken.status, broken.shown]).toEqual([2, expect.stringMatching(/stopped: nothing was changed/)]);
    expect(snapshot(place.folder)).toEqual(before);
  }, 30_000);

  it('to a version that a child is not made for is said, and what it is made for is noted when it is made', async () => {
    const place = demo();
    writeFiles(place.folder, {
      'own.platform.yaml':
        'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\ndocuments: [{ path: sheet.css, fields: [{ key: parent-range, fact: parentRange, type: range }] }]\ninheritance: { made-for: parentRange }\n',
    });
    const common = ['--platform', 'own.platform.yaml', '--shelf', 'shelf'];
    const kit = join(import.meta.dirname, '../../platforms/vereda/kits/child');
    await place.run('new', 'lumbre', '--parent', 'albar', '--kit', kit, '--to', 'shelf', '--yes', ...common);
    const sheet = place.path('shelf/albar/sheet.css');
    expect(readFileSync(place.path('shelf/lumbre/sheet.css'), 'utf8')).toContain('parent-range: ">=2.1.0 <3.0.0"');
    expect((await place.run('drift', 'shelf/lumbre', ...common)).stdout).toMatch(/^✓/);
    writeFiles(place.path('shelf/albar'), { 'sheet.css': readFileSync(sheet, 'utf8').replace('2.1.0', '3.0.0') });
    expect((await place.run('drift', 'shelf/lumbre', ...common)).stdout).toMatch(
      /^▲ .*not made for this version\n[^]*made for albar >=2\.1\.0 <3\.0\.0, and albar is 3\.0\.0/,
    );
    expect((await place.run('drift', 'shelf', ...common)).stdout).toMatch(/4 themes, 3 of them build on others; 2 have something to do/);
  });

  it('is summed up over a shelf, parents first', async () => {
    const { stdout } = await demo().run('drift', 'shelf');
    expect(stdout).toMatch(/▲ cierzo: [^]*✓ neveron: [^]*3 themes, 2 of them build on others; 1 has something to do/);
  });
});

describe('a copy of a parent’s file', () => {
  it('is adjusted where its addresses would lead nowhere, and told of where it replaces a sheet', async () => {
    const { place, child, parent } = await family('vereda');
    writeFiles(place.path(parent), { 'css/print.css': '.a { background: url("../art/hut.svg#x") }\n', 'art/hut.svg': '<svg/>' });
    const platform = readFileSync(join(import.meta.dirname, '../../platforms/vereda/vereda.platform.yaml'), 'utf8');
    const inherits = /inherits: .*/.exec(platform)?.[0] ?? '';
    writeFiles(place.folder, {
      'own.platform.yaml': platform
        .replace(inherits, 'inherits: ["*.html", "pages/**", "partials/**", "css/**"]\n  shadows: ["css/**"]')
        .replace('name: vereda', 'name: own'),
    });
    const outcome = await place.run('override', child, 'css/print.css', '--platform', 'own.platform.yaml', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([
      0,
      expect.stringMatching(/takes the place of albar’s as a whole[^]*“\.\.\/art\/hut\.svg#x” became “\.\.\/\.\.\/albar\/art\/hut\.svg#x”/),
    ]);
    expect(readFileSync(place.path(child, 'css/print.css'), 'utf8')).toBe('.a { background: url("../../albar/art/hut.svg#x") }\n');
    const judged = await place.run('check', child, '--platform', 'own.platform.yaml');
    expect(judged.stdout).not.toContain('asset/missing');
  });

  it.each<[string, string[], RegExp]>([
    ['that is there already', ['front'], /pages\/front\.html was taken from albar already/],
    ['of its own', ['sheet.css'], /cierzo has a sheet\.css of its own/],
    ['that is named without its folder', ['header'], /did you mean “partials\/header\.html”/],
    ['that no parent has', ['partials/hedaer.html'], /has no file and no page[^]*did you mean “partials\/header\.html”/],
    ['that was changed', ['partials/header.html', '--drop'], /was changed since it was taken from albar/],
    ['that is not on record', ['sheet.css', '--drop'], /not on record[^]*pages\/front\.html/],
    ['that is not named', [], /which file of the parent\?/],
  ])('%s is refused', async (_why, words, says) => {
    const outcome = await demo().run('override', 'shelf/cierzo', ...words, '--yes');
    expect([outcome.status === 0, outcome.stderr]).toEqual([false, expect.stringMatching(says)]);
  });

  it('that comes with the host is said to', async () => {
    const { place, child } = await family('roundcube');
    const outcome = await place.run('override', child, 'mail', '--platform', 'roundcube', '--yes');
    expect(outcome).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/templates\/mail\.html comes with the host, from its theme elastic/) as string,
    });
  });

  it('is taken once, by whatever name', async () => {
    const place = demo();
    const outcome = await place.run('override', 'shelf/neveron', 'front', 'pages/front.html', './pages/front.html', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([0, expect.stringMatching(/takes 1 file/)]);
  });

  it('is looked for in a repository whose settings run nothing', async () => {
    const place = demo();
    takeOld(place);
    const at = place.path('shelf/albar');
    const git = (args: string[], input = '') => runTool('git', args, { cwd: at, input }).stdout.trim();
    git(['init', '-q']);
    git(['add', '-A']);
    const head = `tree ${git(['write-tree'])}\nauthor L <l@hut.example> 1 +0000\ncommitter L <l@hut.example> 1 +0000\n`;
    const signed = `${head}gpgsig -----BEGIN PGP SIGNATURE-----\n \n x\n -----END PGP SIGNATURE-----\n\nFirst\n`;
    git(['update-ref', 'HEAD', git(['hash-object', '-t', 'commit', '-w', '--stdin'], signed)]);
    writeFiles(place.folder, { 'evil.sh': `#!/bin/sh\ntouch ${place.path('ran')}\n` });
    chmodSync(place.path('evil.sh'), 0o755);
    for (const [key, value] of [
      ['log.showSignature', 'true'],
      ['gpg.program', place.path('evil.sh')],
      ['core.fsmonitor', place.path('evil.sh')],
      ['core.sshCommand', place.path('evil.sh')],
    ] as const)
      git(['config', key, value]);
    expect(await place.run('drift', 'shelf/cierzo')).toMatchObject({ status: 0 });
    expect(existsSync(place.path('ran'))).toBe(false);
  });

  it('is refused where there is no parent, and where the record cannot be read', async () => {
    const place = demo();
    expect((await place.run('override', 'shelf/albar', 'front', '--yes')).stderr).toMatch(/albar builds on no theme/);
    writeFiles(place.path('shelf/cierzo'), {
      'pionero.overrides.yaml': 'overrides:\n  - file: ../x\n    theme: a\n    from: b\n    sha256: c\n    taken: d\n',
    });
    expect((await place.run('override', 'shelf/cierzo', 'list', '--yes')).stderr).toMatch(/cannot be read[^]*line 2, column 5/);
    expect((await place.run('check', 'shelf/cierzo', '--no-cache')).stdout).toMatch(/override\/record/);
  });
});

describe('files that hosts merge entry by entry', () => {
  const merging = async (file: string, more: Record<string, string>): Promise<{ place: Workplace; child: string }> => {
    const { place, child, parent } = await family('estrato');
    const platform = readFileSync(join(import.meta.dirname, '../../platforms/estrato/estrato.platform.yaml'), 'utf8');
    const format = file.endsWith('.po') ? 'po' : 'ini';
    writeFiles(place.folder, {
      'own.platform.yaml': platform
        .replace('name: estrato', 'name: own')
        .replace(/^strings: .*$/m, `strings: { file: "words/{locale}.${format}", format: ${format} }`)
        .replace(/^inheritance:\n/m, 'inheritance:\n  merges: ["words/*"]\n'),
    });
    writeFiles(place.path(parent), more);
    return { place, child };
  };
  const words = (place: Workplace, child: string, ...more: string[]) =>
    place.run('override', child, ...more, '--platform', 'own.platform.yaml', '--yes');

  it('give a child the entries that are named, and no others', async () => {
    const { place, child } = await merging('words/es.ini', { 'words/es.ini': '; so\nread = Leer\nopen = Abrir\nbeds = Camas\n' });
    rmSync(place.path(child, 'words'), { recursive: true, force: true });
    expect(await words(place, child, 'words/es.ini', '--entry', 'open', '--entry', 'beds')).toMatchObject({ status: 0, stderr: '' });
    expect(readFileSync(place.path(child, 'words/es.ini'), 'utf8')).toBe('open=Abrir\nbeds=Camas\n');
    await words(place, child, 'words/es.ini', '--entry', 'read');
    expect(readFileSync(place.path(child, 'words/es.ini'), 'utf8')).toBe('read=Leer\nopen=Abrir\nbeds=Camas\n');
    expect((await words(place, child, 'words/es.ini', '--entry', 'opne')).stderr).toMatch(/has no entry “opne”[^]*did you mean “open”/);
    expect((await words(place, child, 'main.html', '--entry', 'a')).stderr).toMatch(/does not merge main\.html[^]*it merges words\/\*/);
    const { lacking } = (await place.json('drift', child, '--platform', 'own.platform.yaml')) as { lacking: unknown[] };
    expect(lacking).toEqual([]);
  });

  it('also of gettext, message by message, with the header of the parent’s', async () => {
    const po = 'msgid ""\nmsgstr ""\n"Language: es\\n"\n\n# so\nmsgid "read"\nmsgstr "Leer"\n\nmsgid "open"\nmsgstr "Abrir"\n';
    const { place, child } = await merging('words/es.po', { 'words/es.po': po });
    await words(place, child, 'words/es.po', '--entry', 'read');
    expect(readFileSync(place.path(child, 'words/es.po'), 'utf8')).toBe(po.slice(0, po.indexOf('\n\nmsgid "open"') + 1));
  });
});

describe('a shelf as a workspace', () => {
  it('is packed, each theme for itself, with what it needs on the host, and stopped by none', async () => {
    const place = demo();
    writeFiles(place.path('shelf/neveron'), { 'sheet.css': '/*---\ntitle: Neveron\n---*/\n' });
    const outcome = await place.run('pack', 'shelf', '--out', 'dist', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([
      1,
      expect.stringMatching(
        /✓ dist\/albar\.zip .*\n[^]*✗ neveron {2}neveron has \d errors? and was not packed\n✓ dist\/cierzo\.zip .*needs albar 2\.1\.0\n\n2 themes packed, 1 not\./,
      ),
    ]);
    const alone = (await place.json('pack', 'shelf/cierzo', '--dry-run')) as { needs: unknown };
    expect(alone.needs).toEqual([{ kind: 'parent', id: 'albar', version: '2.1.0' }]);
  });

  it('has its versions raised, all or none', async () => {
    const place = demo();
    const before = snapshot(place.path('shelf'));
    const { stdout } = await place.run('meta', 'bump', 'minor', 'shelf', '--yes');
    expect(stdout).toMatch(
      /albar {4}2\.1\.0 → 2\.2\.0\n {2}cierzo {3}0\.1\.0 → 0\.2\.0\n {2}neveron {2}0\.2\.0 → 0\.3\.0\n✓ 3 versions raised/,
    );
    await place.run('undo', '--yes');
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it('has facts set in all of its themes, with one undo', async () => {
    const place = demo();
    const before = snapshot(place.path('shelf'));
    const { status, stdout } = await place.run('meta', 'set', 'license=MIT', 'author=Albar Hut League', 'shelf', '--yes');
    expect([status, stdout]).toEqual([
      0,
      expect.stringMatching(
        /^cierzo\n {2}license {2}MIT {2}sheet\.css\n[^]*neveron\n[^]*1 theme needs no change\n✓ 2 themes written; “pionero undo” reverts all of them\.\n/,
      ),
    ]);
    const again = await place.run('meta', 'set', 'license=MIT', 'shelf/albar', 'shelf/cierzo', '--yes');
    expect([again.status, again.stdout]).toEqual([0, '2 themes need no change\n']);
    await place.run('undo', '--yes');
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it.each<[what: string, words: string[], status: number, says: RegExp]>([
    [
      'one cannot be changed',
      ['set', 'title=Hut', 'shelf'],
      1,
      /✗ 1 theme of 3 cannot be changed this way: nothing was written\.\n {2}neveron: the header of sheet\.css cannot be read/,
    ],
    [
      'none can, for one reason',
      ['set', 'titel=Hut', 'shelf/albar', 'shelf/cierzo'],
      2,
      /✗ Vereda has no fact “titel”\.\n.*did you mean “title”/,
    ],
    ['a version cannot be raised', ['bump', 'minor', 'shelf/cierzo'], 2, /the version “2\.x” of cierzo cannot be raised/],
    ['a change would break one', ['set', 'parent=nowhere', 'shelf/albar', 'shelf/cierzo'], 1, /This would break albar: 1 new error/],
  ])('writes nothing where %s', async (_what, words, status, says) => {
    const place = demo();
    const header = (path: string, text: string): void =>
      writeFiles(place.path('shelf'), { [path]: readFileSync(place.path(`shelf/${path}`), 'utf8').replace(/version: .*/, text) });
    header('cierzo/sheet.css', 'version: 2.x');
    header('neveron/sheet.css', 'version: [');
    const before = snapshot(place.path('shelf'));
    const outcome = await place.run('meta', ...words, '--yes');
    expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it('has the documents of each theme agree', async () => {
    const place = demo();
    writeFiles(place.path('shelf/cierzo'), { 'README.md': '<!--\nVersion: 0.9.0\n-->\n# Cierzo\n' });
    const { status, stdout } = await place.run('meta', 'sync', 'shelf', '--yes');
    expect([status, stdout]).toEqual([
      0,
      expect.stringMatching(/cierzo\n[^]*version {2}0\.1\.0 → 0\.9\.0 {2}sheet\.css[^]*✓ 1 theme written/),
    ]);
  });
});

describe('a trace', () => {
  it.each<[string, string[], number, RegExp]>([
    [
      'of a page',
      ['front'],
      0,
      /✓ front: served\n\n {2}front: pages\/front\.html\n {4}● cierzo {2}here: this one is taken\n {4}○ albar {3}here too, and not asked/,
    ],
    ['of what falls back', ['search'], 0, /search: pages\/search\.html\n {4}○ cierzo {2}not there[^]*list: pages\/list\.html[^]*● albar/],
    ['of a misspelt page', ['frnt'], 1, /did you mean “front”/],
    ['of two', ['front', 'list'], 2, /too many arguments/],
  ])('%s', async (_why, words, status, says) => {
    const outcome = await demo().run('trace', 'shelf/cierzo', ...words);
    expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });

  it.each<[string, string[], RegExp]>([
    ['a shelf', ['shelf'], /it is a shelf, a folder of themes; name one of them: albar, cierzo, neveron/],
    ['nothing', ['ciezro'], /there is no folder ciezro, and no theme of that id on a shelf/],
  ])('of %s says what there is', async (_what, words, says) => {
    const outcome = await demo().run('trace', ...words);
    expect([outcome.status, outcome.stderr]).toEqual([2, expect.stringMatching(says)]);
    expect((await demo().runIn('shelf/cierzo', 'trace', 'front')).stdout).toMatch(/✓ front: served/);
  });

  it('says what comes with the host, what is made of another file, and what nothing serves', async () => {
    const mail = await family('roundcube');
    expect(await mail.place.run('trace', mail.child, 'mail', '--platform', 'roundcube')).toMatchObject({
      status: 0,
      stdout: expect.stringMatching(
        /✓ mail: served\n\n {2}mail: templates\/mail\.html\n {4}○ cierzo +not there\n {4}○ albar +not there\n {4}● elastic +comes with the host/,
      ) as string,
    });
    const script = await family('sphinx');
    const made = await script.place.run('trace', script.child, 'static/albar.css', '--platform', 'sphinx');
    expect(made.stdout).toMatch(/✓ static\/albar\.css: served[^]*● albar +made of static\/albar\.css_t/);
    const bare = demo();
    for (const file of ['main.html', 'pages/missing.html']) rmSync(bare.path('shelf/albar', file));
    expect(await bare.run('trace', 'shelf/cierzo', 'missing')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/✗ missing: nothing serves it\n\n {2}missing: pages\/missing\.html[^]*main: main\.html/) as string,
    });
    expect(await bare.json('trace', 'shelf/cierzo', 'missing')).toMatchObject({ served: false });
  });

  it('lists every file that the host takes, its own first to last, and none that it does not', async () => {
    const place = demo();
    const { files } = (await place.json('trace', 'shelf/cierzo')) as { files: { path: string; from: string }[] };
    expect(files.map(({ path, from }) => `${from} ${path}`)).toEqual([
      'cierzo cover.png',
      'cierzo hooks.php',
      'albar main.html',
      'cierzo pages/front.html',
      'albar pages/list.html',
      'albar pages/missing.html',
      'albar partials/albar-menu.html',
      'albar partials/beds.html',
      'cierzo partials/footer.html',
      'cierzo partials/header.html',
      'cierzo sheet.css',
    ]);
  });

  it.each(['trace', 'drift'])('of what is no theme says so: %s', async (command) => {
    const { stdout } = await demo().run(command, 'shelf/albar/pages', '--platform', 'vereda');
    expect(stdout).toMatch(/^▲ Vereda does not take shelf\/albar\/pages for a theme: /);
  });

  it('says which of two parents of one id is taken, and which parent is not there', async () => {
    const place = demo();
    cpSync(place.path('shelf/albar'), place.path('other/albar'), { recursive: true });
    const twice = await place.run('trace', 'shelf/cierzo', '--shelf', 'other');
    expect(twice.stdout).toMatch(/▲ albar is on two shelves: other\/albar is taken, shelf\/albar is not/);
    rmSync(place.path('shelf/albar'), { recursive: true });
    expect((await place.run('trace', 'shelf/cierzo')).stdout).toMatch(/cierzo .*→ albar \(not here\)[^]*The parent “albar” is on no shelf/);
  });

  it('is a page of its own, written over only when that is agreed to', async () => {
    const place = demo();
    expect(await place.run('trace', 'shelf/cierzo', '--out', 'trace.html')).toMatchObject({ status: 0 });
    const page = readFileSync(place.path('trace.html'), 'utf8');
    expect(page).not.toMatch(/(?:src|href)=/);
    expect(await place.run('trace', 'shelf/cierzo', '--out', 'trace.html')).toMatchObject({ status: 2 });
  });
});

describe('what a site’s owner changed', () => {
  it('comes back into a theme that has moved on, and what the platform does not know is listed', async () => {
    const place = demo();
    const before = snapshot(place.path('shelf'));
    const outcome = await place.run('harvest', 'neveron-export.zip', '--to', 'shelf/neveron', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([0, '']);
    expect(outcome.stdout).toMatch(/1 new, 0 changed, 1 changed on both sides, 2 the same, from neveron 0\.1\.0 \(neveron-0\.1\.0\.zip\)/);
    expect(outcome.stdout).toMatch(/Not known to the platform: not taken\n {2}owner-settings\.json/);
    const sheet = readFileSync(place.path('shelf/neveron/sheet.css'), 'utf8');
    expect([sheet.includes('#7a1f1f'), sheet.includes('2rem'), sheet.includes('version: 0.2.0')]).toEqual([true, true, true]);
    expect(existsSync(place.path('shelf/neveron/owner-settings.json'))).toBe(false);
    expect(await place.run('check', 'shelf/neveron', '--no-cache')).toMatchObject({ status: 0 });
    expect(await place.run('pack', 'shelf/neveron', '--out', 'neveron.zip', '--yes')).toMatchObject({ status: 0 });
    const again = await place.run('harvest', 'neveron-export.zip', '--to', 'shelf/neveron', '--yes');
    expect(again.stdout).toMatch(/✓ the site changed nothing of neveron that it does not have/);
    await place.run('undo', '--yes');
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it('is found in a site’s own folder, and in one of loose files', async () => {
    const place = demo();
    mkdirSync(place.path('site/themes'), { recursive: true });
    // What was installed there is on record: what differs now was changed there.
    await place.run('install', 'shelf/neveron', '--to', 'site', '--yes');
    writeFiles(place.path('site/themes/neveron'), { 'hooks.php': '<?php\r\n// of the site\r\n' });
    const picture = Buffer.from([137, 80, 78, 71, 0, 1]);
    writeFiles(place.path('site/themes/neveron'), { 'cover.png': picture });
    const changed = await place.json('harvest', 'site', '--to', 'shelf/neveron', '--yes');
    const states = ['cover.png', 'hooks.php'].map((file) => ({ file, state: 'changed', conflicts: 0 }));
    expect(changed).toMatchObject({ files: expect.arrayContaining(states) as unknown });
    // Texts keep the line ends that they have here.
    expect(readFileSync(place.path('shelf/neveron/hooks.php'), 'utf8')).toBe('<?php\n// of the site\n');
    expect(readFileSync(place.path('shelf/neveron/cover.png'))).toEqual(picture);
    writeFiles(place.path('loose'), { 'sheet.css': readFileSync(place.path('shelf/neveron/sheet.css')) });
    expect((await place.run('harvest', 'loose', '--to', 'shelf/neveron')).stdout).toMatch(/changed nothing/);
  });

  it('is refused where a path leaves the export, and damaged archives are passed over', async () => {
    const place = demo();
    const before = snapshot(place.path('shelf'));
    writeFiles(place.folder, {
      'evil.zip': zipOf([
        { name: 'neveron/sheet.css', content: 'x' },
        { name: '../shelf/neveron/hooks.php', content: 'x' },
      ]),
      'neveron-0.1.0.zip': 'no archive',
      'albar-2.0.0.zip': Buffer.from('PK\u0003\u0004 cut off'),
    });
    expect(await place.run('harvest', 'evil.zip', '--to', 'shelf/neveron', '--yes')).toMatchObject({ status: 1 });
    expect(await place.run('harvest', 'neveron-export.zip', '--to', 'shelf/neveron', '--dry-run')).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/1 new, 0 changed, 1 changed on both sides[^]*Nobody knows what was put on the site/) as string,
    });
    expect(await place.run('drift', 'shelf/cierzo')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  it.each<[string, string[], RegExp]>([
    ['nothing', ['nowhere.zip'], /there is no export nowhere\.zip/],
    ['another theme', ['shelf/albar/pages'], /shelf\/albar\/pages holds no files of the theme neveron/],
    ['a version that is not here', ['neveron-export.zip', '--base', '0.0.9'], /there is no neveron 0\.0\.9 here/],
  ])('of %s is refused', async (_why, words, says) => {
    const outcome = await demo().run('harvest', ...words, '--to', 'shelf/neveron', '--yes');
    expect([outcome.status === 0, outcome.stderr]).toEqual([false, expect.stringMatching(says)]);
  });
});

function unzipped(place: Workplace, archive: string, entry: string): Buffer {
  need('archivers');
  return spawnSync('unzip', ['-p', place.path(archive), entry]).stdout;
}
