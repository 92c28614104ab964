import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { programFile } from '../src/programs/program-file.ts';
import { MADE } from './data-folders.ts';

/** Makes the programs of the sources as they are, before any test starts one, and a place for data that tests share. */
export default function setup(): () => void {
  programFile('engine/jobs/job-process.ts');
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-test-data-'));
  process.env[MADE] = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}
