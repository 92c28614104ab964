/** An element as it stands once a page rests. */
export interface SeenElement {
  /** "button.menu-button". */
  name: string;
  /** How deep it stands in the document. */
  depth: number;
  /** All its attributes, each "name=value", in the order of their names. */
  attributes: readonly string[];
  /** Its own text. */
  text: string;
  /** Left, top, width, height, CSS px; null where it is not laid out. */
  box: readonly [number, number, number, number] | null;
}

/** What a page has become once it rests. */
export interface Outcome {
  elements: readonly SeenElement[];
  /** Names of the global object that scripts have made. */
  globals: readonly string[];
  /** Errors of scripts, each without address and line. */
  errors: readonly string[];
  /** "GET https://…", each once. */
  requests: readonly string[];
  /** What else it is: its title, where the focus is, what its fields hold; each as the end of a sentence. */
  facts: readonly string[];
  /** What is told to those who do not see it: "button “Menu”". Empty where that was not asked. */
  roles: readonly string[];
}

/** In what a page as treated is not what it is as authored. */
export interface Difference {
  what: 'error' | 'global' | 'element' | 'box' | 'fact' | 'role' | 'request' | 'picture' | 'own check';
  /** As the end of a sentence that begins with "the page as treated". */
  words: string;
}

/** What is not the same twice in the page as authored, and is held against nothing. */
export interface Mask {
  elements: ReadonlySet<string>;
  boxes: ReadonlySet<string>;
  globals: ReadonlySet<string>;
  errors: ReadonlySet<string>;
  requests: ReadonlySet<string>;
  facts: ReadonlySet<string>;
  roles: ReadonlySet<string>;
  /** Elements ("name|text") whose attributes depend on the order of arrival, as authored. */
  loose: ReadonlySet<string>;
}

export const NO_MASK: Mask = {
  elements: new Set(),
  boxes: new Set(),
  globals: new Set(),
  errors: new Set(),
  requests: new Set(),
  facts: new Set(),
  roles: new Set(),
  loose: new Set(),
};

/** Layout is rounded differently from load to load, CSS px. */
const BOX_TOLERANCE = 2;
/** More of one sort are not told. */
const MOST_TOLD = 3;

/** An element by all that is seen of it but its place. */
export function signature({ name, attributes, text }: SeenElement, loose?: ReadonlySet<string>): string {
  return `${name}|${loose?.has(`${name}|${text}`) ? '' : attributes.join(' ')}|${text}`;
}

/** What two loads of the page as authored disagree in. */
export function maskOf(one: Outcome, other: Outcome): Mask {
  const elements = [one, other].map((outcome) => outcome.elements.map((one) => signature(one)));
  const unlike = new Set([...surplus(elements[0]!, elements[1]!), ...surplus(elements[1]!, elements[0]!)]);
  return {
    elements: unlike,
    boxes: new Set(movedIn(one.elements, other.elements, (each) => signature(each))),
    globals: unlikeIn(one.globals, other.globals),
    errors: unlikeIn(one.errors, other.errors),
    requests: unlikeIn(one.requests, other.requests),
    facts: unlikeIn(one.facts, other.facts),
    roles: unlikeIn(one.roles, other.roles),
    // What has another value each time has yet another the next time.
    loose: looseIn(one, other),
  };
}

/** Both masks in one. */
export function joined(one: Mask, other: Mask): Mask {
  const both = (key: keyof Mask) => new Set([...one[key], ...other[key]]);
  return {
    elements: both('elements'),
    boxes: both('boxes'),
    globals: both('globals'),
    errors: both('errors'),
    requests: both('requests'),
    facts: both('facts'),
    roles: both('roles'),
    loose: both('loose'),
  };
}

/** Elements that two outcomes both have, with other attributes. */
function looseIn(one: Outcome, other: Outcome): Set<string> {
  const signed = ({ elements }: Outcome) => elements.map((each) => signature(each));
  const added = new Set(surplus(signed(other), signed(one)).map(bare));
  return new Set(
    surplus(signed(one), signed(other))
      .map(bare)
      .filter((each) => added.has(each)),
  );
}

/**
 * A mask with what depends on the order of arrival as authored: scripts that race each other. Only attributes are
 * let go that way: what is lost in one order must not be lost in another.
 */
export function withRaces(mask: Mask, recorded: Outcome, others: readonly Outcome[]): Mask {
  const loose = new Set([...mask.loose, ...others.flatMap((other) => [...looseIn(recorded, other)])]);
  return { ...mask, loose };
}

function bare(signed: string): string {
  const [name, , ...text] = signed.split('|');
  return `${name}|${text.join('|')}`;
}

/** In what a page as treated is not what one as authored became. */
export function differencesBetween(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  return [
    ...errorsIn(authored, treated, mask),
    ...globalsIn(authored, treated, mask),
    ...elementsIn(authored, treated, mask),
    ...factsIn(authored, treated, mask),
    ...rolesIn(authored, treated, mask),
    ...requestsIn(authored, treated, mask),
  ];
}

function errorsIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const added = [...new Set(treated.errors)].filter(
    (one) => !authored.errors.includes(one) && !mask.errors.has(one),
  );
  return told(added, 'error', (one) => `has an error: ${one}`);
}

function globalsIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const missing = authored.globals.filter((one) => !treated.globals.includes(one) && !mask.globals.has(one));
  return told(missing, 'global', (one) => `does not define “${one}”`);
}

function elementsIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const sign = (one: SeenElement) => signature(one, mask.loose);
  const known = (outcome: Outcome) => outcome.elements.filter((one) => !mask.elements.has(signature(one)));
  const [before, after] = [known(authored), known(treated)];
  const [here, there] = [before.map(sign), after.map(sign)];
  const missing = surplus(here, there);
  // Where the page makes other elements each time, one more says nothing.
  const added = mask.elements.size ? [] : surplus(there, here);
  const found = [
    ...told(missing, 'element', (one) => `lacks ${described(one)}`),
    ...told(added, 'element', (one) => `has ${described(one)}, which it has not as authored`),
  ];
  if (found.length || here.length !== there.length) return found;
  // That two stand in another order is seen by where they are shown, or by nobody.
  const steady = before.filter((one) => !mask.boxes.has(signature(one)));
  const moved = movedIn(steady, after, sign);
  // The whole page is of another size because something in it is.
  const telling = moved.filter((one) => !/^(html|body)[.#|]/.test(one));
  return told(
    telling.length ? telling : moved,
    'box',
    (one) => `shows ${described(one)} at another place, or in another size`,
  );
}

/** Elements that are shown at another place than their twins, by what they are called. */
function movedIn(
  elements: readonly SeenElement[],
  others: readonly SeenElement[],
  sign: (one: SeenElement) => string,
): string[] {
  const twins = inTurn(others, sign);
  return elements.flatMap((element) => {
    const twin = twins.get(sign(element))?.shift();
    return twin && isMoved(element, twin) ? [sign(element)] : [];
  });
}

function inTurn(
  elements: readonly SeenElement[],
  sign: (one: SeenElement) => string,
): Map<string, SeenElement[]> {
  const found = new Map<string, SeenElement[]>();
  for (const one of elements) {
    const known = found.get(sign(one));
    if (known) known.push(one);
    else found.set(sign(one), [one]);
  }
  return found;
}

function requestsIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const missing = authored.requests.filter(
    (one) => !treated.requests.includes(one) && !mask.requests.has(one),
  );
  return told(missing, 'request', (one) => `does not ask for ${one.replace(/^GET /, '')}`);
}

function factsIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const less = (some: Outcome, other: Outcome) =>
    some.facts.filter((one) => !other.facts.includes(one) && !mask.facts.has(one));
  const added = less(treated, authored);
  return added.length
    ? told(added, 'fact', (one) => `${one}, as it does not as authored`)
    : told(less(authored, treated), 'fact', (one) => `no longer ${one}`);
}

/** What fields hold as authored, and as treated no longer: what a visitor typed is gone. Errors are told as ever. */
export function typedAndLost(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const held = authored.facts.filter((one) => one.startsWith('holds “') && !mask.facts.has(one));
  const lost = held.filter((one) => !treated.facts.includes(one));
  return [...errorsIn(authored, treated, mask), ...told(lost, 'fact', (one) => `no longer ${one}`)];
}

/** Elements tell more, where they differ as well. */
function rolesIn(authored: Outcome, treated: Outcome, mask: Mask): Difference[] {
  const gone = surplus(authored.roles, treated.roles).filter((one) => !mask.roles.has(one));
  return told(gone, 'role', (one) => `no longer tells those who do not see it of ${one}`);
}

function told(
  all: readonly string[],
  what: Difference['what'],
  words: (one: string) => string,
): Difference[] {
  return all.slice(0, MOST_TOLD).map((one) => ({ what, words: words(one) }));
}

/** "button.menu (aria-expanded=false): Menu". */
function described(signed: string): string {
  const [name, attributes, text] = signed.split('|');
  const words = text ? ` “${text.slice(0, 40)}”` : '';
  return `${name}${words}${attributes ? ` (${attributes.slice(0, 80)})` : ''}`;
}

function isMoved(one: SeenElement, other: SeenElement): boolean {
  if ((one.box === null) !== (other.box === null)) return true;
  return (
    one.box !== null && one.box.some((edge, index) => Math.abs(edge - other.box![index]!) > BOX_TOLERANCE)
  );
}

/**
 * Whether what was done early found no answer: most of what changes where it is done at rest has not. Some may have, as
 * both scroll the page to what is tapped.
 *
 * @param untouched the page without anything done
 * @param early what became of it early
 * @param atRest the page before and after the same was done at rest
 */
export function wasLost(
  untouched: Outcome,
  early: Outcome,
  atRest: { before: Outcome; after: Outcome },
): boolean {
  const answer = changesIn(atRest.before, atRest.after);
  const found = changesIn(untouched, early);
  return [...answer].filter((one) => !found.has(one)).length > answer.size / 2;
}

/** Elements that came and went. */
function changesIn(from: Outcome, to: Outcome): Set<string> {
  const [was, is] = [from, to].map(({ elements }) => elements.map((one) => signature(one)));
  return new Set([
    ...surplus(is!, was!).map((one) => `came: ${one}`),
    ...surplus(was!, is!).map((one) => `went: ${one}`),
  ]);
}

/** What the first list holds more often than the second. */
export function surplus(one: readonly string[], other: readonly string[]): string[] {
  const left = new Map<string, number>();
  for (const each of other) left.set(each, (left.get(each) ?? 0) + 1);
  return one.filter((each) => {
    const count = left.get(each) ?? 0;
    left.set(each, count - 1);
    return count <= 0;
  });
}

function unlikeIn(one: readonly string[], other: readonly string[]): Set<string> {
  return new Set([
    ...one.filter((each) => !other.includes(each)),
    ...other.filter((each) => !one.includes(each)),
  ]);
}
