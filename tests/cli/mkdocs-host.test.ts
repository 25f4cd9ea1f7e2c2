import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { describeMistakes } from '../support/mistakes.ts';
import { Workplace } from '../support/program.ts';
import { lacks } from '../support/needs.ts';
import { prepareManual, startManualBuilder, type ManualBuilder } from '../support/mkdocs.ts';
import { installWheels } from '../support/python-host.ts';

const isSkipped = lacks('mkdocs');
const builder: ManualBuilder = isSkipped
  ? { program: '', isReady: Promise.resolve(), build: () => expect.fail('no builder') }
  : startManualBuilder(new Workplace(afterAll));
beforeAll(() => builder.isReady);

const THEMES = 'manual/themes';

/** A site with a theme from a kit in it. */
async function withTheme(kit: string, place = new Workplace()): Promise<Workplace> {
  prepareManual(place);
  const make = async (id: string, from: string, ...more: string[]): Promise<void> => {
    const made = await place.run('new', id, '--platform', 'mkdocs', '--kit', from, '--to', THEMES, ...more, '--yes');
    expect([made.status, made.stderr]).toEqual([0, '']);
  };
  if (kit === 'child') await make('albar', 'standard');
  await make('lumbre', kit, ...(kit === 'child' ? ['--parent', 'albar'] : []));
  return place;
}

describe.skipIf(isSkipped).each(['bare', 'standard', 'child'])('a theme from the kit %s, judged by the real builder', (kit) => {
  const isFine = async (place: Workplace, id: string, packages?: string): Promise<void> => {
    const { isBuilt, said, page, assets, missing } = builder.build(place, id, packages);
    expect([isBuilt, said, missing]).toEqual([true, '', []]);
    expect(page).toContain(`href="css/${id}.css"`);
    // What it inherits is there, too, and what does not belong to the pages is not.
    const more = kit === 'standard' ? [`js/${id}.js`, '404.html'] : kit === 'child' ? ['css/albar.css', 'js/albar.js', '404.html'] : [];
    expect(assets).toEqual(expect.arrayContaining([`css/${id}.css`, 'sitemap.xml', ...more]));
    expect(assets.filter((path) => /\.(?:py|yml)$|main\.html/.test(path))).toEqual([]);
    if (kit !== 'bare') expect(page).toContain(kit === 'child' ? 'albar-header' : `${id.replace('_', '-')}-header`);
  };

  it('is built, as made, cloned, renamed, packed, unpacked and installed', async () => {
    const place = await withTheme(kit);
    const run = async (...line: string[]): Promise<void> => expect(await place.run(...line)).toMatchObject({ status: 0, stderr: '' });
    await isFine(place, 'lumbre');
    await run('check', `${THEMES}/lumbre`, '--strict');
    await run('clone', `${THEMES}/lumbre`, 'page', '--to', THEMES, '--include', 'unsure', '--yes');
    await isFine(place, 'page');
    await run('rename', `${THEMES}/lumbre`, 'cumbre_sur', '--yes');
    await isFine(place, 'cumbre_sur');
    await run('pack', `${THEMES}/cumbre_sur`, '--as', 'zip', '--out', 'cumbre_sur.zip');
    rmSync(place.path(THEMES, 'cumbre_sur'), { recursive: true });
    await run('install', 'cumbre_sur.zip', '--to', 'manual', '--yes', '--shelf', THEMES);
    await isFine(place, 'cumbre_sur');
    await run('pack', `${THEMES}/cumbre_sur`, '--with-parents', '--prove', '--out', 'wheels', '--yes');
    for (const id of ['cumbre_sur', 'albar']) rmSync(place.path(THEMES, id), { recursive: true, force: true });
    const wheels = readdirSync(place.path('wheels')).map((file) => place.path('wheels', file));
    expect([wheels.length, installWheels(place, 'packages', wheels)]).toEqual([kit === 'child' ? 2 : 1, '']);
    await isFine(place, 'cumbre_sur', 'packages');
  }, 60_000);
});

describe.skipIf(isSkipped)('a child', () => {
  it.each(['mkdocs', 'readthedocs'])('of the builder’s own theme %s is built, and its own templates come first', async (parent) => {
    const place = new Workplace();
    prepareManual(place);
    const child = `${THEMES}/lumbre`;
    await place.run('new', 'lumbre', '--platform', 'mkdocs', '--kit', 'child', '--parent', parent, '--to', THEMES, '--yes');
    const { isBuilt, said, page } = builder.build(place, 'lumbre');
    expect([isBuilt, said, page.includes('href="css/lumbre.css"')]).toEqual([true, '', true]);
    expect(await place.run('check', child, '--strict')).toMatchObject({ status: 0 });
  });

  it('that took a template from its parent is built with it, as the trace says', async () => {
    const place = await withTheme('child');
    const child = `${THEMES}/lumbre`;
    cpSync(place.path(THEMES, 'albar'), place.path('kept'), { recursive: true });
    await place.run('override', child, 'partials/nav.html', '--platform', 'mkdocs', '--yes');
    const nav = place.path(child, 'partials/nav.html');
    writeFileSync(nav, readFileSync(nav, 'utf8').replaceAll('albar-nav', 'lumbre-own'));
    const { isBuilt, page } = builder.build(place, 'lumbre');
    expect([isBuilt, page.includes('lumbre-own'), page.includes('"albar-nav')]).toEqual([true, true, false]);
    const { stdout } = await place.run('trace', child, '--platform', 'mkdocs', '--verbose');
    expect(stdout).toMatch(/partials\/nav\.html/);
  });
});

describeMistakes({
  platform: 'mkdocs',
  isSkipped,
  home: `${THEMES}/lumbre`,
  site: 'manual',
  programs: () => ({ mkdocs: builder.program }),
  addTheme: async (place) => withTheme('standard', place),
  told(place) {
    const { isBuilt, said, missing } = builder.build(place, 'lumbre');
    return !isBuilt ? 'stops' : said !== '' ? 'warns' : missing.length > 0 ? 'misses a file' : 'is silent';
  },
});
