import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { named, rename } from '../support/renaming.ts';

const PAGE = readFileSync(new URL('../../docs/renaming.md', import.meta.url), 'utf8');
/** The rows of the tables that rename one file: its name, its text, and the text after the rename. */
const ROWS = [...PAGE.matchAll(/^\| `([\w.]+)` \| `(.+?)` \| (?:`(.+?)`|stays) \|/gm)].map(
  ([, file = '', before = '', after = before]) => [file, before, after] as const,
);

it('has a table of what changes and one of what stays', () => {
  expect(ROWS.filter(([, before, after]) => before !== after).length).toBeGreaterThan(8);
  expect(ROWS.filter(([, before, after]) => before === after).length).toBeGreaterThan(5);
});

it.each(ROWS)('%s: %s', (file, before, after) => {
  const [text, wanted] = [before, after].map((each) => each.replaceAll('⏎', '\n')) as [string, string];
  const renamed = rename({ [file]: Buffer.from(text) }, named('albar'), named('cumbre-sur'), {});
  expect(renamed.tree.read(file).toString()).toBe(wanted);
});
