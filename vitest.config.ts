import { existsSync, readFileSync, statfsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { defineConfig, type Plugin } from 'vitest/config';

/** Most of what tests do is to write files that go at once: in memory, where there is a place for 2 GiB from which programs can be started. */
function temporaryFolder(): string {
  const place = '/dev/shm';
  const mount = existsSync('/proc/mounts') ? /^\S+ \/dev\/shm \S+ (\S+)/m.exec(readFileSync('/proc/mounts', 'utf8'))?.[1] : undefined;
  if (process.env['TMPDIR'] !== undefined || mount === undefined || mount.split(',').includes('noexec')) return tmpdir();
  const { bavail, bsize } = statfsSync(place);
  return bavail * bsize > 2 ** 31 ? place : tmpdir();
}

/** They hold something to a time, or read texts of megabytes, and so have the machine for themselves. */
const MEASURED = [
  'tests/core/hostile.test.ts',
  'tests/core/text.test.ts',
  'tests/core/documents.test.ts',
  'tests/cli/hostile-archives.test.ts',
];

const ENGINE = process.platform === 'win32' ? [] : ['--max-semi-space-size=64'];

const BUILT_CORE = join(import.meta.dirname, 'dist/core.cjs');
const CORE = join(import.meta.dirname, 'src/core');

/**
 * With PIONERO_BUILT=1, as in `npm test`, tests take the modules of the core from what the bundler made of them: that is what people run. `vitest
 * run` alone tests the sources, so that a change is seen at once.
 */
const builtCore: Plugin = {
  name: 'built-core',
  enforce: 'pre',
  resolveId(source, importer) {
    if (process.env['PIONERO_BUILT'] !== '1' || importer === undefined || !source.startsWith('.') || importer.startsWith(CORE)) return;
    const path = resolve(dirname(importer), source);
    return path.startsWith(CORE + sep) && path.endsWith('.ts') ? `\0built-core:${relative(CORE, path).replaceAll(sep, '/')}` : undefined;
  },
  load(id) {
    if (!id.startsWith('\0built-core:')) return;
    const file = JSON.stringify(id.slice('\0built-core:'.length));
    const modules = createRequire(import.meta.url)(BUILT_CORE) as Record<string, object>;
    const names = Object.keys(modules[JSON.parse(file) as string] ?? {});
    const taken = names.map((name) => `export const ${name} = module_[${JSON.stringify(name)}];`);
    return [
      `import { createRequire } from 'node:module';`,
      `const module_ = createRequire(${JSON.stringify(BUILT_CORE)})(${JSON.stringify(BUILT_CORE)})[${file}];`,
      ...taken,
    ].join('\n');
  },
};

export default defineConfig(({ mode }) => {
  // For the workers, too.
  if (mode === 'built') process.env['PIONERO_BUILT'] = '1';
  return {
    plugins: [builtCore],
    test: {
      // The files of a worker in one process, with the modules that are loaded already: nothing of ours is kept between tests.
      isolate: false,
      // Most of what tests make is gone at once.
      execArgv: ENGINE,
      globalSetup: './tests/support/compiled-once.ts',
      testTimeout: 60_000,
      hookTimeout: 60_000,
      // Nothing asks a server far away: without the certificates of this machine each process starts in half the time.
      env: { TMPDIR: temporaryFolder(), NODE_EXTRA_CA_CERTS: '' },
      reporters: ['default', './tests/support/skipped-reporter.ts'],
      coverage: { provider: 'v8', include: ['src/core/**'], reporter: ['text-summary'] },
      projects: [
        {
          extends: true,
          test: {
            name: 'tests',
            include: ['tests/**/*.test.ts'],
            exclude: [...MEASURED, ...(process.platform === 'win32' ? [] : ['tests/windows/**'])],
            maxWorkers: 2,
            // Little of the code that they run gets hot enough to be worth optimising (the engine of Node.js 20 has a word for that).
            execArgv: [...ENGINE, ...(ENGINE.length > 0 && process.versions.v8.startsWith('11.') ? ['--interrupt-budget=450000'] : [])],
            sequence: { groupOrder: 0 },
          },
        },
        { extends: true, test: { name: 'measured', include: MEASURED, maxWorkers: 1, sequence: { groupOrder: 1 } } },
      ],
    },
  };
});
