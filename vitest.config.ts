import { defineConfig } from 'vitest/config';

/** Calculations, and pages in Chromium where nothing is timed: two files at a time. */
export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['src/**/*.test.ts', 'tests/engine/**/*.test.ts', 'tests/ui/**/*.test.tsx'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
    // Nothing here times anything: a busy machine must not make every run three.
    env: { WISTREL_REPEATS: '0' },
  },
});
