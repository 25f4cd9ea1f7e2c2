import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { describe, expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const DIST = join(import.meta.dirname, '../../dist');

describe('the start of a command', () => {
  it('loads nothing that only its work needs', { timeout: 120_000 }, () => {
    // One process for all: what one help text loads, another has then loaded, too.
    const asking = `const { run } = require(${JSON.stringify(join(DIST, 'program.cjs'))});
      const io = { stdout: { write: () => {} }, stderr: { write: () => {} }, env: {}, folder: '/', now: Date.now, columns: 80 };
      (async () => {
        const told = [];
        for (const name of ${JSON.stringify(COMMANDS.map(({ name }) => name))}) {
          const status = await run([name, '--help'], io, '0.0.0');
          told.push([name, status, Object.keys(require.cache)]);
        }
        console.log(JSON.stringify(told));
      })();`;
    const { stdout, stderr } = spawnSync(process.execPath, ['-e', asking], { encoding: 'utf8', maxBuffer: 1 << 26 });
    expect(stderr).toBe('');
    for (const [name, status, files] of JSON.parse(stdout) as [string, number, string[]][])
      expect([name, status, files.map((file) => basename(file)).sort()]).toEqual([name, 0, ['commander.cjs', 'program.cjs']]);
  });

  it('keeps what the engine compiled where it offers to, and needs nothing to be run at install', () => {
    const place = new Workplace().withShelf();
    const check = () => place.runWith({ NODE_DISABLE_COMPILE_CACHE: undefined }, 'check', 'demo/shelf/albar', '--no-cache');
    expect([check(), check()].map(({ status, stdout }) => [status, /no problems found/.test(stdout)])).toEqual([
      [0, true],
      [0, true],
    ]);
    const isKept = Number(process.versions.node.split('.')[0]) >= 22;
    expect(existsSync(place.path('.cache/pionero/code'))).toBe(isKept);
    const { scripts } = JSON.parse(readFileSync(join(DIST, '../package.json'), 'utf8')) as { scripts: Record<string, string> };
    expect(Object.keys(scripts).filter((name) => /^(?:pre|post)?install$/.test(name))).toEqual([]);
    // A folder for it that cannot be made only costs time.
    writeFiles(place.folder, { '.nowhere': '' });
    expect(place.runWith({ NODE_DISABLE_COMPILE_CACHE: undefined, XDG_CACHE_HOME: place.path('.nowhere') }, '--version').status).toBe(0);
  });

  it('knows letters beyond ASCII where patterns have them', () => {
    const place = new Workplace().withShelf();
    writeFiles(place.path('demo/shelf/albar'), { 'notes.css': '/* © 2019 Albar Works */\n.albar-notes { }\n' });
    place.startAndWait('clone', 'demo/shelf/albar', 'lumbre', '--to', '.', '--yes');
    expect(readFileSync(place.path('lumbre/notes.css'), 'utf8')).toBe('/* © 2019 Albar Works */\n.lumbre-notes { }\n');
  });

  it('loads modules of one’s own', () => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, {
      'pionero.yaml': 'rule-files: [own.mjs]\n',
      'own.mjs': `export default {
  meta: { id: 'hut/bell', severity: 'warning', summary: 'No bell', why: 'Guests ring.', messages: { none: 'there is no bell' }, example: { none: 'x' } },
  *check() { yield { message: 'none', file: '' }; },
};\n`,
    });
    expect(place.startAndWait('check', 'demo/shelf/albar', '--no-cache', '--yes').stdout).toMatch(/there is no bell\s+hut\/bell/);
  });
});

it('reads facts by the library without a package', () => {
  const reading = `import { createRequire } from 'node:module';
    const { openThemeFolder } = await import(${JSON.stringify(pathToFileURL(join(DIST, 'core.js')).href)});
    const { theme } = openThemeFolder(${JSON.stringify(join(DIST, '../demo/shelf/albar'))}, { currentFolder: '/', platform: 'vereda' });
    console.log(JSON.stringify([theme.text('title'), Object.keys(createRequire(import.meta.url).cache)]));`;
  const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', reading], { encoding: 'utf8' });
  expect([stderr, JSON.parse(stdout)]).toEqual(['', ['Albar', []]]);
});
