import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import type { TreatedPage } from '../core/treat/apply.ts';
import { makeFolder, writeTreatedFiles } from './treat-files.ts';

const treated = (urls: string[]): TreatedPage => ({
  html: new TextEncoder().encode('<p>Quay'),
  files: urls.map((url) => ({ url, mimeType: 'text/css', content: url, isNew: true })),
  changes: [],
  takenOut: [],
  nonces: [],
  notApplied: [],
});

it('writes the page and each file, and says what each is', () => {
  const folder = join(mkdtempSync(join(tmpdir(), 'wistrel-treat-')), 'out');
  const changes = writeTreatedFiles(folder, 'https://quay.test/', treated(['https://quay.test/a/own.css']));
  expect(changes).toEqual([
    { url: 'https://quay.test/', file: 'page.html', contentType: 'text/html', change: 'changed' },
    {
      url: 'https://quay.test/a/own.css',
      file: 'quay.test/a/own.css',
      contentType: 'text/css',
      change: 'new',
    },
  ]);
  expect(JSON.parse(readFileSync(join(folder, 'changes.json'), 'utf8'))).toEqual(changes);
  expect(readFileSync(join(folder, 'quay.test/a/own.css'), 'utf8')).toBe('https://quay.test/a/own.css');
});

it('refuses a folder that is a file, before anything is done for it', () => {
  const file = join(mkdtempSync(join(tmpdir(), 'wistrel-treat-')), 'out');
  writeFileSync(file, 'kept');
  expect(() => makeFolder(file)).toThrow(
    /^Nothing can be written into .*out \(EEXIST.*\)\. Nothing was measured or written; name another folder with --out\.$/,
  );
  expect(readFileSync(file, 'utf8')).toBe('kept');
});

it('never writes beside the folder, nor one file over another', () => {
  const above = mkdtempSync(join(tmpdir(), 'wistrel-treat-'));
  const changes = writeTreatedFiles(
    join(above, 'out'),
    'https://quay.test/',
    treated([
      'https://quay.test/%2e%2e/%2e%2e/up.css',
      'https://quay.test/a.css?v=1',
      'https://quay.test/a.css?v=2',
      'https://quay.test/..%5c..%5cup.css',
      'https://quay.test/%E0%A4%A',
    ]),
  );
  expect(readdirSync(above)).toEqual(['out']);
  expect(new Set(changes.map((one) => one.file)).size).toBe(6);
  expect(changes.every(({ file }) => !file.includes('..'))).toBe(true);
});
