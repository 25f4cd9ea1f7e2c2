import { cpSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { DEMO_SHELVES, Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

/** The demo's child of a parent that was updated. */
function demo(): Workplace {
  const place = new Workplace();
  cpSync(join(import.meta.dirname, '../../demo/lineage'), place.folder, { recursive: true });
  return place;
}

it('all pages are on one sheet, each a link to itself, with those of another theme beside them', async () => {
  const place = demo();
  const outcome = await place.run('rehearse', 'shelf/cierzo', '--against', 'parent', '--out', 'site', '--yes');
  expect([outcome.status, outcome.stdout]).toEqual([
    0,
    expect.stringMatching(
      /Against its parent albar: 7 pages differ\n[^]*front +pages\/front\.html +cierzo .*\n {4}made by albar: pages\/front\.html before\n {4}\+3 −2 lines\n[^]*open index\.html there/,
    ),
  ]);
  const sheet = readFileSync(place.path('site/index.html'), 'utf8');
  const linked = [...sheet.matchAll(/<a href="([^"]+)"/g)].map(([, file = '']) => file);
  expect(linked).toEqual(expect.arrayContaining(['front.html', 'before/front.html', 'missing.html', 'before/missing.html']));
  expect(linked.filter((file) => !existsSync(place.path('site', file)))).toEqual([]);
  // The other theme's pages have its files beside them.
  expect(existsSync(place.path('site/before/themes/albar/sheet.css'))).toBe(true);
  expect(readFileSync(place.path('site/before/front.html'), 'utf8')).not.toContain('cierzo');
});

it('that was not made is not there, and nobody is sent to open it', async () => {
  const place = new Workplace();
  await place.run('new', 'lumbre', '--platform', 'sphinx', '--yes');
  const { stdout } = await place.run('rehearse', 'lumbre', '--platform', 'sphinx', '--out', 'site', '--yes');
  expect(stdout).toMatch(/The site is kept in site: it has no pages\.\n$/);
  expect(readdirSync(place.path('site'))).toEqual(['_themes']);
});

it('an earlier version is compared with, and the same theme does not differ', async () => {
  const place = demo();
  expect((await place.run('rehearse', 'shelf/neveron', '--against', '0.1.0')).stdout).toMatch(
    /Against neveron 0\.1\.0 \(neveron-0\.1\.0\.zip\): no page differs[^]* the same\n/,
  );
  const { against, differences } = (await place.json('rehearse', 'shelf/albar', '--against', '2.0.0')) as {
    against: string;
    differences: { role: string; added: number; removed: number }[];
  };
  expect(against).toBe('albar 2.0.0 (albar-2.0.0.zip)');
  expect(differences.find(({ role }) => role === 'front')).toMatchObject({ added: 2, removed: 1 });
  expect(await place.run('rehearse', 'shelf/albar', '--against', 'parent')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/albar has no parent here/) as string,
  });
});

it('regions are outlined where that is asked for, and told of where they are empty', async () => {
  const place = new Workplace();
  cpSync(join(DEMO_SHELVES, 'cordada'), place.path('shelf'), { recursive: true });
  const page = place.path('shelf/albar/markup/page.html');
  writeFiles(place.path('shelf/albar'), {
    'markup/page.html': readFileSync(page, 'utf8').replace('{{{areas.footer}}}', '{{{areas.footer}}}{{{areas.attic}}}'),
  });
  const outcome = await place.run('rehearse', 'shelf/albar', '--out', 'site', '--regions', '--yes');
  expect(outcome.stdout).toMatch(/page +markup\/page\.html .*, empty: .*attic/);
  const html = readFileSync(place.path('site/page.html'), 'utf8');
  expect(html).toMatch(/<div style="[^"]*outline[^"]*"><span style="[^"]*">content<\/span>/);
  expect(html).toMatch(/>attic<\/span><\/div>/);
  await place.run('rehearse', 'shelf/albar', '--out', 'plain', '--yes');
  expect(readFileSync(place.path('plain/page.html'), 'utf8')).not.toContain('outline:');
  expect(await place.run('rehearse', 'shelf/albar', '--regions')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--out DIR/) as string,
  });
});
