import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['tests/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    coverage: { provider: 'v8', include: ['src/core/**'], reporter: ['text-summary'] },
  },
});
