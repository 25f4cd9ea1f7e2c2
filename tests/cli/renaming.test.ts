import {
  chmodSync,
  cpSync,
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { makeSymlink, need } from '../support/needs.ts';
import { DEMO_SHELF, DEMO_SHELVES, Workplace } from '../support/program.ts';
import { snapshot } from '../support/trees.ts';

/** Where a platform's demo theme lies on its shelf, and three names that its grammar takes. */
const THEMES: Record<string, { shelf?: string; folder?: string; names: [string, string, string] }> = {
  vereda: { shelf: DEMO_SHELF, names: ['oak', 'sol', 'albar-ii'] },
  cordada: { names: ['oak', 'sol', 'albar_ii'] },
  tramo: { folder: 'HutLeague/albar', names: ['oak', 'sol', 'albar-ii'] },
  estrato: { names: ['oak', 'sol', 'albar-ii'] },
  horquilla: { names: ['oak', 'sol', 'albarii'] },
  bloque: { names: ['oak', 'sol', 'albar-ii'] },
  icons: { names: ['Oak', 'Sol', 'Albar-II'] },
};

function onShelf(platform: string) {
  const { shelf = join(DEMO_SHELVES, platform), folder = 'albar', names } = THEMES[platform] ?? { names: ['', '', ''] };
  const place = new Workplace();
  const home = place.path('shelf');
  cpSync(shelf, home, { recursive: true });
  const at = (name: string): string => join(home, dirname(folder), name);
  return { place, home, at, names, run: async (...argv: string[]) => place.runIn('shelf', ...argv, '--platform', platform) };
}

describe('a theme', () => {
  it.each(Object.keys(THEMES))(
    'of %s is cloned, renamed twice without findings or anything left, and taken back byte for byte',
    async (platform) => {
      const { home, at, names, run } = onShelf(platform);
      const [oak, sol, second] = names;
      const before = snapshot(home);
      const states = [before];
      const steps = [
        ['clone', at('albar'), oak, '--to', home],
        ['rename', at(oak), sol],
        ['rename', at(sol), second],
      ];
      for (const step of steps) {
        const { status, stdout } = await run(...step, '--yes', '--format', 'json');
        const told = JSON.parse(stdout) as Record<'leftovers' | 'newFindings' | 'unsure', unknown[]>;
        expect([step, status, told.leftovers, told.newFindings, told.unsure]).toEqual([step, 0, [], [], []]);
        states.push(snapshot(home));
      }
      const findings = JSON.parse((await run('check', at(second), '--format', 'json')).stdout) as { findings: unknown[] };
      const atFirst = JSON.parse((await run('check', at('albar'), '--format', 'json')).stdout) as { findings: unknown[] };
      expect(findings.findings).toHaveLength(atFirst.findings.length);
      for (const wanted of states.slice(0, -1).toReversed()) {
        expect((await run('undo', '--yes')).status).toBe(0);
        expect(snapshot(home)).toEqual(wanted);
      }
    },
  );

  it('keeps times, modes, links, tool folders and what is not text where it is renamed', async () => {
    need('unix');
    const { at, home, run } = onShelf('vereda');
    mkdirSync(join(at('albar'), '.git'));
    writeFileSync(join(at('albar'), '.git/config'), 'albar');
    chmodSync(join(at('albar'), 'main.html'), 0o444);
    chmodSync(join(at('albar'), 'docs'), 0o555);
    const picture = statSync(join(at('albar'), 'cover.png'));
    expect((await run('rename', 'albar', 'lumbre', '--yes')).status).toBe(0);
    const after = statSync(join(at('lumbre'), 'cover.png'));
    expect([after.mtimeMs, after.ino, after.nlink]).toEqual([picture.mtimeMs, picture.ino, 1]);
    expect(readFileSync(join(at('lumbre'), '.git/config'), 'utf8')).toBe('albar');
    expect(lstatSync(join(at('lumbre'), 'main.html')).mode & 0o777).toBe(0o444);
    expect(lstatSync(join(at('lumbre'), 'docs')).mode & 0o777).toBe(0o555);
    expect(readdirSync(home).sort()).toEqual(['albar-noche', 'cornisa', 'lumbre']);
    chmodSync(join(at('lumbre'), 'docs'), 0o755);
  });

  it('changes places with another, changes only its case, and is left alone when it already has that name', async () => {
    const { at, home, run } = onShelf('icons');
    const before = snapshot(at('albar'));
    for (const [from = '', to = ''] of [
      ['albar', 'Albar'],
      ['Albar', 'ALBAR-x'],
      ['ALBAR-x', 'albar'],
    ])
      expect([from, (await run('rename', at(from), to, '--yes')).status]).toEqual([from, 0]);
    expect(snapshot(at('albar'))).toEqual(before);
    expect((await run('rename', at('albar'), 'albar', '--yes')).stdout).toContain('already has that name');
    expect(readdirSync(home)).not.toContain('Albar');
  });

  it('gets another title alone', async () => {
    const { at, run } = onShelf('vereda');
    expect((await run('rename', 'albar', '--title-only', '--title', 'Albar Two', '--yes')).status).toBe(0);
    expect(readFileSync(join(at('albar'), 'sheet.css'), 'utf8')).toMatch(/^title: Albar Two$/m);
    expect(readFileSync(join(at('albar'), 'README.md'), 'utf8')).toMatch(/^# Albar Two$/m);
    expect(readFileSync(join(at('albar'), 'hooks.php'), 'utf8')).toContain('function albar_');
  });
});

describe('links that lead out of a theme', () => {
  it('lead to the same from where the clone lies, and to its own files where they led back into the theme', async () => {
    const { at, home, place, run } = onShelf('vereda');
    writeFileSync(place.path('shared.css'), 'x\n');
    const links = { 'up.css': '../../shared.css', 'back.css': '../albar/sheet.css', 'gone.css': '../../gone.css', 'own.css': 'sheet.css' };
    for (const [name, target] of Object.entries(links)) makeSymlink(target, join(at('albar'), name));
    const { stdout } = await run('clone', 'albar', 'lumbre', '--to', '../deep/down/here', '--yes', '--format', 'json');
    const made = place.path('deep/down/here/lumbre');
    const targets = Object.fromEntries(Object.keys(links).map((name) => [name, readlinkSync(join(made, name))]));
    expect(targets).toEqual({
      'up.css': '../../../../shared.css',
      'back.css': 'sheet.css',
      'gone.css': '../../gone.css',
      'own.css': 'sheet.css',
    });
    expect(readFileSync(join(made, 'up.css'), 'utf8')).toBe('x\n');
    expect((JSON.parse(stdout) as { links: unknown[] }).links).toEqual([
      { file: 'back.css', was: '../albar/sheet.css', becomes: 'sheet.css' },
      { file: 'up.css', was: '../../shared.css', becomes: '../../../../shared.css' },
    ]);
    expect((await run('clone', 'albar', 'cumbre', '--to', '../deep', '--yes')).stdout).toMatch(
      /Links out of the theme, so that they still lead to the same\n {2}back\.css/,
    );
    expect((await run('rename', 'albar', 'lumbre', '--yes')).status).toBe(0);
    expect(['up.css', 'back.css'].map((name) => readlinkSync(join(home, 'lumbre', name)))).toEqual(['../../shared.css', 'sheet.css']);
  });
});

describe('a rename that was begun by hand', () => {
  /** How much of the work was done: nothing but the folder, up to nearly all. */
  const POINTS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];

  it.each(Object.keys(THEMES))('of a theme of %s is finished from ten different points, beside the original', async (platform) => {
    const { at, home, run } = onShelf(platform);
    const id = platform === 'icons' ? 'Oak' : 'lumbre';
    const told = JSON.parse((await run('clone', at('albar'), id, '--to', home, '--yes', '--format', 'json')).stdout) as {
      moves: { from: string; to: string }[];
    };
    const moved = new Map(told.moves.map(({ from, to }) => [from, to]));
    const [before, wanted] = [snapshot(at('albar')), snapshot(at(id))];
    const files = Object.keys(before).filter((path) => !before[path]?.startsWith('folder') && !before[path]?.startsWith('->'));
    for (const point of POINTS) {
      rmSync(at(id), { recursive: true });
      cpSync(at('albar'), at(id), { recursive: true, verbatimSymlinks: true });
      for (const path of files.slice(0, Math.floor((files.length * point) / 10))) {
        const now = moved.get(path) ?? path;
        const text = wanted[now] ?? '';
        rmSync(join(at(id), path));
        mkdirSync(dirname(join(at(id), now)), { recursive: true });
        writeFileSync(join(at(id), now), Buffer.from(text.slice(4), 'latin1'));
      }
      removeEmptyFolders(at(id));
      const { status, stdout, stderr } = await run('rename', at(id), '--was', 'albar', '--yes', '--format', 'json');
      const outcome = JSON.parse(stdout === '' ? '{}' : stdout) as Record<'leftovers' | 'unsure', unknown[]>;
      expect([point, status, stderr, outcome.leftovers, outcome.unsure]).toEqual([point, 0, '', [], []]);
      expect([point, snapshot(at(id))]).toEqual([point, wanted]);
    }
  });

  it('leaves a parent of that name what is its own', async () => {
    const { at, run } = onShelf('vereda');
    cpSync(at('albar'), at('lumbre'), { recursive: true });
    const sheet = join(at('lumbre'), 'sheet.css');
    writeFileSync(sheet, readFileSync(sheet, 'utf8').replace('---*/', 'parent: albar\nparent-sheet: before\n---*/'));
    rmSync(join(at('lumbre'), 'partials/header.html'), { force: true });
    writeFileSync(join(at('lumbre'), 'docs/of.md'), 'See ../albar/partials/header.html and ../albar/sheet.css\n');
    const outcome = await run('rename', at('lumbre'), '--was', 'albar', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([0, '']);
    expect(readFileSync(sheet, 'utf8')).toContain('title: Lumbre');
    expect(readFileSync(sheet, 'utf8')).toContain('parent: albar\n');
  });

  it('is finished where a search and replace broke names, and where a folder was moved in part', async () => {
    const { at, run } = onShelf('vereda');
    renameSync(at('albar'), at('cumbre-sur'));
    const write = (path: string, text: string): void => {
      mkdirSync(dirname(join(at('cumbre-sur'), path)), { recursive: true });
      writeFileSync(join(at('cumbre-sur'), path), text);
    };
    write('code/albar/a.php', '<?php\nfunction cumbre-sur_setup() { return albar_x(); }\nclass Cumbre Sur {}\n');
    write('code/cumbre_sur/b.php', '<?php\n// Cumbre Sur\n');
    expect((await run('check', 'cumbre-sur')).stdout).toContain('code cannot hold the name “cumbre-sur”: write cumbre_sur');
    const outcome = await run('rename', 'cumbre-sur', '--was', 'albar', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([0, '']);
    const mended = '<?php\nfunction cumbre_sur_setup() { return cumbre_sur_x(); }\nclass CumbreSur {}\n';
    expect(readFileSync(join(at('cumbre-sur'), 'code/cumbre_sur/a.php'), 'utf8')).toBe(mended);
    expect(readdirSync(join(at('cumbre-sur'), 'code'))).toEqual(['cumbre_sur']);
  });

  it.each<[string[], RegExp]>([
    [['rename', 'albar', '--was', 'albar'], /nothing of its rename is done/],
    [['rename', 'albar', 'lumbre', '--was', 'oak'], /cannot become “lumbre” at once/],
    [['rename', 'albar', '--was-title', 'Oak'], /goes with --was/],
  ])('%j is refused', async (argv, says) => {
    const { run } = onShelf('vereda');
    expect(await run(...argv, '--yes')).toMatchObject({ status: 2, stderr: expect.stringMatching(says) as string });
  });

  it('of which nothing is left is said so', async () => {
    const { run } = onShelf('vereda');
    const outcome = await run('rename', 'albar', '--was', 'zefira', '--yes');
    expect([outcome.status, outcome.stdout]).toEqual([0, expect.stringContaining('holds nothing of “zefira”')]);
  });
});

/** Folders from which all files were moved away. */
function removeEmptyFolders(folder: string): void {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (!entry.isDirectory()) continue;
    const path = join(folder, entry.name);
    removeEmptyFolders(path);
    if (readdirSync(path).length === 0) rmdirSync(path);
  }
}

describe('a saved plan', () => {
  const save = async () => {
    const shelf = onShelf('vereda');
    expect((await shelf.run('rename', 'albar', 'lumbre', '--plan-out', '../plan.yaml')).status).toBe(0);
    const file = shelf.place.path('plan.yaml');
    const change = (from: string | RegExp, to: string): void => writeFileSync(file, readFileSync(file, 'utf8').replace(from, to));
    return { ...shelf, change };
  };

  it('writes nothing but itself, not even that in a dry run, and is applied as it was changed', async () => {
    const { at, change, place, run } = await save();
    expect((await run('rename', 'albar', 'lumbre', '--plan-out', '../dry.yaml', '--dry-run')).status).toBe(0);
    expect(existsSync(place.path('dry.yaml'))).toBe(false);
    expect(existsSync(at('lumbre'))).toBe(false);
    change(/^groups:\n/m, 'groups:\n  - now: Albar\n    becomes: The Warm One\n    class: text\n    at: ["README.md:1:3"]\n');
    expect((await run('rename', 'albar', '--plan', '../plan.yaml', '--yes')).status).toBe(0);
    expect(readFileSync(join(at('lumbre'), 'README.md'), 'utf8')).toMatch(/^# The Warm One\n/);
  });

  it.each([
    [
      'a file that was changed',
      (at: string) => writeFileSync(join(at, 'README.md'), 'other'),
      1,
      /was changed since the plan was saved.*\n.*README\.md/,
    ],
    ['a file that was added', (at: string) => writeFileSync(join(at, 'new.txt'), ''), 1, /files were added/],
    ['another theme', (at: string) => renameSync(at, `${at}-other`), 2, /there is no folder|is a plan for/],
  ])('is refused over %s', async (_what, disturb, status, says) => {
    const { at, run } = await save();
    disturb(at('albar'));
    const outcome = await run('rename', 'albar', '--plan', '../plan.yaml', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });

  it('is refused with another id', async () => {
    const { run } = await save();
    const outcome = await run('rename', 'albar', 'neveron', '--plan', '../plan.yaml', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([2, expect.stringMatching(/a plan for the new id “lumbre”, and not for “neveron”/)]);
  });

  it.each([
    ['becomes: lumbre', 'becomes: [a]', /plan\.yaml:\d+:\d+/],
    ['- README.md:1:3', '- README.md:999:3', /plan\.yaml:\d+:\d+.*cannot become/s],
    ['pionero: rename-plan/2', 'pionero: x', /must be "rename-plan\/2"/],
  ])('with %s changed to %s is refused with its place', async (from, to, says) => {
    const { change, run } = await save();
    change(from, to);
    const outcome = await run('rename', 'albar', '--plan', '../plan.yaml', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([2, expect.stringMatching(says)]);
  });
});

describe('a rename', () => {
  it('to an id that code cannot import is refused', async () => {
    const place = new Workplace();
    expect((await place.run('new', 'albar', '--platform', 'sphinx', '--yes')).status).toBe(0);
    writeFileSync(place.path('albar/__init__.py'), 'from albar import hut\n');
    const outcome = await place.run('clone', 'albar', 'cumbre-sur', '--platform', 'sphinx', '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([
      2,
      expect.stringMatching(/Python code imports by its name.*\n.*__init__\.py.*\n.*cumbre_sur/),
    ]);
  });

  it('that would break what it does not show is refused, and --force does it', async () => {
    const { at, home, run, place } = onShelf('vereda');
    writeFileSync(join(at('albar'), 'hooks.php'), '<?php\nfunction albar_menu() {}\nalbar_menu();\n');
    expect((await run('rename', 'albar', 'lumbre', '--plan-out', '../plan.yaml')).status).toBe(0);
    const plan = place.path('plan.yaml');
    const text = readFileSync(plan, 'utf8');
    writeFileSync(
      plan,
      text.replace(/^groups:\n/m, 'groups:\n  - now: albar\n    becomes: paso\n    class: identifier\n    at: ["hooks.php:3:1"]\n'),
    );
    const before = snapshot(home);
    const refused = await run('rename', 'albar', '--plan', '../plan.yaml', '--yes');
    expect([refused.status, snapshot(home)]).toEqual([1, before]);
    expect(refused.stdout).toContain('1 place would no longer be right');
    expect(refused.stdout).toContain('hooks.php:3:1  “albar_menu” would be paso_menu here, and lumbre_menu in hooks.php:2:10');
    expect((await run('rename', 'albar', '--plan', '../plan.yaml', '--yes', '--force')).status).toBe(1);
    expect(existsSync(at('lumbre'))).toBe(true);
  });

  it.each<[string[], number, RegExp]>([
    [['rename', 'albar'], 2, /new name is missing/],
    [['rename', 'albar', 'albar-noche', '--yes'], 1, /is taken by the theme/],
    [['rename', 'albar', 'Bad Name', '--yes'], 2, /cannot be the id/],
    [['rename', 'albar', 'lumbre', '--title-only', '--title', 'X', '--yes'], 2, /leaves the id as it is/],
    [['rename', 'albar', '--title-only', '--yes'], 2, /needs the new title/],
    [['rename', 'albar', 'lumbre', '--review'], 2, /nobody can be asked here/],
    [['rename', 'albar', 'lumbre', '--plan', 'nothing.yaml'], 2, /there is no plan nothing.yaml/],
    [['rename', 'albar', 'lumbre'], 2, /no terminal to confirm on/],
    [['rename', 'albr', 'lumbre', '--yes'], 2, /there is no folder albr/],
    [['clone', 'cornisa/sheet.css', 'lumbre', '--yes'], 2, /belongs to the theme cornisa/],
  ])('%j is refused with a reason', async (argv, status, says) => {
    const { home, run } = onShelf('vereda');
    const before = snapshot(home);
    const outcome = await run(...argv);
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
    expect(snapshot(home)).toEqual(before);
  });

  it('of a theme that holds what cannot be carried over is refused', async () => {
    const { home, place, run } = onShelf('vereda');
    place.shell('mkfifo shelf/albar/pipe');
    const names = readdirSync(home);
    expect((await run('rename', 'albar', 'lumbre', '--yes')).stderr).toMatch(/pipe cannot be read, or is not a file/);
    expect(readdirSync(home)).toEqual(names);
  });

  it('of a theme that is a link to another place is refused', async () => {
    const { at, home, run } = onShelf('vereda');
    renameSync(at('albar'), join(dirname(home), 'real'));
    makeSymlink('../real', at('albar'));
    expect((await run('rename', 'albar', 'lumbre', '--yes')).stderr).toMatch(/albar is a link to \.\.\/real/);
    expect(readdirSync(home).sort()).toEqual(['albar', 'albar-noche', 'cornisa']);
  });

  it('tells of findings that come with it', async () => {
    const { run } = onShelf('vereda');
    const outcome = await run('clone', 'albar', 'lumbre', '--yes', '--keep', 'albar_weather');
    expect([outcome.status, outcome.stdout]).toEqual([
      1,
      expect.stringMatching(/problems? that w(as|ere) not there before:[^]*albar_weather/),
    ]);
  });
});
