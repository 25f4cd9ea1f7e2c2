import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { build, hasBuilder, prepareSite } from '../support/sphinx.ts';
import { writeFiles } from '../support/trees.ts';

if (!hasBuilder) console.warn('skipped: the documentation builder is not on this machine (apt-get install python3-sphinx)');
const isSkipped = !hasBuilder && process.env['CI'] === undefined;

/** A site with a theme from a kit in it. */
async function withTheme(kit: string, id = 'lumbre'): Promise<Workplace> {
  const place = new Workplace();
  prepareSite(place);
  if (kit === 'child') await place.run('new', 'albar', '--platform', 'sphinx', '--kit', 'standard', '--to', 'site/_themes', '--yes');
  const parent = kit === 'child' ? ['--parent', 'albar'] : [];
  const made = await place.run('new', id, '--platform', 'sphinx', '--kit', kit, ...parent, '--to', 'site/_themes', '--yes');
  expect([made.status, made.stderr]).toEqual([0, '']);
  return place;
}

describe.skipIf(isSkipped).each(['bare', 'standard', 'child'])('a theme from the kit %s, judged by the real builder', (kit) => {
  const isFine = (place: Workplace, id: string): void => {
    const { isBuilt, said, page, assets, missing } = build(place, id);
    expect([isBuilt, said, missing]).toEqual([true, '', []]);
    expect(page).toContain(`_static/${id}.css`);
    // What it inherits is there, too.
    expect(assets).toEqual(
      expect.arrayContaining([`${id}.css`, 'basic.css', 'doctools.js', ...(kit === 'child' ? ['albar.css', 'albar.js'] : [])]),
    );
    if (kit !== 'bare') expect(page).toContain(kit === 'child' ? 'albar-header' : `${id}-header`);
  };

  it('is built, as made, cloned, renamed, packed and unpacked', async () => {
    const place = await withTheme(kit);
    isFine(place, 'lumbre');
    const themes = 'site/_themes';
    expect(await place.run('check', `${themes}/lumbre`, '--strict')).toMatchObject({ status: 0 });
    expect(await place.run('clone', `${themes}/lumbre`, 'page', '--to', themes, '--include', 'unsure', '--yes')).toMatchObject({
      status: 0,
    });
    isFine(place, 'page');
    expect(await place.run('rename', `${themes}/lumbre`, 'cumbre-sur', '--yes')).toMatchObject({ status: 0 });
    isFine(place, 'cumbre-sur');
    expect(await place.run('pack', `${themes}/cumbre-sur`, '--out', 'cumbre-sur.zip')).toMatchObject({ status: 0 });
    rmSync(place.path(themes, 'cumbre-sur'), { recursive: true });
    // The builder takes the archive as it is.
    cpSync(place.path('cumbre-sur.zip'), place.path(themes, 'cumbre-sur.zip'));
    isFine(place, 'cumbre-sur');
    rmSync(place.path(themes, 'cumbre-sur.zip'));
    expect(await place.run('install', 'cumbre-sur.zip', '--into', 'site', '--yes', '--shelf', themes)).toMatchObject({ status: 0 });
    isFine(place, 'cumbre-sur');
  }, 60_000);
});

interface Mistake {
  readonly what: string;
  readonly files: Readonly<Record<string, string | null>>;
  /** What the builder does with it, as “npm run record” saw it. */
  readonly host: string;
}

const RECORD = join(import.meta.dirname, '../hosts/sphinx-mistakes.json');
const MISTAKES = JSON.parse(readFileSync(RECORD, 'utf8')) as Mistake[];
const isRecording = process.env['RECORD_HOSTS'] !== undefined;
const recorded: Mistake[] = [];
afterAll(() => {
  if (isRecording) writeFileSync(RECORD, `${JSON.stringify(recorded, null, 2)}\n`);
});

/** The standard kit's theme with one thing wrong in it. */
async function withMistake({ files }: Mistake): Promise<Workplace> {
  const place = await withTheme('standard');
  const home = place.path('site/_themes/lumbre');
  for (const [path, text] of Object.entries(files)) {
    if (text === null) rmSync(join(home, path));
    else writeFiles(home, { [path]: text.startsWith('+') ? readFileSync(join(home, path), 'utf8') + text.slice(1) : text });
  }
  return place;
}

describe('mistakes', () => {
  it.each(MISTAKES.map((mistake) => [mistake.what, mistake] as const))(
    '%s: does what was recorded',
    async (_what, mistake) => {
      if (isSkipped) return;
      const { isBuilt, said, missing } = build(await withMistake(mistake), 'lumbre');
      const told = !isBuilt ? 'stops' : said !== '' ? 'warns' : missing.length > 0 ? 'misses a file' : 'is silent';
      recorded.push({ ...mistake, host: told });
      expect(told).toBe(isRecording ? told : mistake.host);
    },
    30_000,
  );

  it('are all found by check', async () => {
    const found: string[] = [];
    for (const mistake of MISTAKES) {
      const place = await withMistake(mistake);
      const report = (await place.json('check', 'site/_themes/lumbre', '--platform', 'sphinx', '--no-cache')) as {
        findings: { rule: string; severity: string }[];
      };
      if (report.findings.some(({ severity }) => severity !== 'note')) found.push(mistake.what);
    }
    expect(MISTAKES.length).toBeGreaterThanOrEqual(20);
    expect(MISTAKES.map(({ what }) => what).filter((what) => !found.includes(what))).toEqual([]);
  }, 60_000);
});
