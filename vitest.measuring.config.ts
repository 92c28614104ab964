import { defineConfig } from 'vitest/config';

/** Whole measurings, trials and rehearsals: one file at a time, with the machine to itself. */
export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['tests/measuring/**/*.test.ts'],
    testTimeout: 240_000,
    hookTimeout: 120_000,
    fileParallelism: false,
    // What is asserted holds on a busy machine too: it must not make every run three.
    env: { WISTREL_REPEATS: '0' },
  },
});
