import { defineConfig } from 'vitest/config';

/** Whole measurings and trials: one at a time, with the machine to themselves. */
export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['tests/measuring/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    fileParallelism: false,
    // What is asserted holds on a busy machine too: it must not make every run three.
    env: { WISTREL_REPEATS: '0' },
  },
});
