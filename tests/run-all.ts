import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** ./wistrel test: lint, format, types, unit, engine and measuring tests, and the real interface; then one line of figures. */
const reports = mkdtempSync(join(tmpdir(), 'wistrel-reports-'));
let passed = 0;
let failed = 0;

function run(name: string, command: string, args: string[]): number {
  console.log(`\n── ${name}`);
  const { status } = spawnSync(join('node_modules', '.bin', command), args, {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return status ?? 1;
}

/** A tool that passes or fails as a whole. */
function check(name: string, command: string, args: string[]): void {
  if (run(name, command, args) === 0) passed++;
  else failed++;
}

/** A vitest run, counted test by test. */
function suite(name: string, args: string[]): void {
  const report = join(reports, `${name.replace(/\W+/g, '-')}.json`);
  const status = run(name, 'vitest', [
    'run',
    ...args,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ]);
  try {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, 'utf8')) as {
      numPassedTests: number;
      numFailedTests: number;
    };
    passed += numPassedTests;
    failed += numFailedTests;
    if (status !== 0 && numFailedTests === 0) failed++;
  } catch {
    failed++;
  }
}

check('Lint', 'eslint', ['.', '--max-warnings', '0']);
check('Format', 'prettier', ['--check', '.']);
check('Types', 'tsc', ['--noEmit']);
suite('Unit tests, and pages in Chromium', []);
suite('Measuring', ['--config', 'vitest.measuring.config.ts']);
suite('The real interface', ['--config', 'vitest.e2e.config.ts']);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
