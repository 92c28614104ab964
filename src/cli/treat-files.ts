import { accessSync, constants, mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { TreatedPage } from '../core/treat/apply.ts';
import { Trouble } from '../engine/errors.ts';

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
  const taken = new Set(['changes.json']);
  const write = (name: string, bytes: Uint8Array | string): string => {
    const file = freeName(name, taken);
    const path = join(folder, file);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, bytes);
    return file;
  };
  const changes: ChangedFile[] = [
    {
      url: documentUrl,
      file: write('page.html', treated.html),
      contentType: 'text/html',
      change: 'changed',
    },
    ...treated.files.map(({ url, mimeType, text, isNew }): ChangedFile => ({
      url,
      file: write(nameOf(url), text),
      contentType: mimeType,
      change: isNew ? 'new' : 'changed',
    })),
  ];
  writeFileSync(join(folder, 'changes.json'), `${JSON.stringify(changes, null, 2)}\n`);
  return changes;
}

/** A path below the folder, from an address: no part of it leads out. */
function nameOf(url: string): string {
  const { hostname, pathname } = new URL(url);
  const parts = decodeURIComponentSafely(pathname)
    .split(/[/\\]/)
    .map((part) => part.replace(/[^\w.-]+/g, '-'))
    .filter((part) => part !== '' && !/^\.+$/.test(part));
  return [hostname.replace(/[^\w.-]+/g, '-'), ...(parts.length ? parts : ['index'])].join('/');
}

function decodeURIComponentSafely(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Files that differ in their query alone have one name otherwise. */
function freeName(name: string, taken: Set<string>): string {
  let free = name;
  for (let number = 2; taken.has(free.toLowerCase()); number++)
    free = name.replace(/(\.[^./]*)?$/, `-${number}$1`);
  taken.add(free.toLowerCase());
  return free;
}
