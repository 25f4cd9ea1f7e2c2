import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

describe('from nothing to an installable theme', () => {
  it('new, check, clone, pack, rehearse, undo', async () => {
    const place = new Workplace().withShelf();
    const made = await place.run(
      'new',
      'cierzo',
      '--platform',
      'vereda',
      '--parent',
      'albar',
      '--shelf',
      'demo/shelf',
      '--title',
      'Refugio Cierzo',
      '--to',
      '.',
      '--yes',
    );
    expect(made).toMatchObject({ status: 0, stderr: '' });
    expect(made.stdout).toMatch(/├── cover\.png[^]*is made[^]*Next/);
    expect(readFileSync(place.path('cierzo/sheet.css'), 'utf8')).toContain('title: Refugio Cierzo\nversion: 0.1.0\n');
    expect(readFileSync(place.path('cierzo/hooks.php'), 'utf8')).toContain('function cierzo_setup()');

    expect(await place.json('check', 'cierzo')).toMatchObject({
      theme: { id: 'cierzo', title: 'Refugio Cierzo', parent: 'albar', parentStyles: 'before' },
      platform: 'vereda',
      findings: [],
      summary: { errors: 0, warnings: 0, notes: 0 },
    });

    const before = snapshot(place.path('demo'));
    const clone = await place.json('clone', 'demo/shelf/albar', 'lumbre', '--to', '.', '--yes');
    expect(clone).toMatchObject({
      from: { id: 'albar', title: 'Albar' },
      to: { id: 'lumbre', title: 'Lumbre' },
      applied: true,
      leftovers: [],
      unsure: [],
    });
    expect(snapshot(place.path('demo'))).toEqual(before);
    expect(await place.run('check', 'lumbre')).toMatchObject({ status: 0 });

    const packed = await place.json('pack', 'lumbre');
    expect(packed).toMatchObject({ format: 'zip', verified: true });
    const first = readFileSync(place.path('lumbre.zip'));
    await place.run('pack', 'lumbre');
    expect(readFileSync(place.path('lumbre.zip'))).toEqual(first);

    const rehearsed = await place.json('rehearse', 'lumbre.zip');
    expect(rehearsed).toMatchObject({ recognised: true, reasons: [] });
    expect(rehearsed['pages']).toContainEqual(expect.objectContaining({ role: 'front', template: 'pages/front.html', from: 'lumbre' }));
    const child = await place.json('rehearse', 'cierzo');
    expect(child).toMatchObject({ chain: ['cierzo', 'albar'], sheets: ['themes/albar/sheet.css', 'themes/cierzo/sheet.css'] });
    expect(child['pages']).toContainEqual(expect.objectContaining({ role: 'main', from: 'albar' }));

    expect(await place.run('undo', '--yes')).toMatchObject({ status: 0 });
    expect(existsSync(place.path('lumbre'))).toBe(false);
    expect((await place.run('undo', '--yes')).stdout).toContain('new cierzo');
    expect(existsSync(place.path('cierzo'))).toBe(false);
    expect(await place.run('undo', '--yes')).toMatchObject({ status: 1 });
  });

  it('fixes what has one right answer, and takes it back', async () => {
    const place = new Workplace().withShelf();
    const before = snapshot(place.path('demo'));
    const findings = ((await place.json('check', 'demo/shelf/cornisa'))['findings'] as { fixable: boolean; rule: string }[]).map(
      ({ rule, fixable }) => `${rule}${fixable ? '*' : ''}`,
    );
    expect(new Set(findings)).toEqual(
      new Set([
        'image/size',
        'identifier/prefix',
        'identifier/unique',
        'asset/missing',
        'asset/missing*',
        'template/fragment*',
        'template/syntax',
        'field/unknown*',
        'field/type',
        'field/type*',
        'parent/missing*',
        'parent/styles*',
      ]),
    );
    expect((await place.run('check', 'demo/shelf/cornisa', '--fix', '--dry-run')).status).toBe(1);
    expect(snapshot(place.path('demo'))).toEqual(before);
    await place.run('check', 'demo/shelf/cornisa', '--fix', '--yes');
    const after = await place.json('check', 'demo/shelf/cornisa');
    expect((after['findings'] as { fixable: boolean }[]).filter((finding) => finding.fixable)).toEqual([]);
    expect(after['theme']).toMatchObject({ title: 'Cornisa', version: '1.2.0', license: 'MIT', parent: 'albar', parentStyles: 'before' });
    expect((await place.run('undo', '--yes')).status).toBe(0);
    expect(snapshot(place.path('demo'))).toEqual(before);
  });

  it('adds what a folder lacks and overwrites nothing', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'sheet.css': '/*---\ntitle: Paso\nversion: 3.0.0\nhosts: ">=2"\n---*/\n', 'notes.txt': 'mine' });
    expect(await place.runIn('paso', 'new', '--here', '--platform', 'vereda', '--yes')).toMatchObject({ status: 0 });
    expect(Object.keys(snapshot(place.path('paso'))).sort()).toEqual(['cover.png', 'main.html', 'notes.txt', 'sheet.css']);
    expect(readFileSync(place.path('paso/sheet.css'), 'utf8')).toContain('version: 3.0.0');
    expect((await place.runIn('paso', 'undo', '--yes')).status).toBe(0);
    expect(Object.keys(snapshot(place.path('paso'))).sort()).toEqual(['notes.txt', 'sheet.css']);
  });

  it('shows each fact and where it stands', async () => {
    const place = new Workplace().withShelf();
    const { facts } = (await place.json('meta', 'show', 'demo/shelf/albar-noche')) as { facts: object[] };
    expect(facts).toContainEqual({ fact: 'parent', key: 'parent', value: 'albar', file: 'sheet.css', line: 8, column: 9 });
    expect((await place.run('meta', 'show', 'albar-noche', '--shelf', 'demo/shelf')).stdout).toMatch(/parent +albar +sheet\.css:8:9/);
  });

  it('keeps a site that a browser can show', async () => {
    const place = new Workplace().withShelf();
    expect((await place.run('rehearse', 'demo/shelf/albar-noche', '--out', 'site')).status).toBe(0);
    const front = readFileSync(place.path('site/front.html'), 'utf8');
    for (const [, address = ''] of front.matchAll(/(?:src|href)="(themes\/[^"]+)"/g))
      expect(existsSync(place.path('site', address))).toBe(true);
    expect(front).toMatch(/themes\/albar\/sheet\.css[^]*themes\/albar-noche\/sheet\.css/);
    expect(front).toContain('Snow at the Neveron pass');
  });

  it('is shown by the demo', async () => {
    const place = new Workplace();
    const outcome = await place.run('demo');
    expect(outcome).toMatchObject({ status: 0, stderr: '' });
    expect(outcome.stdout).toMatch(
      /2 places fixed[^]*A second scan found \d+ mentions? of “albar”[^]*is recognized by[^]*Everything lies in/,
    );
  });
});

