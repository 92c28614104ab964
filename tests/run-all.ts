import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';

/** ./wistrel test: build, lint, format, types, unit, engine and measuring tests, and the real interface; then one line of figures. */
const reports = mkdtempSync(join(tmpdir(), 'wistrel-reports-'));
let passed = 0;
/** What failed, by name and first line: said at the end, where it is read. */
const failures: string[] = [];

/** What we read of the report of a vitest run. */
interface Report {
  numPassedTests: number;
  testResults: {
    name: string;
    status: string;
    message: string;
    assertionResults: { fullName: string; status: string; failureMessages: string[] }[];
  }[];
}

/** Runs a tool. @param quietly keeps what it says until it has ended, so that two may run at a time */
function run(name: string, command: string, args: string[], quietly: boolean): Promise<number> {
  return new Promise((resolve) => {
    if (!quietly) console.log(`\n── ${name}`);
    const program = command.startsWith('./') ? command : join('node_modules', '.bin', command);
    const child = spawn(program, args, {
      stdio: ['ignore', quietly ? 'pipe' : 'inherit', quietly ? 'pipe' : 'inherit'],
    });
    let said = '';
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.on('close', (code) => {
      if (quietly) console.log(`\n── ${name}\n${said}`.trimEnd());
      resolve(code ?? 1);
    });
  });
}

/** A tool that passes or fails as a whole. */
async function check(name: string, command: string, args: string[]): Promise<void> {
  if ((await run(name, command, args, true)) === 0) passed++;
  else failures.push(name);
}

/** A vitest run, counted test by test. */
async function suite(name: string, args: string[]): Promise<void> {
  const report = join(reports, `${name.replace(/\W+/g, '-')}.json`);
  const all = ['run', ...args, '--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const status = await run(name, 'vitest', all, false);
  try {
    const { numPassedTests, testResults } = JSON.parse(readFileSync(report, 'utf8')) as Report;
    passed += numPassedTests;
    const found = testResults.flatMap((file) => {
      const of = `${name}, ${relative(process.cwd(), file.name)}`;
      const tests = file.assertionResults.filter((test) => test.status === 'failed');
      // A file that could not be read or set up fails without a test of its own.
      if (file.status === 'failed' && tests.length === 0) return [`${of}: ${firstLine(file.message)}`];
      return tests.map((test) => `${of} > ${test.fullName}: ${firstLine(test.failureMessages[0])}`);
    });
    failures.push(...found);
    if (status !== 0 && found.length === 0) failures.push(`${name}: ended with ${status}`);
  } catch {
    failures.push(`${name}: no report`);
  }
}

const firstLine = (text = '') => stripVTControlCharacters(text).trim().split('\n', 1)[0]!;

await Promise.all([
  // The build writes types of the application's addresses, which are checked with the others.
  check('Build', './wistrel', ['build']).then(() => check('Types', 'tsc', ['--noEmit'])),
  check('Lint', 'eslint', ['.', '--max-warnings', '0'])
    .then(() => check('Format', 'prettier', ['--check', '.']))
    .then(() => check('No imports in a circle', 'tsx', ['tests/lint/import-circles.ts']))
    .then(() => check('Nothing heavy on the wire', 'tsx', ['tests/lint/on-the-wire.ts'])),
]);
await suite('Unit tests, and pages in Chromium', []);
const measuring = ['--config', 'vitest.measuring.config.ts'];
const twoAtATime = ['--fileParallelism', '--maxWorkers=2'];
/** What holds the clock to account needs the machine to itself. */
const ALONE = ['bottleneck', 'replay', 'templates'];
await suite('Measuring, alone', [...measuring, ...ALONE]);
await suite('Measuring, two at a time', [
  ...measuring,
  ...twoAtATime,
  ...ALONE.flatMap((name) => ['--exclude', `tests/measuring/${name}.test.ts`]),
]);
// Nothing in these is claimed of time; those that start the demo wait for each other.
await suite('The real interface, survival, and the command line', [
  '--config',
  'vitest.e2e.config.ts',
  ...twoAtATime,
]);
if (failures.length > 0) console.log(`\n── Failed\n${failures.join('\n')}`);
console.log(`\n${passed} passed, ${failures.length} failed`);
process.exit(failures.length === 0 ? 0 : 1);
