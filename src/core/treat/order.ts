import type { PageScript } from '../page/page-assets.ts';
import type { Phase } from '../scripts/phases.ts';

/** When a script runs. */
export type Moment =
  /** Where it stands, while the page is parsed. */
  | 'place'
  /** After parsing, in the order of the document (HTML, "list of scripts that will execute when the document has finished parsing"). */
  | 'parsed'
  /** As soon as it has arrived, whatever is going on then. */
  | 'any'
  /** After the page is parsed, in the order of the document: at an interaction or later. */
  | 'later'
  | 'never';

/** A part of a script with the moment that the script runs at. */
export interface Turn {
  script: PageScript;
  moment: Moment;
  /** Of one that runs later, the treatment by which it waits: what each of them waits for comes in any order. */
  waitsBy: string | null;
  phase: Phase;
}

/** When a script runs as authored. */
export function authoredMoment({ element: { url, module, async, defer } }: PageScript): Moment {
  if (async) return 'any';
  if (module || (defer && url !== null)) return 'parsed';
  return 'place';
}

/** Steps of a load, in their order: while parsing, parsed, DOMContentLoaded and load, after that. */
interface Span {
  from: number;
  to: number;
}

const PLACE = 0;
const PARSED = 1;
const READY = 2;
const LATER = 3;
const EVER = Infinity;

/** Whether one part of a script always runs before a part of another one; null where that is not known. */
export function runsBefore(a: Turn, b: Turn): boolean | null {
  if (a.moment === 'never' || b.moment === 'never') return null;
  if (a.moment === 'later' && b.moment === 'later' && a.waitsBy !== b.waitsBy) return null;
  const [here, there] = [spanOf(a), spanOf(b)];
  if (here.to < there.from) return true;
  if (there.to < here.from) return false;
  const first = a.script.element.element.start < b.script.element.element.start;
  const points = here.from === here.to && there.from === there.to;
  // Listeners are called in the order in which they were set.
  if (points && here.from === READY && a.moment !== b.moment)
    return beginOf(a.moment) < beginOf(b.moment) ? true : false;
  if (points) return first;
  // What stands before another and holds the parser has run before that is even reached.
  if (isPoint(here) && here.from <= there.from && first) return true;
  if (isPoint(there) && there.from <= here.from && !first) return false;
  return null;
}

const isPoint = ({ from, to }: Span) => from === to;

function beginOf(moment: Moment): number {
  if (moment === 'parsed') return PARSED;
  return moment === 'later' ? LATER : PLACE;
}

function spanOf({ moment, phase }: Turn): Span {
  const from = beginOf(moment);
  switch (phase) {
    case 'run':
    case 'perhaps':
      return { from, to: moment === 'any' ? EVER : from };
    case 'ready':
      if (moment === 'any') return { from, to: EVER };
      return moment === 'later' ? { from, to: from } : { from: READY, to: READY };
    case 'soon':
      return { from, to: EVER };
    case 'input':
    case 'called':
      // A visitor does something once there is something to see.
      return { from: Math.max(from, READY), to: EVER };
  }
}
