import { defineConfig } from 'vitest/config';
import { LongestFirst } from './tests/longest-first.ts';

/** Whole measurings, trials and rehearsals: one file at a time, unless it is said that several may run. */
export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['tests/measuring/**/*.test.ts'],
    globalSetup: ['tests/setup.ts'],
    testTimeout: 240_000,
    hookTimeout: 120_000,
    fileParallelism: false,
    sequence: { sequencer: LongestFirst },
    // What is asserted holds on a busy machine too: it must not make every run three.
    env: { WISTREL_REPEATS: '0' },
  },
});
