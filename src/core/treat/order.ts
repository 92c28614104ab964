import type { PageAssets, PageScript } from '../page/page-assets.ts';

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

/** A script with the moment it runs at. */
export interface Turn {
  script: PageScript;
  moment: Moment;
}

/** When a script runs as authored. */
export function authoredMoment({ element: { url, module, async, defer } }: PageScript): Moment {
  if (async) return 'any';
  if (module || (defer && url !== null)) return 'parsed';
  return 'place';
}

/** Whether one script always runs before another; null where that is not known. */
export function runsBefore(a: Turn, b: Turn): boolean | null {
  if (a.moment === 'never' || b.moment === 'never') return null;
  const first = a.script.element.element.start < b.script.element.element.start;
  if (a.moment === 'any' || b.moment === 'any') {
    // What stands before an async script and holds the parser has run before that is even asked for.
    if (a.moment === 'place') return first ? true : null;
    if (b.moment === 'place') return first ? null : false;
    return null;
  }
  const [here, there] = [TURN[a.moment], TURN[b.moment]];
  return here === there ? first : here < there;
}

const TURN = { place: 0, parsed: 1, later: 2 };

/** A script that reads what another one defines. */
export interface Dependency {
  writer: PageScript;
  reader: PageScript;
  name: string;
  /** Line of the reader's text. */
  line: number;
}

const known = new WeakMap<PageAssets, readonly Dependency[]>();

/** Which scripts of a page read what others define. */
export function dependenciesOf(page: PageAssets): readonly Dependency[] {
  let found = known.get(page);
  if (!found) known.set(page, (found = findDependencies(page)));
  return found;
}

function findDependencies({ scripts }: PageAssets): Dependency[] {
  const writers = new Map<string, PageScript[]>();
  for (const script of scripts)
    for (const name of script.facts.defines) writers.set(name, [...(writers.get(name) ?? []), script]);
  return scripts.flatMap((reader) =>
    reader.facts.reads.flatMap(({ name, line }) =>
      (writers.get(name) ?? [])
        .filter((writer) => writer !== reader)
        .map((writer) => ({ writer, reader, name, line })),
    ),
  );
}
