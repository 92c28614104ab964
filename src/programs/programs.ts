import { mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { buildSync, type BuildOptions, type OutputFile } from 'esbuild';

/** What runs apart from the application, seen from src/: the commands, the engine's processes, worker threads. */
const IN_NODE = [
  'cli/main.ts',
  'cli/start.ts',
  'cli/backup.ts',
  'demo/run-demo.ts',
  'engine/jobs/job-process.ts',
  'engine/preview/preview-process.ts',
  'engine/replay/replay-process.ts',
  'store/database-thread.ts',
  'usecases/reader-thread.ts',
];
/** What is put into captured pages: each an expression whose value holds its exports. */
const IN_PAGES = ['in-page/index.ts', 'in-page/own-world/clock.ts', 'in-page/own-world/recorder.ts'];

/** Packages with code of the machine's own, or that read files beside themselves. */
const APART = ['@electric-sql/pglite', 'esbuild', 'lightningcss', 'piscina', 'sharp', 'fontverter'];

/** Packages that were written for `require` find it. */
const REQUIRE =
  "import { createRequire as wistrelRequire } from 'node:module'; const require = wistrelRequire(import.meta.url);";

/** A program that has been running for longer than this has read all of its parts. */
const KEPT_MS = 24 * 3_600_000;

/**
 * Makes the programs of their TypeScript source, so that none reads and translates hundreds of files when it starts:
 * that takes longer than most of what they do. What runs meanwhile is not disturbed.
 *
 * @param root the project's folder
 * @param folder where to, below it
 */
export function makePrograms(root: string, folder: string): void {
  const common: BuildOptions = {
    outdir: folder,
    outbase: join(root, 'src'),
    absWorkingDir: root,
    bundle: true,
    logLevel: 'error',
  };
  const source = (file: string) => join(root, 'src', file);
  const inNode = buildSync({
    ...common,
    write: false,
    entryPoints: IN_NODE.map(source),
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    external: APART,
    // Its other build reads files beside itself.
    alias: { 'css-tree': join(root, 'node_modules', 'css-tree', 'dist', 'csstree.esm.js') },
    chunkNames: 'parts/[name]-[hash]',
    banner: { js: REQUIRE },
  });
  const inPages = buildSync({
    ...common,
    write: false,
    entryPoints: IN_PAGES.map(source),
    minify: true,
    format: 'iife',
    globalName: 'exported',
    target: 'chrome110',
    charset: 'ascii',
    banner: { js: '(() => {' },
    footer: { js: 'return exported; })()' },
  });
  // Parts before those that name them.
  const made = [...inPages.outputFiles, ...inNode.outputFiles].sort((a, b) => partsFirst(a) - partsFirst(b));
  for (const { path, contents } of made) replace(path, contents);
  sweep(join(folder, 'parts'), new Set(made.map(({ path }) => basename(path))));
}

const partsFirst = ({ path }: OutputFile) => (basename(dirname(path)) === 'parts' ? 0 : 1);

/** Another process may be starting on the file that is there. */
function replace(path: string, contents: Uint8Array): void {
  mkdirSync(dirname(path), { recursive: true });
  const own = `${path}.${process.pid}`;
  writeFileSync(own, contents);
  renameSync(own, path);
}

function sweep(folder: string, kept: ReadonlySet<string>): void {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (!kept.has(name) && Date.now() - statSync(path).mtimeMs > KEPT_MS) rmSync(path, { force: true });
  }
}
