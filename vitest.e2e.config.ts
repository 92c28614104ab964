import { defineConfig } from 'vitest/config';
import { LongestFirst } from './tests/longest-first.ts';

export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['tests/e2e/**/*.test.ts'],
    globalSetup: ['tests/setup.ts'],
    testTimeout: 900_000,
    // Demos wait for each other: they have one site, at one address.
    hookTimeout: 1_200_000,
    fileParallelism: false,
    sequence: { sequencer: LongestFirst },
    // Nothing here times anything: a busy machine must not make every run three, nor a trial go on to twenty-four pairs.
    env: { WISTREL_REPEATS: '0', WISTREL_PAIRS: '6' },
  },
});
