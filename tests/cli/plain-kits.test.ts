import { cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { DEMO_SHELF, DEMO_SHELVES, Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

/** A parent of the demo data on a shelf of its own, with a kit that somebody made by hand. */
function beside(platform: string, kit: Record<string, string> = {}) {
  const place = new Workplace();
  cpSync(platform === 'vereda' ? DEMO_SHELF : join(DEMO_SHELVES, platform), place.path('shelf'), { recursive: true });
  writeFiles(place.path('shelf/albar/kits/mano'), kit);
  if (platform === 'vereda') cpSync(join(DEMO_SHELF, 'albar/cover.png'), place.path('shelf/albar/kits/mano/cover.png'));
  const run = async (...argv: string[]) => place.runIn('shelf', ...argv, '--platform', platform);
  return { place, run };
}

/** What a kit of each platform looks like whose name is written so in files and in their names. */
const HABITS: Record<string, (p: string) => Record<string, string>> = {
  cordada: (p) => ({
    'mano.cordada.yaml.txt': `title: "${p}"\nis: theme\nabout: A start\nhosts: ">=4"\nbase: albar\nload: ["${p}"]\nareas:\n  header: H\n  content: C\n  footer: F\n\n# Delete this line, and the next.\nkit: true\n`,
    [`bundles/${p}.yaml`]: `sheets: ["css/${p}-default.css"]\n`,
    [`css/${p}-default.css`]: `/* ${p} */\n.${p}-nav { top: 0 }\n`,
    'README.md': `# ${p}\n\nPut your name in the place of ${p}.\n`,
  }),
  vereda: (p) => ({
    'sheet.css.example': `/*---\ntitle: "${p}"\nversion: 1.0.0\nhosts: ">=3 <5"\nparent: albar\nparent-sheet: before\n---*/\n@import "styles/${p}.css";\n`,
    [`styles/${p}.css`]: `.${p}-note { top: 0 }\n`,
    'docs/notes.md': `Notes on ${p}.\n`,
  }),
  horquilla: (p) => ({
    'about.php.dist': `<?php\nreturn ['component' => 'look:${p}', 'title' => '${p}', 'serial' => 1, 'hosts' => '>=5.0', 'parents' => ['albar']];\n`,
    'options.php': `<?php\nreturn ['${p}_ink' => 1];\n`,
    'style/look.css': `.look-${p} { top: 0 }\n`,
    [`docs/${p}.txt`]: `See ${p}.\n`,
  }),
};
const FORMS = [
  'YOURTHEME',
  'YOUR_THEME',
  'your-theme',
  'yourtheme',
  'STARTERKIT',
  '{{theme}}',
  '%theme%',
  '__THEME__',
  '@@theme@@',
  'MySubTheme',
];

describe('a kit that is a plain folder', () => {
  const rows = Object.keys(HABITS).flatMap((platform) => FORMS.map((form) => [platform, form] as const));

  it('is tried in at least twenty habits', () => {
    expect(rows.length).toBeGreaterThanOrEqual(20);
  });

  it.each(rows)('of %s, with %s, is made, checked, rehearsed and packed, with nothing left', async (platform, form) => {
    const { place, run } = beside(platform, HABITS[platform]?.(form));
    const made = await run('new', 'cierzo', '--parent', 'albar', '--kit', 'mano', '--kit-name', form, '--yes');
    expect([made.status, made.stderr, made.stdout]).toEqual([0, '', expect.stringContaining('✓ A second scan found nothing of')]);
    const text = JSON.stringify(snapshot(place.path('shelf/cierzo')));
    expect(text).not.toMatch(/your.?theme|starter.?kit|my.?sub.?theme|%theme|__theme|@@theme|\{\{theme\}\}|delete this|kit: true/i);
    expect(text).toMatch(/title["'\\: =>]+Cierzo/);
    for (const step of [['check'], ['rehearse'], ['pack', '--out', '../cierzo.zip']])
      expect([step, (await run(step[0] ?? '', 'cierzo', ...step.slice(1))).status]).toEqual([step, 0]);
  });

  it.each(['vereda', 'cordada', 'horquilla'])(
    'is found in the demo data of %s, the parent’s first, and passes “kit check”',
    async (platform) => {
      const { run } = beside(platform);
      const kits = JSON.parse((await run('kit', 'list', '--parent', 'albar', '--format', 'json')).stdout) as {
        name: string;
        from: string;
        notForUse: string | null;
      }[];
      expect(kits[0]?.from).toBe('the parent albar');
      for (const { name } of kits.filter(({ from, notForUse }) => from === 'the parent albar' && notForUse === null))
        expect([name, (await run('kit', 'check', name)).stdout]).toEqual([name, expect.stringContaining(`✓ ${name}`)]);
    },
  );
});

describe('beside the Cordada parent', () => {
  it('its kits are listed, the one that is not for use apart, and other hosts’ only with --all', async () => {
    const { place } = beside('cordada');
    const listed = await place.runIn('shelf', 'kit', 'list');
    expect(listed.stdout).toMatch(
      /^5 kits\n\nCordada[^]*moderno[^]*also called: YOURTHEME, moderno[^]*plano[^]*oculto +not for use: “hidden: true”/,
    );
    expect(listed.stdout).not.toContain('Vereda');
    expect((await place.runIn('shelf', 'kit', 'list', '--all')).stdout).toContain('Vereda');
  });

  it('a name that is only likely is an error that lists it, with its evidence', async () => {
    const { run } = beside('cordada', HABITS['cordada']?.('ACME_SUBTHEME'));
    const refused = await run('new', 'cierzo', '--parent', 'albar', '--kit', 'mano', '--yes');
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringMatching(/seems to have/)]);
    expect(refused.stderr).toMatch(/in the name of .*--kit-name/s);
  });

  it('a word that no dictionary knows is one where files and the manifest are called after it; it can be kept', async () => {
    const kit = {
      'mano.cordada.yaml':
        'title: X\nis: theme\nhosts: ">=4"\nbase: albar\nload: [zefira]\nareas:\n  header: H\n  content: C\n  footer: F\n',
      'bundles/zefira.yaml': 'sheets: [css/zefira.css, css/ACME.css]\n',
      'css/zefira.css': '/* Zefira */\n.x { top: 0 }\n',
      'css/ACME.css': '.y { top: 0; margin: 0 auto }\n',
    };
    const { place, run } = beside('cordada', kit);
    const argv = ['new', 'cierzo', '--parent', 'albar', '--kit', 'mano', '--yes'];
    expect((await run(...argv)).stderr).toMatch(
      /ACME \(in the name of css\/ACME\.css, and in bundles\/zefira\.yaml\); zefira \(in the name of/,
    );
    expect((await run(...argv, '--kit-name', 'zefira', '--keep-word', 'ACME')).status).toBe(0);
    expect(Object.keys(snapshot(place.path('shelf/cierzo')))).toEqual(
      expect.arrayContaining(['bundles/cierzo.yaml', 'css/cierzo.css', 'css/ACME.css']),
    );
  });

  it('parts, files of the parent, and facts of one’s own: each is said with where it comes from', async () => {
    const { place, run } = beside('cordada');
    writeFiles(place.path('.config/pionero'), {
      'config.yaml': 'facts: { summary: Made by wardens }\nplatforms: { cordada: { facts: { hosts: ">=2" } } }\n',
    });
    const argv = [
      'new',
      'cierzo',
      '--parent',
      'albar',
      '--kit',
      'moderno',
      '--without',
      'readme',
      '--take',
      'page',
      '--like',
      'albar',
      '--yes',
    ];
    const made = await run(...argv);
    expect([made.status, made.stdout]).toEqual([
      0,
      expect.stringMatching(/Facts: summary Made by wardens \(your configuration\), hosts >=4 \(the parent albar\)/),
    ]);
    expect(made.stdout).toMatch(/Taken: markup\/page\.html from albar/);
    expect(made.stdout).toMatch(/Deleted, as the kit says: starterkit_moderno\.cordada\.yaml:13\n.*DELETE THIS LINE[^\n]*\n.*kit: true/);
    const tree = snapshot(place.path('shelf/cierzo'));
    expect(Object.keys(tree).filter((path) => /readme/i.test(path))).toEqual([]);
    expect(tree['pionero.overrides.yaml']).toMatch(/file: markup\/page\.html\n {4}theme: albar\n[^]*sha256: [0-9a-f]{64}/);
    expect(readFileSync(place.path('shelf/albar/albar.cordada.yaml'), 'utf8')).toContain('title: Albar');
  });

  it('facts of another theme are taken, what it is for and who made it', async () => {
    const { run } = beside('vereda');
    const { stdout } = await run('new', 'cierzo', '--parent', 'albar', '--like', 'albar-noche', '--dry-run');
    expect(stdout).toContain(
      'Facts: author Albar Hut League (like albar-noche), license GPL-2.0-or-later (like albar-noche), hosts >=3 <5 (like albar-noche)',
    );
  });

  it.each<[string[], RegExp]>([
    [['--kit', 'oculto'], /is not for use/],
    [['--kit', 'moderno', '--without', 'nothing'], /has no part “nothing”/],
    [['--kit', 'moderno', '--take', 'pge'], /no file and no page “pge”[^]*did you mean “page”/],
    [['--kit', 'modrno'], /did you mean “moderno”/],
  ])('new with %j is refused with a reason', async (argv, says) => {
    const { run } = beside('cordada');
    expect(await run('new', 'cierzo', '--parent', 'albar', ...argv, '--yes')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(says) as string,
    });
  });

  it('only some files are taken, and what they miss is said before anything is written', async () => {
    const { place, run } = beside('cordada');
    const told = await run('new', 'cierzo', '--parent', 'albar', '--kit', 'moderno', '--only', 'bundles/**', '--dry-run');
    expect(told.stdout).toMatch(/bundles\/[^]*cierzo\.cordada\.yaml/);
    expect(told.stdout).not.toContain('README');
    expect(existsSync(place.path('shelf/cierzo'))).toBe(false);
  });

  it('“kit make” gives a plain folder a kit file, with which nobody need say its names', async () => {
    const { place, run } = beside('cordada', HABITS['cordada']?.('__THEME__'));
    expect((await run('kit', 'make', 'albar/kits/mano', '--yes')).status).toBe(0);
    expect(readFileSync(place.path('shelf/albar/kits/mano.kit.yaml'), 'utf8')).toMatch(/names:\n {2}- __THEME__/);
    expect((await run('new', 'cierzo', '--parent', 'albar', '--kit', 'mano', '--yes')).status).toBe(0);
    rmSync(place.path('shelf/cierzo'), { recursive: true });
    writeFileSync(place.path('shelf/albar/kits/mano.kit.yaml'), 'pionero: kit/1\n');
    expect((await run('kit', 'list')).status).toBe(2);
  });
});
