import { existsSync, mkdirSync, readdirSync, readFileSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { makeSlides, prepareDeck } from '../support/marp.ts';
import { describeMistakes } from '../support/mistakes.ts';
import { lacks, need, runTool } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';

const isSkipped = lacks('marp');
const THEMES = 'deck/themes';

/** A deck with a theme from a kit in it. */
async function withTheme(kit: string, place = new Workplace(), parent = 'albar'): Promise<Workplace> {
  if (!isSkipped) prepareDeck(place);
  const make = async (id: string, from: string, ...more: string[]): Promise<void> => {
    const made = await place.run('new', id, '--platform', 'marp', '--kit', from, '--to', THEMES, ...more, '--yes');
    expect([made.status, made.stderr]).toEqual([0, '']);
  };
  if (kit === 'child' && parent === 'albar') await make('albar', 'standard');
  await make('lumbre', kit, ...(kit === 'child' ? ['--parent', parent] : []));
  return place;
}

describe.skipIf(isSkipped).each([
  ['bare', ''],
  ['standard', ''],
  ['child', 'albar'],
  ['child', 'gaia'],
])('a theme from the kit %s %s, judged by the real host', (kit, parent) => {
  const isFine = (place: Workplace, id: string): void => {
    const { isMade, said, page } = makeSlides(place, id);
    expect([isMade, said]).toEqual([true, '']);
    expect(page).toContain('The hut of Lumbre');
    expect(page).not.toMatch(/@import ['"][a-z-]+['"]/);
    if (kit === 'standard') expect(page).toContain(`var(--${id}-paper)`);
    if (parent === 'albar') expect(page).toContain('var(--albar-paper)');
    if (kit === 'child') expect(page).toContain('#2f6b46');
    expect(page.includes('0 0 960 720')).toBe(true);
  };

  it('makes slides, as made, cloned, renamed, packed, unpacked and installed', async () => {
    const place = await withTheme(kit, undefined, parent === '' ? undefined : parent);
    const run = async (...line: string[]): Promise<void> => expect(await place.run(...line)).toMatchObject({ status: 0, stderr: '' });
    const beside = readdirSync(place.path(THEMES));
    isFine(place, 'lumbre');
    await run('check', `${THEMES}/lumbre.css`, '--strict');
    await run('clone', `${THEMES}/lumbre.css`, 'page', '--to', THEMES, '--include', 'unsure', '--yes');
    isFine(place, 'page');
    await run('rename', `${THEMES}/lumbre.css`, 'cumbre-sur', '--yes');
    isFine(place, 'cumbre-sur');
    await run('pack', `${THEMES}/cumbre-sur.css`, '--prove', '--out', 'cumbre-sur.zip');
    rmSync(place.path(THEMES, 'cumbre-sur.css'));
    await run('install', 'cumbre-sur.zip', '--to', 'deck', '--yes', '--shelf', THEMES);
    isFine(place, 'cumbre-sur');
    for (const name of ['cumbre-sur.css', 'page.css']) rmSync(place.path(THEMES, name));
    expect(readdirSync(place.path(THEMES))).toEqual(beside.filter((name) => name !== 'lumbre.css'));
  });
});

describe('a theme that is one file', () => {
  it('is undone to the byte, and what lies beside it is never touched', async () => {
    const place = await withTheme('child');
    const [own, other] = ['lumbre', 'albar'].map((id) => place.path(THEMES, `${id}.css`)) as [string, string];
    writeFileSync(place.path(THEMES, 'notes.css'), '/* lumbre */\n');
    const before = [own, other].map((path) => readFileSync(path, 'utf8'));
    expect((await place.run('rename', other, 'cumbre', '--yes')).stdout).toContain('Themes that build on it, and follow');
    expect([existsSync(other), readFileSync(own, 'utf8').includes("@import 'cumbre'")]).toEqual([false, true]);
    expect(readFileSync(place.path(THEMES, 'notes.css'), 'utf8')).toBe('/* lumbre */\n');
    expect((await place.run('undo', '--yes')).status).toBe(0);
    expect([own, other].map((path) => readFileSync(path, 'utf8'))).toEqual(before);
    await place.run('meta', 'set', own, 'author=Albar Hut League', '--yes');
    expect(readFileSync(own, 'utf8')).toMatch(/^ \* @theme lumbre\n \* @author Albar Hut League$/m);
    expect(await place.run('rename', own, 'lumbre', '--title-only', '--title', 'Lumbre', '--yes')).toMatchObject({ status: 2 });
  });

  it('is compared with itself at an earlier commit', async () => {
    need('git');
    const place = await withTheme('bare');
    const path = place.path(THEMES, 'lumbre.css');
    const git = (...args: string[]) =>
      runTool('git', ['-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@albar.example', ...args], { cwd: place.folder });
    writeFileSync(path, `${readFileSync(path, 'utf8')}a { background: url(old.png) }\n`);
    for (const args of [
      ['init', '-q'],
      ['add', '-A'],
      ['commit', '-qm', 'all'],
    ])
      git(...args);
    const told = async (): Promise<string[]> => {
      const report = (await place.json('check', THEMES, '--since', 'HEAD')) as { themes: { findings: { message: string }[] }[] };
      return report.themes.flatMap(({ findings }) => findings.map(({ message }) => message));
    };
    writeFileSync(place.path('notes.md'), 'x');
    expect(await told()).toEqual([]);
    writeFileSync(path, `${readFileSync(path, 'utf8')}b { background: url(new.png) }\n`);
    expect(await told()).toEqual(['“old.png” does not exist', '“new.png” does not exist']);
  });

  it('is linked into a deck by itself, and not with what lies beside it', async () => {
    need('links');
    const place = await withTheme('child');
    mkdirSync(place.path('other/themes'), { recursive: true });
    expect(await place.run('install', `${THEMES}/albar.css`, '--to', 'other', '--link', '--yes')).toMatchObject({ status: 0 });
    expect(readlinkSync(place.path('other/themes/albar.css'))).toBe(place.path(THEMES, 'albar.css'));
    expect((await place.run('check', 'other/themes')).stdout).toMatch(/^✓ albar .*no problems/);
    const before = readFileSync(place.path(THEMES, 'albar.css'), 'utf8');
    const set = await place.run('meta', 'set', 'other/themes/albar.css', 'author=League', '--yes');
    expect([set.status, set.stderr]).toEqual([1, expect.stringContaining('albar.css is a link to')]);
    expect([readlinkSync(place.path('other/themes/albar.css')), readFileSync(place.path(THEMES, 'albar.css'), 'utf8')]).toEqual([
      place.path(THEMES, 'albar.css'),
      before,
    ]);
  });

  it.each([
    ['a folder', [THEMES], 'lumbre.css: no problems'],
    ['a file that is none', ['notes.css'], 'notes.css is a file, not a theme’s folder'],
    ['a file that is not there', [`${THEMES}/lumber.css`], `did you mean “${THEMES}/lumbre.css”?`],
    ['a folder for the platform', [THEMES, '--platform', 'marp'], 'lumbre.css: no problems'],
  ])('is looked for in %s', async (_what, line, answer) => {
    const place = await withTheme('bare');
    writeFileSync(place.path('notes.css'), 'section { color: red }\n');
    const { stdout, stderr } = await place.run('check', ...line);
    expect(`${stdout}${stderr}`).toContain(answer);
  });

  it.each([
    ['here', ['new', '--platform', 'marp', '--here', '--yes'], 'a theme for Marp is one file, so there is no folder to complete'],
    [
      'a name that is taken',
      ['new', 'lumbre', '--platform', 'marp', '--to', THEMES, '--yes'],
      'the id “lumbre” is taken by the theme in deck/themes/lumbre.css',
    ],
    ['a name of the host', ['new', 'gaia', '--platform', 'marp', '--to', THEMES, '--yes'], '“gaia” cannot be the id of a theme for Marp'],
    ['pages of the stand-in', ['rehearse', `${THEMES}/lumbre.css`, '--serve'], 'so there are no pages to show'],
    [
      'a draft',
      ['platform', 'new', `${THEMES}/lumbre.css`],
      'lumbre.css is a file: a platform file is learned from themes that are folders',
    ],
    ['a folder to rename', ['rename', THEMES, 'cumbre', '--platform', 'marp', '--yes'], 'it holds lumbre.css: name one of them'],
  ])('is refused: %s', async (_what, line, answer) => {
    const place = await withTheme('bare');
    mkdirSync(place.path('empty'));
    const { status, stderr } = await place.runIn(line.includes('--here') ? 'empty' : '.', ...line);
    expect([status === 0, stderr]).toEqual([false, expect.stringContaining(answer)]);
  });
});

describeMistakes({
  platform: 'marp',
  isSkipped,
  home: `${THEMES}/lumbre.css`,
  folder: THEMES,
  site: 'deck',
  addTheme: async (place) => withTheme('standard', place),
  told(place) {
    const { isMade, said, page } = makeSlides(place, 'lumbre');
    if (!isMade) return said.includes('there is no theme') && !said.includes('.css:') ? 'does not know it' : 'stops';
    if (/@import (?:['"][a-z.-]+|[a-z]+;|url\([a-z]+\))/i.test(page)) return 'leaves the import out';
    if (/url\((?!["']?(?:data:|https:))/.test(page)) return 'misses a file';
    return page.includes('0 0 960 720') ? 'is silent' : 'has not the size';
  },
});
