import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { seedDatabase } from '../../src/demo/seed-database.ts';
import { openDatabase } from '../../src/store/database.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** A data folder that holds the demo, to be copied. */
    seededData: string;
  }
}

/** Seeds the demo once, for all files of screens. */
export default async function seeded(project: TestProject): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-seeded-'));
  const database = await openDatabase(folder, 'tests of screens');
  await seedDatabase(database, 'https://www.skerravane.localhost:9443', 'x'.repeat(43) + '=');
  await database.close();
  project.provide('seededData', folder);
  return () => rmSync(folder, { recursive: true, force: true });
}
