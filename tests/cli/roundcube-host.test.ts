import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startMailServer, type MailServer } from '../support/mailbox.ts';
import { describeMistakes } from '../support/mistakes.ts';
import { Workplace } from '../support/program.ts';
import { lacks } from '../support/needs.ts';
import { prepareWebmail, serve } from '../support/roundcube.ts';
import { describeSite } from '../support/sites.ts';
import { writeFiles } from '../support/trees.ts';

const isSkipped = lacks('roundcube');
const themes = 'site/skins';

/** A webmail with a theme from a kit in it. */
async function withTheme(kit: string, place = new Workplace(), mail?: MailServer): Promise<Workplace> {
  prepareWebmail(place, mail);
  const start = ['--platform', 'roundcube', '--to', themes, '--yes'];
  if (kit === 'child') await place.run('new', 'albar', '--kit', 'standard', ...start);
  const made = await place.run('new', 'lumbre', '--kit', kit, ...(kit === 'child' ? ['--parent', 'albar'] : []), ...start);
  expect([made.status, made.stderr]).toEqual([0, '']);
  return place;
}

describe.skipIf(isSkipped).each(['bare', 'standard', 'child'])('a theme from the kit %s, judged by the real webmail', (kit) => {
  const isFine = async (place: Workplace, id: string): Promise<void> => {
    const { status, said, page, missing } = await serve(place, id);
    expect([status, said, missing]).toEqual([200, '', []]);
    expect(page).toContain(`skins/${id}/styles/${id}.css`);
    // What it inherits is there, too.
    expect(page).toContain('skins/elastic/styles/styles');
    if (kit === 'child') expect(page).toContain('skins/albar/styles/albar.css');
    if (kit !== 'bare') expect(page).toContain(kit === 'child' ? 'albar-greeting' : `${id}-greeting`);
  };

  it('is served, as made, cloned, renamed, packed and unpacked', async () => {
    const place = await withTheme(kit);
    await isFine(place, 'lumbre');
    const fine = { status: 0 };
    expect(await place.run('check', `${themes}/lumbre`)).toMatchObject(fine);
    expect(await place.run('clone', `${themes}/lumbre`, 'page', '--to', themes, '--include', 'unsure', '--yes')).toMatchObject(fine);
    await isFine(place, 'page');
    expect(await place.run('rename', `${themes}/lumbre`, 'cumbre-sur', '--yes')).toMatchObject(fine);
    await isFine(place, 'cumbre-sur');
    expect(await place.run('pack', `${themes}/cumbre-sur`, '--out', 'cumbre-sur.zip')).toMatchObject(fine);
    rmSync(place.path(themes, 'cumbre-sur'), { recursive: true });
    expect(await place.run('install', 'cumbre-sur.zip', '--to', 'site', '--yes', '--shelf', themes)).toMatchObject(fine);
    await isFine(place, 'cumbre-sur');
  }, 60_000);
});

describe.skipIf(isSkipped)('a template that a child took from its parent', () => {
  it('is the one that the webmail takes, as the trace says', async () => {
    const place = await withTheme('child');
    const child = `${themes}/lumbre`;
    const pages = async (): Promise<Record<string, string | null>> => {
      const trace = (await place.json('trace', child, '--platform', 'roundcube')) as { pages: { role: string; from: string | null }[] };
      return Object.fromEntries(trace.pages.map(({ role, from }) => [role, from]));
    };
    expect([(await pages())['login'], (await serve(place, 'lumbre')).page.includes('albar-greeting')]).toEqual(['albar', true]);
    await place.run('override', child, 'login', '--platform', 'roundcube', '--yes');
    const login = place.path(child, 'templates/login.html');
    writeFileSync(login, readFileSync(login, 'utf8').replaceAll('albar-greeting', 'lumbre-own'));
    const { status, page } = await serve(place, 'lumbre');
    expect([(await pages())['login'], status, page.includes('lumbre-own'), page.includes('albar-greeting')]).toEqual([
      'lumbre',
      200,
      true,
      false,
    ]);
  }, 30_000);
});

describe.skipIf(isSkipped || lacks('mail'))('behind the login', () => {
  let mail: MailServer | undefined;
  beforeAll(async () => (mail = await startMailServer()));
  afterAll(async () => mail?.end());

  const rehearsed = async (kit: string, change: (place: Workplace) => void): Promise<{ status: number | null; said: string }> => {
    const place = await withTheme(kit, new Workplace(), mail);
    change(place);
    describeSite(place, 'inbox');
    const { status, stdout, stderr } = await place.run(
      'rehearse',
      `${themes}/lumbre`,
      '--site',
      'inbox',
      '--platform',
      'roundcube',
      '--yes',
    );
    return { status, said: stdout + stderr };
  };

  it.each(['bare', 'standard', 'child'])(
    'the list, a letter and the settings are shown with the kit %s',
    async (kit) => {
      const { status, said } = await rehearsed(kit, () => undefined);
      expect([status, said]).toEqual([0, expect.stringMatching(/✓ lumbre works on the site[^]*login[^]*mail[^]*message[^]*settings/)]);
    },
    30_000,
  );

  it.each([
    ['mail', 'the list is not there', '<roundcube:include file="includes/layout.html" />\n<div id="layout-content"></div>\n'],
    ['message', 'the letter is not there', '<roundcube:include file="includes/layout.html" />\n<div id="layout-content"></div>\n'],
    ['settings', 'a part of a page is not there', '<roundcube:include file="includes/layouts.html" />\n'],
  ])(
    'what is wrong on the page %s is seen, and found by check: %s',
    async (page, _what, text) => {
      const { status, said } = await rehearsed('bare', (place) =>
        writeFiles(place.path(themes, 'lumbre/templates'), { [`${page}.html`]: text }),
      );
      expect([status, said]).toEqual([1, expect.stringMatching(new RegExp(`✗.*the page “${page}”|${page}\\.html`))]);
      const place = await withTheme('bare');
      writeFiles(place.path(themes, 'lumbre/templates'), { [`${page}.html`]: text });
      const { findings } = (await place.json('check', `${themes}/lumbre`, '--platform', 'roundcube')) as { findings: { file: string }[] };
      expect(findings).toContainEqual(expect.objectContaining({ file: `templates/${page}.html` }));
    },
    30_000,
  );
});

describeMistakes({
  platform: 'roundcube',
  isSkipped,
  home: `${themes}/lumbre`,
  site: 'staging',
  addTheme: async (place) => withTheme('standard', place),
  async told(place) {
    const { status, said, page, missing } = await serve(place, 'lumbre');
    if (status !== 200 || !page.includes('</html>')) return 'stops';
    if (said !== '') return 'logs an error';
    if (missing.length > 0) return 'misses a file';
    const isStyled = page.includes('skins/lumbre/styles/lumbre.css') && page.includes('skins/elastic/styles/');
    return !isStyled ? 'loses its styles' : page.includes('name="_pass"') ? 'is silent' : 'shows no login';
  },
});
