import { existsSync, readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

/** Starts another program that writes into a file outside the site again and again, and goes on for a minute itself. */
const BUILD = `import { spawn } from 'node:child_process';
const beat = 'setInterval(() => require("node:fs").appendFileSync(process.argv[1], "."), 50)';
spawn(process.execPath, ['-e', beat, process.argv[2]], { stdio: 'ignore' });
setTimeout(() => {}, 60_000);
`;

it('a command is never one that the theme itself brings, however the theme is named', async () => {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  const evil = ['node', '-e', `require("node:fs").writeFileSync(${JSON.stringify(place.path('ran'))}, "")`];
  writeFiles(place.path('paso'), { 'pionero.yaml': `sites: { evil: { folder: ., command: ${JSON.stringify(evil)} } }\n` });
  for (const theme of ['.', String.raw`..\PASO`, '../paso/.', place.path('paso').toLowerCase()]) {
    const { status, stderr } = await place.runIn('paso', 'rehearse', theme, '--site', 'evil', '--yes');
    expect([theme, status, stderr]).toEqual([theme, 2, expect.stringMatching(/there is no site “evil”/)]);
  }
  expect(existsSync(place.path('ran'))).toBe(false);
});

it('where no links can be made, install says so and what does the same', async () => {
  const place = new Workplace().withShelf();
  writeFiles(place.folder, { 'site/themes/.keep': '' });
  const { status, stderr } = await place.run('install', 'demo/shelf/albar', '--to', 'site', '--link', '--yes');
  const isThere = existsSync(place.path('site/themes/albar'));
  const says = isThere ? /^$/ : /symbolic link[^]*“install” copies without --link/;
  expect([status, stderr]).toEqual([isThere ? 0 : 3, expect.stringMatching(says)]);
});

it.each([
  ['directly', ['node', 'build.mjs']],
  ['by a batch file', ['build.cmd']],
])('a site’s command that was started %s ends with what it started', async (_how, command) => {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  const beats = place.path('beats');
  writeFiles(place.folder, {
    'site/themes/.keep': '',
    'site/build.mjs': BUILD,
    'site/build.cmd': '@"%NODE_HERE%" build.mjs %1\r\n'.replace('%NODE_HERE%', process.execPath),
    'pionero.yaml': `sites: { slow: { folder: site, command: ${JSON.stringify([
      ...command.map((word) => word.replace(/^node$/, process.execPath).replace(/^build\.cmd$/, place.path('site/build.cmd'))),
      beats,
    ])}, seconds: 6 } }\n`,
  });
  const outcome = await place.run('rehearse', 'paso', '--site', 'slow', '--yes');
  expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([1, expect.stringMatching(/ran for more than 6 seconds/)]);
  expect(existsSync(beats)).toBe(true);
  const then = readFileSync(beats, 'utf8').length;
  await sleep(500);
  expect(readFileSync(beats, 'utf8').length).toBe(then);
});
