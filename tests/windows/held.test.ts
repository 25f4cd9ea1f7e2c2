import { spawn } from 'node:child_process';
import { readFileSync, renameSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it, onTestFinished } from 'vitest';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

/** Starts a program that has something in use, and waits until it has. @returns what ends it */
async function hold(how: 'as its folder' | 'as its file', path: string): Promise<() => Promise<void>> {
  const child =
    how === 'as its folder'
      ? spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60_000)'], { cwd: path })
      : spawn('cmd', ['/c', `pause >> ${path}`], { stdio: ['pipe', 'ignore', 'ignore'] });
  const gone = new Promise<void>((resolve) => void child.on('exit', () => resolve()));
  const release = async (): Promise<void> => {
    child.kill();
    await gone;
  };
  onTestFinished(release);
  await sleep(500);
  return release;
}

const onShelf = (): Workplace => new Workplace().withShelf();

it.each([
  { what: 'a theme', how: 'as its folder', held: 'albar', line: 'rename demo/shelf/albar cumbre --yes' },
  { what: 'a child of it', how: 'as its file', held: 'albar-noche\\sheet.css', line: 'rename demo/shelf/albar cumbre --yes' },
  { what: 'a document', how: 'as its file', held: 'albar\\sheet.css', line: 'meta set demo/shelf/albar title=X --yes' },
] as const)('another program that has $what in use stops a change with nothing half done', async ({ how, held, line }) => {
  const place = onShelf();
  const before = snapshot(place.path('demo'));
  const release = await hold(how, place.path('demo/shelf', held));
  const { status, stderr } = await place.run(...line.split(' '));
  expect([status, stderr]).toEqual([3, expect.stringMatching(/another program has it open[^]*close what has it open/)]);
  expect(stderr).not.toMatch(/\.pionero-|broken off before/);
  await release();
  const after = snapshot(place.path('demo'));
  // What the holder itself wrote into its file is its own.
  expect(Object.keys(after)).toEqual(Object.keys(before));
  expect(after['shelf/albar/README.md']).toBe(before['shelf/albar/README.md']);
  expect((await place.run(...line.split(' '))).status).toBe(0);
});

it('what is in use for a moment only is tried again', async () => {
  const place = onShelf();
  const release = await hold('as its file', place.path('demo\\shelf\\albar\\sheet.css'));
  const changed = place.run('meta', 'set', 'demo/shelf/albar', 'version=9.0.0', '--yes', '--force');
  await sleep(300);
  await release();
  expect(await changed).toMatchObject({ status: 0 });
});

it('the old folder of a rename that is in use is cleared away by the next command', async () => {
  const place = onShelf();
  const release = await hold('as its file', place.path('demo\\shelf\\albar\\notes.txt'));
  expect(await place.run('rename', 'demo/shelf/albar', 'cumbre', '--yes', '--force')).toMatchObject({ status: 0, stderr: '' });
  await release();
  expect((await place.run('check', 'demo/shelf/cumbre')).stderr).not.toMatch(/broken off/);
  expect(Object.keys(snapshot(place.path('demo/shelf'))).filter((path) => path.startsWith('.pionero-'))).toEqual([]);
});

it.each(['toLowerCase', 'toUpperCase'] as const)('a theme is the one on the disk, however its path is written: %s', async (drive) => {
  const place = onShelf();
  const path = place.path('demo/shelf/albar');
  const spelt = path.slice(0, 2)[drive]() + path.slice(2).toUpperCase();
  expect((await place.run('check', spelt)).stdout).toMatch(/^✓ albar \(Vereda/);
  expect((await place.run('rename', spelt, 'cumbre', '--yes')).stdout).toMatch(/building on cumbre from now on: albar-noche/);
  expect(readFileSync(place.path('demo/shelf/albar-noche/sheet.css'), 'utf8')).toMatch(/^parent: cumbre$/m);
});

it('an archive that another program has open is told of, and never by a bare code', async () => {
  const place = onShelf();
  writeFiles(place.folder, { 'kept/albar.zip': 'x' });
  const release = await hold('as its file', place.path('kept\\albar.zip'));
  const { status, stderr } = await place.run('pack', 'demo/shelf/albar', '--out', 'kept/albar.zip', '--yes', '--force');
  expect([status, stderr]).toEqual([3, expect.stringMatching(/another program has it open/)]);
  expect(stderr).not.toMatch(/\bE[A-Z]{3,}\b/);
  await release();
  expect((await place.run('pack', 'demo/shelf/albar', '--out', 'kept/albar.zip', '--yes', '--force')).status).toBe(0);
});

it('a document counts under the name that it is written with, as on a host that tells A from a', async () => {
  const place = onShelf();
  renameSync(place.path('demo/shelf/albar/sheet.css'), place.path('demo/shelf/albar/other.css'));
  renameSync(place.path('demo/shelf/albar/other.css'), place.path('demo/shelf/albar/Sheet.css'));
  const { status, stdout } = await place.run('check', 'demo/shelf/albar');
  expect([status, stdout]).toEqual([1, expect.stringMatching(/the header of sheet\.css is missing[^]*document\/missing/)]);
});
