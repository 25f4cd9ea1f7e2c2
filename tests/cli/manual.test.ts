import { execFileSync } from 'node:child_process';
import { cpSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { RULES } from '../../src/core/rules/rules.ts';
import { commandsPage } from '../../src/cli/commands-page.ts';
import { messagesPage } from '../../scripts/messages-page.mjs';
import { need } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';

const ROOT = join(import.meta.dirname, '../..');
const page = (name: string): string => readFileSync(join(ROOT, 'docs', name), 'utf8');
const PAGES = readdirSync(join(ROOT, 'docs')).filter((name) => name.endsWith('.md') && name !== 'index.md');

it.each<[name: string, make: () => string | Promise<string>]>([
  ['commands.md', commandsPage],
  ['messages.md', () => messagesPage(RULES, join(ROOT, 'src'))],
])('%s is made from the program (by “npm run docs”)', async (name, make) => {
  expect(page(name)).toBe(await make());
});

it('the front page leads to every page', () => {
  const linked = new Set([...page('index.md').matchAll(/\]\((?:\.\.\/)?([\w-]+\.md)\)/g)].map(([, name = '']) => name));
  expect(PAGES.filter((name) => !linked.has(name))).toEqual([]);
});

it.each(PAGES)('%s says in its first sentence whom it serves', (name) => {
  const [, first = ''] = page(name).split('\n\n');
  expect(first).toMatch(/^This page is for you if /);
});

it('the theme of these pages is sound, as a package too', async () => {
  const place = new Workplace();
  cpSync(join(ROOT, 'site/themes/pionero'), place.path('themes/pionero'), { recursive: true });
  for (const line of [
    'check themes/pionero --strict',
    'pack themes/pionero --out pionero.zip',
    'check pionero.zip --platform sphinx --strict',
  ])
    expect([line, (await place.run(...line.split(' '))).status]).toEqual([line, 0]);
});

it('the builder makes these pages with it', async () => {
  need('manual');
  const place = new Workplace();
  execFileSync(process.execPath, ['scripts/docs-site.mjs', '--source', place.path('site')], { cwd: ROOT });
  // Commands of a site are run only where you work.
  const outside = await place.run('rehearse', 'site/themes/pionero', '--site', 'manual', '--yes');
  expect([outside.status, outside.stderr]).toEqual([2, expect.stringContaining('site/pionero.yaml names it: run this in site')]);
  const { status, stdout } = await place.runIn('site', 'rehearse', 'themes/pionero', '--site', 'manual', '--yes');
  expect([status, stdout]).toEqual([0, expect.stringMatching(/✓ search/)]);
}, 120_000);
