import { spawnSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { lacks, runTool } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';

/** Looks icons up with the real toolkit: prints the file that each name resolves to in a theme. */
const LOOK_UP = `
import sys, gi
gi.require_version('Gtk', '3.0')
from gi.repository import Gtk
theme = Gtk.IconTheme()
theme.set_search_path([sys.argv[1]])
theme.set_custom_theme(sys.argv[2])
for name in sys.argv[3:]:
    found = theme.lookup_icon(name, 48, 0)
    print(name, found.get_filename() if found else None)
`;
// Debian's Python: the one that its packages for the toolkit belong to.
const PYTHON = '/usr/bin/python3';

it.skipIf(lacks('toolkit'))('an icon theme is found, inherits and resolves in the real toolkit', async () => {
  const place = new Workplace();
  const run = async (...argv: string[]) => expect(await place.run(...argv)).toMatchObject({ status: 0 });
  await run('new', 'refugio', '--platform', 'icons', '--kit', 'standard', '--yes');
  await run('new', 'cumbre-sur', '--platform', 'icons', '--kit', 'child', '--parent', 'refugio', '--yes');
  const svg = (colour: string) =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="48" height="48"><rect width="48" height="48" fill="${colour}"/></svg>\n`;
  writeFileSync(place.path('refugio/scalable/apps/stove.svg'), svg('red'));
  writeFileSync(place.path('refugio/scalable/apps/rope.svg'), svg('red'));
  writeFileSync(place.path('cumbre-sur/scalable/apps/rope.svg'), svg('blue'));
  await run('check', 'refugio');
  await run('check', 'cumbre-sur');
  const icons = place.path('data/icons');
  mkdirSync(icons, { recursive: true });
  for (const id of ['refugio', 'cumbre-sur']) {
    await run('pack', id);
    expect(runTool('tar', ['-xzf', place.path(`${id}.tar.gz`), '-C', icons])).toMatchObject({ status: 0 });
    const built = spawnSync('gtk-update-icon-cache', ['--force', `${icons}/${id}`], { encoding: 'utf8' });
    expect([built.status, built.stderr]).toEqual([0, expect.not.stringMatching(/invalid|error/i)]);
    expect(spawnSync('gtk-update-icon-cache', ['--validate', `${icons}/${id}`]).status).toBe(0);
  }
  const names = ['hut', 'rope', 'stove', 'refuge', 'nowhere'];
  const found = spawnSync('xvfb-run', ['-a', PYTHON, '-c', LOOK_UP, icons, 'cumbre-sur', ...names], { encoding: 'utf8' });
  const resolved = Object.fromEntries(
    found.stdout
      .trim()
      .split('\n')
      .map((line) => line.replace(`${icons}/`, '').split(' ')),
  );
  expect(resolved).toEqual({
    hut: 'cumbre-sur/scalable/apps/hut.svg',
    rope: 'cumbre-sur/scalable/apps/rope.svg',
    stove: 'refugio/scalable/apps/stove.svg',
    refuge: 'refugio/scalable/places/refuge.svg',
    nowhere: 'None',
  });
});
