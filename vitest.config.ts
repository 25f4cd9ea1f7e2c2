import { defineConfig } from 'vitest/config';

/** They hold something to a time, and so have the machine for themselves. */
const MEASURED = ['tests/core/hostile.test.ts', 'tests/core/documents.test.ts', 'tests/cli/hostile-archives.test.ts'];

export default defineConfig({
  test: {
    // The files of a worker in one process, with the modules that are loaded already: nothing of ours is kept between tests.
    isolate: false,
    testTimeout: 60_000,
    hookTimeout: 60_000,
    reporters: ['default', './tests/support/skipped-reporter.ts'],
    coverage: { provider: 'v8', include: ['src/core/**'], reporter: ['text-summary'] },
    projects: [
      {
        extends: true,
        test: { name: 'tests', include: ['tests/**/*.test.ts'], exclude: MEASURED, maxWorkers: 2, sequence: { groupOrder: 0 } },
      },
      { extends: true, test: { name: 'measured', include: MEASURED, maxWorkers: 1, sequence: { groupOrder: 1 } } },
    ],
  },
});
