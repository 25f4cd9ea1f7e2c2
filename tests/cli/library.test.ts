import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { makeSymlink } from '../support/needs.ts';
import { writeFiles } from '../support/trees.ts';

const ROOT = join(import.meta.dirname, '../..');

/** The package as somebody has it who installed it, with the one package that it needs: packed once for all tests. */
let place: { readonly folder: string; path(...parts: string[]): string };
beforeAll(() => {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-packed-'));
  place = { folder, path: (...parts) => join(folder, ...parts) };
  const told = execFileSync('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder], { cwd: ROOT, encoding: 'utf8' });
  const [{ filename } = { filename: '' }] = JSON.parse(told) as { filename: string }[];
  const bytes = gunzipSync(readFileSync(join(folder, filename)));
  // A tar is read by our own reader: nothing but Node.js and npm is needed.
  for (const { name, content } of tarEntries(bytes))
    writeFiles(place.path('node_modules/pionero'), { [name.replace(/^package\//, '')]: content });
  for (const name of ['zod', '@types', 'undici-types', 'typescript'])
    makeSymlink(join(ROOT, 'node_modules', name), place.path('node_modules', name));
  cpSync(join(ROOT, 'demo/shelf/albar'), place.path('albar'), { recursive: true });
}, 120_000);
afterAll(() => rmSync(place.folder, { recursive: true, force: true }));

/** The files of a tar (POSIX ustar, pax headers passed over). */
function* tarEntries(tar: Buffer): Generator<{ name: string; content: Buffer }> {
  for (let at = 0; at + 512 <= tar.length && tar[at] !== 0;) {
    const text = (from: number, length: number): string => tar.toString('utf8', at + from, at + from + length).replace(/\0[^]*$/, '');
    const size = parseInt(text(124, 12), 8);
    const prefix = text(345, 155);
    if (/^[0\0]?$/.test(text(156, 1)))
      yield { name: `${prefix === '' ? '' : `${prefix}/`}${text(0, 100)}`, content: tar.subarray(at + 512, at + 512 + size) };
    at += 512 + Math.ceil(size / 512) * 512;
  }
}

it('is typed and runs from the packed package as docs/library.md has it', () => {
  const blocks = (page: string) => [...readFileSync(join(ROOT, page), 'utf8').matchAll(/```ts\n([^]*?)```/g)].map(([, text = '']) => text);
  const [example = '', ...more] = blocks('docs/library.md');
  const [short = ''] = blocks('README.md');
  const lines = example.trim().split('\n');
  expect(lines.filter((line) => line !== '').length).toBeLessThanOrEqual(20);
  writeFiles(place.folder, {
    'package.json': '{ "type": "module" }\n',
    'example.mts': example,
    'short.mts': short,
    ...Object.fromEntries(more.map((text, i) => [`more-${i}.mts`, text])),
    'tsconfig.json': JSON.stringify({
      compilerOptions: {
        strict: true,
        module: 'nodenext',
        target: 'es2023',
        // Without what browsers have: the types must not ask for it.
        lib: ['es2023'],
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
  const said = more.map((_text, i) => spawnSync(process.execPath, [`out/more-${i}.mjs`], { cwd: place.folder, encoding: 'utf8' }));
  expect(said.map(({ stderr, stdout }) => [stderr, stdout])).toEqual([
    ['', expect.stringMatching(/^1:5 template\/partial the partial “nowhere” does not exist/)],
    ['', expect.stringMatching(/^(?:file\/missing|image\/missing) /)],
    ['', 'true\n'],
  ]);
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

it('ends a check that takes too long, is too large or is not wanted any more', () => {
  const asked = `import { checkWithin } from 'pionero';
    const ended = (limits) => checkWithin('albar', { currentFolder: process.cwd(), ...limits }).then(() => 'done', ({ code, what, why }) => [code, what, why].join(' '));
    console.log(JSON.stringify(await Promise.all([ended({ milliseconds: 1 }), ended({ bytes: 10 }), ended({ signal: AbortSignal.abort() }), ended({ mebibytes: 4 }), ended({})])));`;
  const { stdout } = spawnSync(process.execPath, ['--input-type=module', '-e', asked], { cwd: place.folder, encoding: 'utf8' });
  expect(JSON.parse(stdout)).toEqual([
    expect.stringMatching(/^failed .*it took more than 1 milliseconds/),
    expect.stringMatching(/^refused albar holds \d+ bytes, and may hold 10/),
    expect.stringMatching(/^failed .*not wanted any more/),
    expect.stringMatching(/^failed .*more than 4 MiB/),
    'done',
  ]);
});

it('holds the license of every package that is in it, and a manual page that npm links', () => {
  // npm links a page of the manual only from a list.
  const { man } = JSON.parse(readFileSync(place.path('node_modules/pionero/package.json'), 'utf8')) as { man: string[] };
  expect([Array.isArray(man), readFileSync(place.path('node_modules/pionero', ...man), 'utf8')]).toEqual([
    true,
    expect.stringContaining('.TH '),
  ]);
  const notices = readFileSync(place.path('node_modules/pionero/dist/THIRD-PARTY-NOTICES.txt'), 'utf8');
  const listed = new Set([...notices.matchAll(/^(\S+) \d+\.\d+\.\d+\S* \(([^)]+)\)\n\n(\S[^]{80})/gm)].map(([, name]) => name));
  const { optionalDependencies, devDependencies } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as Record<
    string,
    Record<string, string>
  >;
  const sources = readdirSync(join(ROOT, 'src'), { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.ts'));
  const imported = sources.flatMap((file) =>
    [...readFileSync(join(ROOT, 'src', file), 'utf8').matchAll(/from '((?:@[\w-]+\/)?[a-z][\w.-]*)(?:\/[^']*)?';/g)].map(
      ([, name = '']) => name,
    ),
  );
  const bundled = [...new Set(imported)].filter(
    (name) => devDependencies?.[name] !== undefined && optionalDependencies?.[name] === undefined && name !== 'sarif',
  );
  expect(bundled.length).toBeGreaterThan(20);
  expect(bundled.filter((name) => !listed.has(name))).toEqual([]);
});

it('has every page that its own pages lead to', () => {
  const home = place.path('node_modules/pionero');
  for (const page of [
    'README.md',
    'CONTRIBUTING.md',
    'CHANGELOG.md',
    'SECURITY.md',
    'docs/checking.md',
    'docs/build-server.md',
    'docs/library.md',
  ]) {
    const text = readFileSync(join(home, page), 'utf8');
    for (const [, target = ''] of text.matchAll(/\]\((?!https?:|#)([^)#]+)/g))
      expect([page, target, existsSync(join(home, page, '..', target))]).toEqual([page, target, true]);
  }
}, 60_000);
