import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['src/**/*.test.ts', 'tests/engine/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    fileParallelism: false,
    // Nothing here times anything: a busy machine must not make every run three.
    env: { WISTREL_REPEATS: '0' },
  },
});
