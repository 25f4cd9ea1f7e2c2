import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { runTool } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const ROOT = join(import.meta.dirname, '../..');

/** The package as somebody has it who installed it, with the one package that it needs. */
function installed(): Workplace {
  const place = new Workplace();
  const told = execFileSync('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', place.folder], {
    cwd: ROOT,
    encoding: 'utf8',
  });
  const [{ filename } = { filename: '' }] = JSON.parse(told) as { filename: string }[];
  mkdirSync(place.path('node_modules/pionero'), { recursive: true });
  runTool('tar', ['-xzf', filename, '-C', 'node_modules/pionero', '--strip-components=1'], { cwd: place.folder });
  for (const name of ['zod', '@types', 'undici-types', 'typescript'])
    symlinkSync(join(ROOT, 'node_modules', name), place.path('node_modules', name));
  return place;
}

it('is typed and runs from the packed package as docs/library.md has it', () => {
  const place = installed();
  const example = /```ts\n([^]*?)```/.exec(readFileSync(join(ROOT, 'docs/library.md'), 'utf8'))?.[1] ?? '';
  const short = /```ts\n([^]*?)```/.exec(readFileSync(join(ROOT, 'README.md'), 'utf8'))?.[1] ?? '';
  expect(
    example
      .trim()
      .split('\n')
      .filter((line) => line !== '').length,
  ).toBeLessThanOrEqual(20);
  writeFiles(place.folder, {
    'package.json': '{ "type": "module" }\n',
    'example.mts': example,
    'short.mts': short,
    'tsconfig.json': JSON.stringify({
      compilerOptions: {
        strict: true,
        module: 'nodenext',
        target: 'es2023',
        types: ['node'],
        exactOptionalPropertyTypes: true,
        noUncheckedIndexedAccess: true,
        outDir: 'out',
        skipLibCheck: false,
      },
      include: ['*.mts'],
    }),
  });
  const typed = spawnSync(join(ROOT, 'node_modules/.bin/tsc'), ['-p', '.'], { cwd: place.folder, encoding: 'utf8' });
  expect([typed.status, typed.stdout]).toEqual([0, '']);
  cpSync(join(ROOT, 'demo/shelf/albar'), place.path('albar'), { recursive: true });
  const ran = spawnSync(process.execPath, ['out/example.mjs'], { cwd: place.folder, encoding: 'utf8' });
  expect([ran.status, ran.stderr, ran.stdout]).toEqual([
    0,
    '',
    expect.stringMatching(/^albar Albar \d+\.\d+\.\d+ Vereda\n\d+ places change, \d+ stay, 0 are unsure\nlumbre\n$/),
  ]);
  // What was done was undone.
  expect(spawnSync(process.execPath, ['out/short.mjs'], { cwd: place.folder, encoding: 'utf8' }).stdout).toBe('Albar 0\n');
  const { dependencies, exports } = JSON.parse(readFileSync(place.path('node_modules/pionero/package.json'), 'utf8')) as {
    dependencies: object;
    exports: object;
  };
  expect(Object.keys(dependencies)).toEqual(['zod']);
  for (const file of Object.keys(exports).filter((name) => name.endsWith('.json'))) {
    const asked = `import schema from 'pionero${file.slice(1)}' with { type: 'json' }; console.log(schema.title)`;
    expect(spawnSync(process.execPath, ['--input-type=module', '-e', asked], { cwd: place.folder, encoding: 'utf8' }).stdout).toMatch(
      /^Pionero /,
    );
  }
}, 120_000);

it('has every page that its own pages lead to', () => {
  const place = installed();
  const home = place.path('node_modules/pionero');
  for (const page of [
    'README.md',
    'CONTRIBUTING.md',
    'CHANGELOG.md',
    'SECURITY.md',
    'docs/checking.md',
    'docs/recipes.md',
    'docs/library.md',
  ]) {
    const text = readFileSync(join(home, page), 'utf8');
    for (const [, target = ''] of text.matchAll(/\]\((?!https?:|#)([^)#]+)/g))
      expect([page, target, existsSync(join(home, page, '..', target))]).toEqual([page, target, true]);
  }
}, 60_000);
