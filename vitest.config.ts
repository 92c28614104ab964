import { defineConfig } from 'vitest/config';

const resolve = { alias: { '@': new URL('./src', import.meta.url).pathname } };
const limits = { testTimeout: 120_000, hookTimeout: 120_000 };

/** Calculations, and pages in Chromium where nothing is timed: two files at a time. */
export default defineConfig({
  test: {
    maxWorkers: 2,
    globalSetup: ['tests/setup.ts'],
    projects: [
      {
        resolve,
        // What computes keeps nothing: its modules are read once, not for each file.
        test: { ...limits, name: 'core', include: ['src/core/**/*.test.ts'], isolate: false },
      },
      {
        resolve,
        test: {
          ...limits,
          name: 'rest',
          include: ['src/**/*.test.ts', 'tests/engine/**/*.test.ts'],
          exclude: ['src/core/**'],
          // Nothing here times anything: a busy machine must not make every run three.
          env: { WISTREL_REPEATS: '0' },
        },
      },
      {
        resolve,
        test: {
          ...limits,
          name: 'screens',
          include: ['tests/ui/**/*.test.tsx'],
        },
      },
    ],
  },
});
