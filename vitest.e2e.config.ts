import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['tests/e2e/**/*.test.ts'],
    testTimeout: 900_000,
    hookTimeout: 300_000,
    fileParallelism: false,
    // Nothing here times anything: a busy machine must not make every run three, nor a trial go on to twenty-four pairs.
    env: { WISTREL_REPEATS: '0', WISTREL_PAIRS: '6' },
  },
});
