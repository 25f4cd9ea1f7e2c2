import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startBlogBuilder, prepareBlog, type BlogBuilder } from '../support/hexo.ts';
import { describeMistakes } from '../support/mistakes.ts';
import { lacks } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';

const isSkipped = lacks('hexo');
const builder: BlogBuilder = isSkipped
  ? { program: '', isReady: Promise.resolve(), build: () => expect.fail('no builder') }
  : startBlogBuilder(new Workplace(afterAll));
beforeAll(() => builder.isReady);

const THEMES = 'blog/themes';

/** A blog with a theme from a kit in it. */
async function withTheme(kit: string, place = new Workplace()): Promise<Workplace> {
  prepareBlog(place);
  const made = await place.run('new', 'lumbre', '--platform', 'hexo', '--kit', kit, '--to', THEMES, '--yes');
  expect([made.status, made.stderr]).toEqual([0, '']);
  return place;
}

describe.skipIf(isSkipped).each(['bare', 'standard'])('a theme from the kit %s, judged by the real builder', (kit) => {
  const isFine = (place: Workplace, id: string): void => {
    const { isBuilt, said, page, assets, missing } = builder.build(place, id);
    expect([isBuilt, said, missing]).toEqual([true, '', []]);
    expect(page).toContain(`href="/css/${id}.css"`);
    expect(page).toContain(`${id}-header`);
    expect(assets).toEqual(expect.arrayContaining([`css/${id}.css`, 'archives/index.html', 'way/index.html']));
    if (kit === 'standard') expect(readFileSync(place.path('built', id, 'archives/index.html'), 'utf8')).toContain(`${id}-list`);
  };

  it('is built, as made, cloned, renamed, packed and installed', async () => {
    const place = await withTheme(kit);
    const run = async (...line: string[]): Promise<void> => expect(await place.run(...line)).toMatchObject({ status: 0, stderr: '' });
    isFine(place, 'lumbre');
    await run('check', `${THEMES}/lumbre`, '--strict');
    await run('clone', `${THEMES}/lumbre`, 'page', '--to', THEMES, '--include', 'unsure', '--yes');
    isFine(place, 'page');
    await run('rename', `${THEMES}/lumbre`, 'cumbre-sur', '--yes');
    isFine(place, 'cumbre-sur');
    await run('pack', `${THEMES}/cumbre-sur`, '--prove', '--out', 'cumbre-sur.zip');
    rmSync(place.path(THEMES, 'cumbre-sur'), { recursive: true });
    await run('install', 'cumbre-sur.zip', '--to', 'blog', '--yes');
    isFine(place, 'cumbre-sur');
  }, 60_000);
});

describe.skipIf(isSkipped)('templates in other languages', () => {
  it.each([
    ['njk', '{% include "_partial/top.njk" %}{{ config.title }}', '{% block top %}<b>Huts</b>{% endblock %}'],
    ['pug', 'include _partial/top.pug\np= config.title', 'b Huts'],
  ])('%s stand in the place of those of the kit, for the check and the builder alike', async (ending, index, top) => {
    const place = await withTheme('bare');
    const layout = place.path(THEMES, 'lumbre/layout');
    for (const role of ['layout', 'index', 'post', 'page']) rmSync(`${layout}/${role}.ejs`);
    cpSync(place.path(THEMES, 'lumbre/source'), `${layout}/_partial`, { recursive: true });
    writeFileSync(`${layout}/index.${ending}`, index);
    writeFileSync(`${layout}/_partial/top.${ending}`, top);
    const { said, page } = builder.build(place, 'lumbre');
    expect([said, page]).toEqual(['', expect.stringMatching(/<b>Huts<\/b>[^]*Albar Hut League/)]);
    const check = async () =>
      ((await place.json('check', `${THEMES}/lumbre`)) as { findings: { rule: string; file: string }[] }).findings
        .filter(({ rule }) => rule !== 'asset/unused')
        .map(({ rule, file }) => `${rule} ${file}`);
    expect(await check()).toEqual([]);
    rmSync(`${layout}/_partial/top.${ending}`);
    expect(await check()).toEqual([`template/partial layout/index.${ending}`]);
  });
});

describeMistakes({
  platform: 'hexo',
  isSkipped,
  home: `${THEMES}/lumbre`,
  site: 'blog',
  programs: () => ({ 'node_modules/.bin/hexo': builder.program }),
  addTheme: async (place) => withTheme('standard', place),
  told(place) {
    const { isBuilt, said, missing } = builder.build(place, 'lumbre');
    return !isBuilt ? 'stops' : said !== '' ? 'warns' : missing.length > 0 ? 'misses a file' : 'is silent';
  },
});