describe('a platform of somebody else’s', () => {
  const PLATFORM = `pionero: platform/1
name: cuaderno
title: Cuaderno
summary: A theme is a folder with a card.
releases: ["1"]
home: skins/{id}
id: { pattern: "^[a-z]+(_[a-z]+)*$", grammar: lower-case words with underscores, spelling: snake }
recognise: [{ path: card.yaml }]
documents:
  - path: card.yaml
    syntax: yaml
    required: always
    fields:
      - { key: [card, name], fact: title, required: always }
      - { key: [card, skin], fact: id, type: id, required: always }
      - { key: paper, fact: paper, type: choice, values: [plain, ruled] }
files:
  - { path: leaf.txt, required: always, without: nothing is shown }
package: { formats: [zip], name: "{id}-skin", top: "{id}" }
`;
  const setUp = () => {
    const place = new Workplace();
    writeFiles(place.folder, {
      'host/cuaderno.platform.yaml': PLATFORM,
      'host/kits/first/kit.yaml': 'pionero: kit/1\nname: first\ntitle: First\nabout: A start\ntheme: mochila\n',
      'host/kits/first/mochila/card.yaml': 'card:\n  name: Mochila\n  skin: mochila\npaper: plain\n',
      'host/kits/first/mochila/leaf.txt': 'mochila_leaf of MochilaSkin\n',
    });
    return place;
  };
  const at = ['--platform', 'host/cuaderno.platform.yaml'];

  it('works with no line of code', async () => {
    const place = setUp();
    expect(await place.run('new', 'alto_valle', ...at, '--yes')).toMatchObject({ status: 0 });
    expect(readFileSync(place.path('alto_valle/card.yaml'), 'utf8')).toBe('card:\n  name: Alto Valle\n  skin: alto_valle\npaper: plain\n');
    expect(readFileSync(place.path('alto_valle/leaf.txt'), 'utf8')).toBe('alto_valle_leaf of AltoValleSkin\n');
    expect((await place.run('check', 'alto_valle', ...at)).status).toBe(0);
    expect(await place.json('clone', 'alto_valle', 'paso', ...at, '--yes')).toMatchObject({ leftovers: [], applied: true });
    expect(await place.json('pack', 'paso', ...at)).toMatchObject({ archive: place.path('paso-skin.zip'), verified: true });
    expect((await place.run('rehearse', 'paso-skin.zip', ...at)).status).toBe(0);
    writeFileSync(place.path('paso/card.yaml'), 'card:\n  name: Paso\n  skin: other\npaper: squared\n');
    const { findings } = (await place.json('check', 'paso', ...at)) as { findings: { rule: string; line: number; column: number }[] };
    expect(findings.map(({ rule, line, column }) => [rule, line, column])).toEqual([
      ['id/agrees', 3, 9],
      ['field/type', 4, 8],
    ]);
    expect((await place.run('new', 'Alto-Valle', ...at, '--yes')).stderr).toContain('try “alto_valle”');
  });

  it('has mistakes in its file reported with their places', async () => {
    const place = setUp();
    writeFiles(place.folder, {
      'host/cuaderno.platform.yaml': PLATFORM.replace('releases:', 'relases:').replace(
        'required: always, without',
        'required: sometimes, without',
      ),
    });
    const outcome = await place.run('new', 'paso', ...at, '--yes');
    expect(outcome.status).toBe(2);
    expect(outcome.stderr).toMatch(/cuaderno\.platform\.yaml:5:1 “relases” is not known here; did you mean “releases”\?/);
    expect(outcome.stderr).toMatch(/:18:33 “files\.0\.required” must be one of "always"/);
  });
});
