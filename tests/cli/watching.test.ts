import { cpSync, renameSync, rmSync, unlinkSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it, onTestFinished } from 'vitest';
import { runTool } from '../support/needs.ts';
import { kitFiles, platformNamed, writeFiles } from '../support/trees.ts';
import { Workplace } from '../support/program.ts';

const LINE = '{{{wrong}}}\n';

/** Starts to watch, and waits until it does. `says` waits for what is printed from then on. */
async function watching(place: Workplace, ...args: string[]) {
  const child = place.startPiped('check', ...args, '--watch');
  let shown = '';
  let read = 0;
  child.stdout?.on('data', (data: Buffer) => (shown += data.toString()));
  onTestFinished(() => void child.kill('SIGKILL'));
  const says = async (wanted: RegExp): Promise<void> => {
    await expect.poll(() => shown.slice(read), { timeout: 15_000, interval: 20 }).toMatch(wanted);
    read = shown.length;
  };
  await says(/Watching/);
  return { child, says, shown: () => shown };
}

function paso(): Workplace {
  const place = new Workplace();
  writeFiles(place.path('shelf/paso'), { ...kitFiles(platformNamed('vereda'), 'paso'), 'pages/front.html': '<p>Paso</p>\n' });
  return place;
}

/** As editors do: where a file that somebody reads just now cannot be replaced, it is tried again. */
function renameOver(from: string, to: string): void {
  for (let left = 100; ; left--) {
    try {
      renameSync(from, to);
      return;
    } catch (error) {
      if (left === 0 || !(error instanceof Error && 'code' in error && error.code === 'EPERM')) throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
    }
  }
}

/** The ways in which editors save a file. */
const WAYS: readonly (readonly [string, (path: string, text: string) => void])[] = [
  ['writes into the file', (path, text) => writeFileSync(path, text)],
  [
    'writes a new file and renames it over the old one',
    (path, text) => {
      writeFileSync(`${path}.new`, text);
      renameOver(`${path}.new`, path);
    },
  ],
  [
    'moves the old file away, writes a new one and removes the old one',
    (path, text) => {
      renameSync(path, `${path}~`);
      writeFileSync(path, text);
      unlinkSync(`${path}~`);
    },
  ],
];

it.each(WAYS)('hears every save of an editor that %s', async (_how, save) => {
  const place = paso();
  const { child, says, shown } = await watching(place, 'shelf/paso');
  for (let i = 0; i < 5; i++) {
    save(place.path('shelf/paso/pages/front.html'), i % 2 === 0 ? '<p>{{> nowhere}}</p>\n' : '<p>Paso</p>\n');
    await says(i % 2 === 0 ? /template\/partial/ : /✓ gone: pages\/front\.html/);
  }
  child.kill('SIGINT');
  // What a look at the file alone has told, the check after it does not tell again: three that came, two that went.
  expect(shown().match(/“nowhere” does not exist/g)).toHaveLength(5);
  // Where there are no signals, that is its end.
  await expect.poll(() => child.exitCode ?? child.signalCode, { timeout: 5000 }).toBe(process.platform === 'win32' ? 'SIGINT' : 0);
});

it('hears a checkout, a folder put in the place of another one, and a theme that comes and goes', async () => {
  const place = paso();
  const git = (...args: string[]) =>
    runTool('git', ['-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@lumbre.example', ...args], { cwd: place.path('shelf/paso') });
  git('init');
  git('add', '.');
  git('commit', '-m', 'paso');
  const { says } = await watching(place, 'shelf');
  writeFileSync(place.path('shelf/paso/pages/front.html'), '<p>{{> nowhere}}</p>\n');
  await says(/template\/partial/);
  git('checkout', '.');
  await says(/✓ gone/);
  cpSync(place.path('shelf/paso'), place.path('other'), { recursive: true });
  writeFileSync(place.path('other/pages/front.html'), LINE);
  rmSync(place.path('shelf/paso'), { recursive: true });
  renameSync(place.path('other'), place.path('shelf/paso'));
  await says(/paso/);
  writeFileSync(place.path('shelf/paso/pages/front.html'), '<p>{{> nowhere}}</p>\n');
  await says(/template\/partial/);
  writeFiles(place.path('shelf/lumbre'), kitFiles(platformNamed('vereda'), 'lumbre'));
  await says(/lumbre \(Vereda/);
  writeFileSync(place.path('shelf/lumbre/main.html'), '\n');
  await says(/file\/empty/);
  rmSync(place.path('shelf/lumbre'), { recursive: true });
  await says(/lumbre is gone/);
});

it('waits for the end of a change of many files, and checks once', async () => {
  const place = paso();
  const { child, says } = await watching(place, 'shelf/paso');
  let shown = '';
  child.stdout?.on('data', (data: Buffer) => (shown += data.toString()));
  // Slower than an editor saves, as a copy over a network is; and with Git at work in the end.
  for (let i = 0; i < 12; i++) {
    writeFiles(place.path('shelf/paso/pages'), { [`p${i}.html`]: '<p>{{> nowhere}}</p>\n' });
    await sleep(i < 4 ? 40 : 250);
  }
  writeFiles(place.path('shelf/paso/.git'), { 'index.lock': '' });
  writeFiles(place.path('shelf/paso/pages'), { 'p0.html': '<p>{{> nowhere}}</p>\n' });
  await sleep(1200);
  expect(shown).toBe('');
  rmSync(place.path('shelf/paso/.git'), { recursive: true });
  await says(/p11\.html/);
  expect(shown.match(/paso \(Vereda/g)).toHaveLength(1);
});

it('asks a rule that is switched off at every save, when it is to be tried', async () => {
  const place = paso();
  writeFiles(place.folder, { 'pionero.yaml': 'rules: { template/partial: off }\n' });
  const { says, shown } = await watching(place, 'shelf/paso', '--rule-preview', 'template/partial');
  const page = place.path('shelf/paso/pages/front.html');
  writeFileSync(page, '<p>{{> nowhere}}</p>\n');
  await says(/template\/partial/);
  writeFileSync(page, '<p>{{> nowhere}} </p>\n');
  await says(/as before: 1 finding/);
  expect(shown()).not.toContain('✓ gone');
});

it('does not fix behind an editor’s back', async () => {
  const place = paso();
  expect(await place.run('check', dirname('shelf/paso/x'), '--watch', '--fix')).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--watch only shows/) as string,
  });
});
