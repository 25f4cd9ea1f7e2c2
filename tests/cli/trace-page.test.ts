import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { chromium, type Page } from 'playwright-core';
import { expect, it } from 'vitest';
import { lacks } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';

const BROWSER = '/usr/bin/chromium';
const isSkipped = lacks('chromium');

/** The page of the demo's child, in a real browser. */
async function withPage(work: (page: Page) => Promise<void>): Promise<void> {
  const place = new Workplace();
  cpSync(join(import.meta.dirname, '../../demo/lineage'), place.folder, { recursive: true });
  expect(await place.run('trace', 'shelf/cierzo', '--out', 'trace.html')).toMatchObject({ status: 0 });
  const browser = await chromium.launch({ executablePath: BROWSER, args: ['--no-sandbox'] });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const problems: string[] = [];
    page.on('console', (message) => problems.push(message.text()));
    page.on('pageerror', (error) => problems.push(error.message));
    page.on('request', (request) => void (request.url().startsWith('file:') || problems.push(request.url())));
    await page.goto(`file://${place.path('trace.html')}`);
    await work(page);
    expect(problems).toEqual([]);
  } finally {
    await browser.close();
  }
}

it.skipIf(isSkipped)(
  'a trace is searched, filtered and gone through with the keyboard, and says what it shows',
  async () => {
    await withPage(async (page) => {
      const count = page.getByRole('status');
      const rows = page.locator('#files tr[data-path]:visible');
      const all = await rows.count();
      expect(await count.textContent()).toBe(`${all} files`);
      expect(await page.getByRole('columnheader').allTextContents()).toEqual(
        expect.arrayContaining(['File', 'cierzo 0.1.0', 'albar 2.1.0']),
      );
      // Nothing is wider than the window.
      expect(await page.evaluate('document.documentElement.scrollWidth <= window.innerWidth')).toBe(true);
      await page.getByRole('searchbox', { name: 'Search' }).fill('HEADER');
      expect(await rows.allTextContents()).toEqual([
        expect.stringMatching(/partials\/header\.html copied from albar 2\.0\.0.*served.*not asked/),
      ]);
      expect(await count.textContent()).toBe('1 file');
      await page.getByRole('searchbox', { name: 'Search' }).fill('nowhere');
      expect(await page.getByText('No file is like that.').isVisible()).toBe(true);
      await page.getByRole('searchbox', { name: 'Search' }).fill('');
      await page.getByRole('combobox', { name: 'Served from' }).selectOption({ label: 'albar' });
      const inherited = await rows.count();
      await page.getByRole('combobox', { name: 'Served from' }).selectOption({ label: 'cierzo' });
      expect((await rows.count()) + inherited).toBe(all);
      // From the search with the keyboard alone: kind, theme, box.
      await page.getByRole('searchbox', { name: 'Search' }).focus();
      for (let i = 0; i < 3; i++) await page.keyboard.press('Tab');
      await page.keyboard.press('Space');
      expect(await page.getByRole('checkbox', { name: /in the place of another/ }).isChecked()).toBe(true);
      expect((await rows.locator('th').allTextContents()).map((text) => text.split(' ')[0])).toEqual([
        'pages/front.html',
        'partials/footer.html',
        'partials/header.html',
      ]);
    });
  },
  60_000,
);
