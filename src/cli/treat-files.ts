import { accessSync, constants, mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { TreatedPage } from '../core/treat/apply.ts';
import { FileNames } from '../core/treat/file-names.ts';
import { Trouble } from '../engine/errors.ts';

const PAGE = 'page.html';
const CHANGES = 'changes.json';

/** One file that treating changes, or adds, as `changes.json` lists it. */
export interface ChangedFile {
  url: string;
  /** Path of the file below the folder. */
  file: string;
  contentType: string;
  change: 'changed' | 'new';
}

/** Makes the folder that is written into, before any work is done for it. @throws Trouble where that cannot be */
export function makeFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new Trouble(
      'input',
      `Nothing can be written into ${folder} (${why}). Nothing was measured or written; name another folder with --out.`,
    );
  }
}

/** Writes what a plan changes into a folder: one file each, and `changes.json` that says what each is. */
export function writeTreatedFiles(folder: string, documentUrl: string, treated: TreatedPage): ChangedFile[] {
  const names = new FileNames([PAGE, CHANGES]);
  const write = (file: string, bytes: Uint8Array | string): string => {
    const path = join(folder, file);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, bytes);
    return file;
  };
  const changes: ChangedFile[] = [
    {
      url: documentUrl,
      file: write(PAGE, treated.html),
      contentType: 'text/html',
      change: 'changed',
    },
    ...treated.files.map(({ url, mimeType, content, isNew }): ChangedFile => ({
      url,
      file: write(names.of(url), content),
      contentType: mimeType,
      change: isNew ? 'new' : 'changed',
    })),
  ];
  writeFileSync(join(folder, CHANGES), `${JSON.stringify(changes, null, 2)}\n`);
  return changes;
}
