import { diffArrays } from 'diff';

/** What a set of fold CSS was made from: its sheets, and the elements of the page down to its fold. */
export interface FoldFingerprint {
  sheets: { url: string; hash: string }[];
  /** Elements in document order down to the last one above the fold at any viewport (`structureOf`). */
  structure: string[];
}

/** The same of a newer capture; its structure is the whole page's. */
export type PageFingerprint = FoldFingerprint;

/** How many changed elements are told one by one. */
const MOST_TOLD = 4;

/**
 * What has changed since a set was made, in sentences; none when it still holds. Elements below the fold,
 * texts and other attributes than id and class do not make a set stale.
 */
export function changesSince(made: FoldFingerprint, now: PageFingerprint): string[] {
  const changes: string[] = [];
  const name = (url: string) => url.split('/').at(-1) || url;
  for (const sheet of made.sheets) {
    const other = now.sheets.find((one) => one.url === sheet.url);
    if (!other) changes.push(`The stylesheet ${name(sheet.url)} is gone.`);
    else if (other.hash !== sheet.hash) changes.push(`The stylesheet ${name(sheet.url)} has changed.`);
  }
  for (const sheet of now.sheets)
    if (!made.sheets.some((one) => one.url === sheet.url))
      changes.push(`The stylesheet ${name(sheet.url)} is new.`);
  changes.push(...structureChanges(made.structure, now.structure));
  return changes;
}

function structureChanges(before: readonly string[], whole: readonly string[]): string[] {
  if (before.every((element, index) => element === whole[index])) return [];
  // As many elements more as are needed to find those again that were pushed down by new ones.
  const after = whole.slice(0, before.length * 2 + 50);
  const told: string[] = [];
  let at = 0;
  for (const part of diffArrays([...before], [...after])) {
    // What was added after the last element of the old fold lies below it.
    if (part.added && at >= before.length) break;
    if (part.added) told.push(...part.value.map((element) => `New above the fold: ${bare(element)}.`));
    else if (part.removed)
      told.push(...part.value.map((element) => `No longer above the fold: ${bare(element)}.`));
    if (!part.added) at += part.value.length;
  }
  const more = told.length - MOST_TOLD;
  return more > 0 ? [...told.slice(0, MOST_TOLD), `And ${more} more elements changed.`] : told;
}

function bare(element: string): string {
  return element.replace(/^\d+ /, '');
}
