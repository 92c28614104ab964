import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { deserialize, serialize } from 'node:v8';
import type { CapturedPage } from '../core/page/captured-page.ts';
import type { ScriptFacts } from '../core/scripts/analyse.ts';
import { programFile } from '../programs/program-file.ts';
import type { Queries } from '../store/database.ts';
import { keptFactsOf, type KeptFacts } from '../store/script-facts.ts';

/** Smaller scripts are read as soon as what was found in them. */
const LEAST_CHARACTERS = 10_000;

let program: string | null = null;

/** The program that reads scripts, by its bytes: of another one nothing is taken over. */
export function thisProgram(): string {
  return (program ??= hashOf(readFileSync(programFile('usecases/reader-thread.ts'))));
}

/** What was found before in the scripts of a capture. */
export function factsKept(queries: Queries, captureId: number): Promise<KeptFacts[]> {
  return keptFactsOf(queries, captureId, thisProgram());
}

/** The same by which the page asks for it: the kind of script, and its address. */
export function factsOfPage(page: CapturedPage, kept: readonly KeptFacts[]): Map<string, ScriptFacts> {
  const found = new Map<string, ScriptFacts>();
  for (const { url, bodyHash } of page.capture.exchanges) {
    for (const one of kept) {
      if (one.bodyHash !== bodyHash || page.exchange(url)?.bodyHash !== bodyHash) continue;
      const text = page.text(url);
      if (text !== null && hashOf(text) === one.textHash)
        found.set(`${one.kind} ${url}`, deserialize(one.data) as ScriptFacts);
    }
  }
  return found;
}

/** What was read in a page's longer scripts, as it is kept. */
export function factsToKeep(page: CapturedPage): KeptFacts[] {
  return [...page.factsRead].flatMap(([key, one]): KeptFacts[] => {
    const [, kind, url] = /^(script|module) (https?:.*)$/s.exec(key) ?? [];
    const bodyHash = url && page.exchange(url)?.bodyHash;
    const text = bodyHash ? page.text(url) : null;
    if (!kind || !bodyHash || text === null || text.length < LEAST_CHARACTERS) return [];
    return [{ bodyHash, kind: kind as KeptFacts['kind'], textHash: hashOf(text), data: serialize(one) }];
  });
}

function hashOf(content: string | Uint8Array): string {
  return createHash('sha256').update(content).digest('hex');
}
