import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['tests/**/*.test.ts'],
    // Every file in the same process, with the modules that are loaded already: nothing of ours is kept between tests.
    isolate: false,
    testTimeout: 60_000,
    hookTimeout: 60_000,
    coverage: { provider: 'v8', include: ['src/core/**'], reporter: ['text-summary'] },
  },
});
