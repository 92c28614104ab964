import { surplus, type Outcome } from './outcome.ts';

/** The elements of a document at two of its moments, each "name|own text"; null for one that did not come. */
export interface PageMoments {
  /** DOMContentLoaded, once the page's own handlers have run. */
  ready: readonly string[] | null;
  /** The same of load. */
  load: readonly string[] | null;
}

const WHEN: Record<keyof PageMoments, string> = {
  ready: 'once the document is ready',
  load: 'once the page has loaded',
};
/** More of a moment are counted, not named. */
const MOST_NAMED = 3;

/** What is in a document only later than at one of its moments as authored, each "name|own text". */
export interface Late {
  moment: keyof PageMoments;
  elements: readonly string[];
}

/**
 * What is in the document at its moments as authored, and only later as treated: nothing is missing in the end, but
 * whoever looks has to wait for it.
 *
 * @param atRest the page as treated once it rests: what it lacks then is a fault, and told as that
 */
export function comesLater(authored: PageMoments, treated: PageMoments, atRest: Outcome): Late[] {
  const there = atRest.elements.map(({ name, text }) => `${name}|${text}`);
  return (['load', 'ready'] as const).flatMap((moment) => {
    const [before, after] = [authored[moment], treated[moment]];
    if (!before || !after) return [];
    const gone = new Set(surplus(before, there));
    const elements = surplus(before, after).filter((one) => !gone.has(one));
    return elements.length ? [{ moment, elements }] : [];
  });
}

/** The same of several devices, each element once, at the moment that it is missed longest; a sentence a moment. */
export function laterWords(found: readonly Late[]): string[] {
  const told = new Set<string>();
  return (['load', 'ready'] as const).flatMap((moment) => {
    const all = found.flatMap((one) => (one.moment === moment ? one.elements : []));
    const names = [...new Set(all)].filter((one) => !told.has(one)).map(named);
    for (const one of all) told.add(one);
    if (names.length === 0) return [];
    const more = names.length - MOST_NAMED;
    const some = names.slice(0, MOST_NAMED).join(', ') + (more > 0 ? ` and ${more} more` : '');
    return [`Later with the plan: ${some}. As authored, that is there ${WHEN[moment]}.`];
  });
}

function named(signed: string): string {
  const [name, text] = signed.split('|');
  return text ? `${name} “${text.slice(0, 40)}”` : name!;
}
