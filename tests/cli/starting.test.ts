import { isAscii } from 'node:buffer';
import { execFileSync } from 'node:child_process';
import { cpSync, readdirSync, readFileSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { beforeEach, describe, expect, it } from 'vitest';
import { Bundle } from '../../src/cli/bundle.ts';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const ROOT = join(import.meta.dirname, '../..');
const DIST = join(ROOT, 'dist');

// Commands that other tests run in this process may have set it; what was kept under another setting is not taken.
beforeEach(() => setFlagsFromString('--heap-growing-percent=0'));

describe('the start of a command', () => {
  it.each(COMMANDS.map(({ name }) => name))('%s loads nothing that only its work needs', async (name) => {
    const bundle = new Bundle(DIST);
    expect(await bundle.program.run([name, '--help'], new Workplace().io(), '0.0.0')).toBe(0);
    expect([...bundle.loaded.keys()]).toEqual(['program.cjs', 'zod.cjs', 'commander.cjs']);
  });

  it('takes what the engine made of the program at the build', () => {
    const bundle = new Bundle(DIST);
    void bundle.program;
    expect(bundle.loaded.get('program.cjs')).toBe(true);
  });

  it('knows letters beyond ASCII where patterns have them', () => {
    const programs = readdirSync(DIST, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.cjs'));
    expect(programs.filter((name) => !isAscii(readFileSync(join(DIST, name))))).toEqual([]);
    const place = new Workplace().withShelf();
    writeFiles(place.path('demo/shelf/albar'), { 'notes.css': '/* © 2019 Albar Works */\n.albar-notes { }\n' });
    place.startAndWait('clone', 'demo/shelf/albar', 'lumbre', '--yes');
    expect(readFileSync(place.path('lumbre/notes.css'), 'utf8')).toBe('/* © 2019 Albar Works */\n.lumbre-notes { }\n');
  });

  it('loads modules of somebody’s own, which what is kept of it cannot do by itself', () => {
    const place = new Workplace().withShelf();
    writeFiles(place.folder, {
      'pionero.yaml': 'rule-files: [own.mjs]\n',
      'own.mjs': `export default {
  meta: { id: 'hut/bell', severity: 'warning', summary: 'No bell', why: 'Guests ring.', messages: { none: 'there is no bell' }, example: { none: 'x' } },
  *check() { yield { message: 'none', file: '' }; },
};\n`,
    });
    expect(place.startAndWait('check', 'demo/shelf/albar', '--no-cache').stdout).toMatch(/there is no bell\s+hut\/bell/);
  });

  it('does without it where it is missing, half or of another program, and makes it where the package is installed', () => {
    const place = new Workplace().withShelf();
    for (const name of ['dist', 'platforms', 'demo']) cpSync(join(ROOT, name), place.path('pionero', name), { recursive: true });
    cpSync(join(ROOT, 'package.json'), place.path('pionero/package.json'));
    const kept = (folder: string): string[] =>
      readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.code'));
    const dist = place.path('pionero/dist');
    expect(kept(dist)).toContain('packages/yaml.code');
    const names = kept(dist);
    const check = (): string => place.shell(`node ${dist}/pionero.cjs check demo/shelf/albar --no-cache`).stdout;
    const expected = check();
    expect(expected).toMatch(/no problems found/);
    for (const name of names) truncateSync(join(dist, name), 5000);
    expect(check()).toBe(expected);
    for (const name of names) cpSync(join(DIST, 'packages/diff.cjs'), join(dist, name));
    expect(check()).toBe(expected);
    const { scripts } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as { scripts: { postinstall: string } };
    execFileSync('sh', ['-c', scripts.postinstall], { cwd: place.path('pionero') });
    const bundle = new Bundle(dist);
    void bundle.program;
    expect(bundle.loaded.get('program.cjs')).toBe(true);
  });
});
