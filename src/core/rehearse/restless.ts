import type { Outcome, SeenElement } from './outcome.ts';

/**
 * What a page changes by itself on elements of one sort while nobody does anything: the turn of a slide show, a clock.
 * In which state it is looked at is chance, so that what changes is left out, wherever an element of the sort stands.
 */
export interface Restless {
  /** The name of the element, with its id where it has no class that stays. */
  tag: string;
  id: string | null;
  /** The classes that stay, in order. */
  classes: string;
  /** The classes that come and go. */
  turns: ReadonlySet<string>;
  /** Names of the attributes that change. */
  attributes: ReadonlySet<string>;
  text: boolean;
  /** It, or something in it, is shown elsewhere then, or not at all. */
  moves: boolean;
}

/** An area of a page, CSS px from its top left. */
export interface RestlessArea {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Where what moves by itself is: at any moment elsewhere. */
const ANYWHERE = [0, 0, 0, 0] as const;

/** What changed between two looks at one load; nothing where elements came or went, as they cannot be told apart then. */
export function restlessIn(one: Outcome, other: Outcome): Restless[] {
  const [first, later] = [one.elements, other.elements];
  const twins = first.every(({ depth, name }, at) => {
    const twin = later[at];
    return twin !== undefined && depth === twin.depth && tagOf(name) === tagOf(twin.name);
  });
  if (!twins || first.length !== later.length) return [];
  const found = new Map<string, Restless>();
  first.forEach((before, at) => {
    const after = later[at]!;
    const change = changeOf(before, after);
    if (!change) return;
    const key = `${change.tag}#${change.id} ${change.classes}`;
    const known = found.get(key);
    const moves = isShownElsewhere(first, later, at);
    found.set(key, known ? both(known, { ...change, moves }) : { ...change, moves });
  });
  return [...found.values()];
}

function changeOf(before: SeenElement, after: SeenElement): Restless | null {
  const [was, is] = [classesOf(before), classesOf(after)];
  const turns = new Set([
    ...was.filter((one) => !is.includes(one)),
    ...is.filter((one) => !was.includes(one)),
  ]);
  const [old, now] = [before, after].map((one) =>
    one.attributes.filter((each) => !each.startsWith('class=')),
  );
  const unlike = [
    ...old!.filter((each) => !now!.includes(each)),
    ...now!.filter((each) => !old!.includes(each)),
  ];
  const attributes = new Set(unlike.map((each) => each.split('=')[0]!));
  const text = before.text !== after.text;
  if (turns.size + attributes.size === 0 && !text) return null;
  const classes = was.filter((one) => !turns.has(one)).join(' ');
  // Without a class that stays, its id is all that tells it from others of its name.
  const id = classes === '' ? idOf(before) : null;
  return { tag: tagOf(before.name), id, classes, turns, attributes, text, moves: false };
}

/** Whether something of an element, itself or within it, has another box. */
function isShownElsewhere(first: readonly SeenElement[], later: readonly SeenElement[], at: number): boolean {
  for (let within = at; within < first.length; within++) {
    if (within > at && first[within]!.depth <= first[at]!.depth) return false;
    if (String(first[within]!.box) !== String(later[within]!.box)) return true;
  }
  return false;
}

function both(one: Restless, other: Restless): Restless {
  return {
    ...one,
    turns: new Set([...one.turns, ...other.turns]),
    attributes: new Set([...one.attributes, ...other.attributes]),
    text: one.text || other.text,
    moves: one.moves || other.moves,
  };
}

/** "div.slide", "time#clock". */
export function nameOfSort({ tag, id, classes }: Restless): string {
  return tag + (id ? `#${id}` : classes && `.${classes.split(' ')[0]}`);
}

/** An outcome without what changes by itself; what moves with it is shown anywhere. */
export function steadied(outcome: Outcome, all: readonly Restless[]): Outcome {
  if (all.length === 0) return outcome;
  const parts = inside(outcome.elements, all);
  const named = namesIn(
    outcome.elements,
    parts.map(({ around }) => around.length > 0),
  );
  return {
    ...outcome,
    elements: parts.map(({ element, sort, around }) => {
      const steady = sort ? without(element, sort) : element;
      return [sort, ...around].some((one) => one?.moves) ? { ...steady, box: ANYWHERE } : steady;
    }),
    // Whatever slide is shown is the one that is told.
    roles: outcome.roles.filter((role) => !named.has(wordsOf(/“(.*)”/s.exec(role)?.[1] ?? ''))),
  };
}

/** Attributes that give an element the name that is told of it. */
const NAMING = /^(?:aria-label|alt|title)=(.+)$/s;

/** What may be told of elements in restless parts of the page: their texts with all that stands in them, and their names. */
function namesIn(elements: readonly SeenElement[], restless: readonly boolean[]): Set<string> {
  const found = new Set<string>();
  elements.forEach(({ attributes }, at) => {
    if (!restless[at]) return;
    const within = elements.slice(at, at + sizeOf(elements, at));
    const texts = [
      within.map(({ text }) => text).join(' '),
      ...attributes.map((one) => NAMING.exec(one)?.[1] ?? ''),
    ];
    for (const text of texts) if (wordsOf(text)) found.add(wordsOf(text));
  });
  return found;
}

/** An element's own text is told before, between or behind those of what stands in it: by its words alone. */
const wordsOf = (text: string): string => text.split(/\s+/).filter(Boolean).sort().join(' ');

/** Where the restless parts of a page are shown; the page as a whole is none of them. */
export function restlessAreas(outcome: Outcome, all: readonly Restless[]): RestlessArea[] {
  if (all.length === 0) return [];
  return inside(outcome.elements, all).flatMap(({ element: { box }, around }) => {
    if (!box || around.length === 0) return [];
    const [left, top, width, height] = box;
    return width * height ? [{ left, top, width, height }] : [];
  });
}

/** What holds more of the page's elements than this is the page: what stands in it is held to its place all the same. */
const MOST_OF_A_PAGE = 0.5;

/** Each element with the restless sort that it is of, and those that it is, or stands in. */
function inside(
  elements: readonly SeenElement[],
  all: readonly Restless[],
): { element: SeenElement; sort: Restless | null; around: Restless[] }[] {
  const open: { depth: number; sort: Restless }[] = [];
  return elements.map((element, at) => {
    while (open.length && open.at(-1)!.depth >= element.depth) open.pop();
    const sort = all.find((one) => isOfSort(element, one)) ?? null;
    if (sort && sizeOf(elements, at) <= elements.length * MOST_OF_A_PAGE)
      open.push({ depth: element.depth, sort });
    return { element, sort, around: open.map((one) => one.sort) };
  });
}

/** How many elements stand in one, itself among them. */
function sizeOf(elements: readonly SeenElement[], at: number): number {
  const end = elements.findIndex((one, within) => within > at && one.depth <= elements[at]!.depth);
  return (end < 0 ? elements.length : end) - at;
}

function isOfSort(element: SeenElement, { tag, id, classes, turns }: Restless): boolean {
  if (tagOf(element.name) !== tag || (id !== null && idOf(element) !== id)) return false;
  const stay = classesOf(element).filter((one) => !turns.has(one));
  return stay.join(' ') === classes;
}

function without(element: SeenElement, { tag, turns, attributes, text }: Restless): SeenElement {
  const stay = classesOf(element).filter((one) => !turns.has(one));
  const id = idOf(element);
  return {
    ...element,
    name: tag + (id ? `#${id}` : stay[0] ? `.${stay[0]}` : ''),
    attributes: [
      ...(stay.length ? [`class=${stay.join(' ')}`] : []),
      ...element.attributes.filter((one) => !one.startsWith('class=') && !attributes.has(one.split('=')[0]!)),
    ],
    text: text ? '' : element.text,
  };
}

const tagOf = (name: string): string => /^[^.#]*/.exec(name)![0];

function classesOf({ attributes }: SeenElement): string[] {
  const [value = ''] = attributes.flatMap((one) => (one.startsWith('class=') ? [one.slice(6)] : []));
  return value.split(/\s+/).filter(Boolean).sort();
}

function idOf({ attributes }: SeenElement): string | null {
  return attributes.find((one) => one.startsWith('id='))?.slice(3) ?? null;
}
