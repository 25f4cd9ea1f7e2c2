import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { describeMistakes } from '../support/mistakes.ts';
import { Workplace } from '../support/program.ts';
import { lacks } from '../support/needs.ts';
import { installWheels } from '../support/python-host.ts';
import { prepareSite, startBuilder, type Builder } from '../support/sphinx.ts';

const isSkipped = lacks('sphinx');
const builder: Builder = isSkipped
  ? { program: '', isReady: Promise.resolve(), build: () => expect.fail('no builder') }
  : startBuilder(new Workplace(afterAll));
beforeAll(() => builder.isReady);

/** A site with a theme from a kit in it. */
async function withTheme(kit: string, place = new Workplace()): Promise<Workplace> {
  prepareSite(place);
  if (kit === 'child') await place.run('new', 'albar', '--platform', 'sphinx', '--kit', 'standard', '--to', 'site/_themes', '--yes');
  const parent = kit === 'child' ? ['--parent', 'albar'] : [];
  const made = await place.run('new', 'lumbre', '--platform', 'sphinx', '--kit', kit, ...parent, '--to', 'site/_themes', '--yes');
  expect([made.status, made.stderr]).toEqual([0, '']);
  return place;
}

describe.skipIf(isSkipped).each(['bare', 'standard', 'child'])('a theme from the kit %s, judged by the real builder', (kit) => {
  const isFine = async (place: Workplace, id: string, packages?: string): Promise<void> => {
    const { isBuilt, said, page, assets, missing } = builder.build(place, id, packages);
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
    await isFine(place, 'lumbre');
    const themes = 'site/_themes';
    expect(await place.run('check', `${themes}/lumbre`, '--strict')).toMatchObject({ status: 0 });
    expect(await place.run('clone', `${themes}/lumbre`, 'page', '--to', themes, '--include', 'unsure', '--yes')).toMatchObject({
      status: 0,
    });
    await isFine(place, 'page');
    expect(await place.run('rename', `${themes}/lumbre`, 'cumbre-sur', '--yes')).toMatchObject({ status: 0 });
    await isFine(place, 'cumbre-sur');
    expect(await place.run('pack', `${themes}/cumbre-sur`, '--out', 'cumbre-sur.zip')).toMatchObject({ status: 0 });
    rmSync(place.path(themes, 'cumbre-sur'), { recursive: true });
    // The builder takes the archive as it is.
    cpSync(place.path('cumbre-sur.zip'), place.path(themes, 'cumbre-sur.zip'));
    await isFine(place, 'cumbre-sur');
    rmSync(place.path(themes, 'cumbre-sur.zip'));
    expect(await place.run('install', 'cumbre-sur.zip', '--to', 'site', '--yes', '--shelf', themes)).toMatchObject({ status: 0 });
    await isFine(place, 'cumbre-sur');
    expect(
      await place.run('pack', `${themes}/cumbre-sur`, '--as', 'whl', '--with-parents', '--prove', '--out', 'wheels', '--yes'),
    ).toMatchObject({ status: 0 });
    for (const id of ['cumbre-sur', 'albar']) rmSync(place.path(themes, id), { recursive: true, force: true });
    const wheels = readdirSync(place.path('wheels')).map((file) => place.path('wheels', file));
    expect([wheels.length, installWheels(place, 'packages', wheels)]).toEqual([kit === 'child' ? 2 : 1, '']);
    await isFine(place, 'cumbre-sur', 'packages');
  }, 60_000);
});

describe.skipIf(isSkipped)('a template that a child took from its parent', () => {
  it('is the one that the builder takes, as the trace says', async () => {
    const place = await withTheme('child');
    const child = 'site/_themes/lumbre';
    const from = async (): Promise<string | null> =>
      ((await place.json('trace', child, '--platform', 'sphinx')) as { pages: { role: string; from: string | null }[] }).pages.find(
        ({ role }) => role === 'layout',
      )?.from ?? null;
    expect([await from(), builder.build(place, 'lumbre').page.includes('albar-header')]).toEqual(['albar', true]);
    await place.run('override', child, 'layout', '--platform', 'sphinx', '--yes');
    const layout = place.path(child, 'layout.html');
    writeFileSync(layout, readFileSync(layout, 'utf8').replaceAll('albar-header', 'lumbre-own'));
    const { isBuilt, page } = builder.build(place, 'lumbre');
    expect([await from(), isBuilt, page.includes('lumbre-own'), page.includes('albar-header')]).toEqual(['lumbre', true, true, false]);
  }, 30_000);
});

describeMistakes({
  platform: 'sphinx',
  isSkipped,
  home: 'site/_themes/lumbre',
  site: 'handbook',
  programs: () => ({ 'sphinx-build': builder.program }),
  addTheme: async (place) => withTheme('standard', place),
  told(place) {
    const { isBuilt, said, missing } = builder.build(place, 'lumbre');
    return !isBuilt ? 'stops' : said !== '' ? 'warns' : missing.length > 0 ? 'misses a file' : 'is silent';
  },
});
