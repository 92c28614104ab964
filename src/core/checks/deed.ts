import type { OwnCheck } from './own-check.ts';

/** An element by how it is named, and which of those named so it is. */
export interface NamedElement {
  name: string;
  index: number;
}

/** What a visitor does with one element. */
export type DeedOnElement = 'tap' | 'press' | 'hover' | 'type' | 'choose' | 'send';

/**
 * What is done to a page at rest. "key" presses one that nothing listens to; "press" is the Enter key on what has the
 * focus; "send" asks a form to be sent, and sends nothing. What is "early" does not wait for rest: what is there already
 * while scripts are still on their way is tapped, pressed, or typed into, then. "own" is what the developer wrote down.
 */
export type Deed =
  | { kind: 'nothing' | 'key' | 'scroll' }
  | OnElement<DeedOnElement>
  | EarlyDeed
  | { kind: 'own'; check: OwnCheck };

/** What is done before the scripts are there, and at rest where it cannot be. */
export type EarlyKind = 'early tap' | 'early press' | 'early type';
export type EarlyDeed = OnElement<EarlyKind>;

interface OnElement<K> {
  kind: K;
  on: NamedElement;
  /** What a visitor calls it; empty for what has no words. */
  label: string;
}

export function isEarly(deed: Deed): deed is EarlyDeed {
  return deed.kind in MOST_EARLY;
}

/** Whether something done early is a click to the page: by finger, pointer or key. */
export function isEarlyClick(deed: Deed): deed is OnElement<'early tap' | 'early press'> {
  return deed.kind === 'early tap' || deed.kind === 'early press';
}

/** Something that a visitor can do on a page, and how much it tells whether the page works. */
export interface FoundDeed {
  kind: DeedOnElement;
  on: NamedElement;
  label: string;
  /** The more, the sooner it is tried. */
  telling: number;
}

export const NOTHING: Deed = { kind: 'nothing' };
export const A_KEY: Deed = { kind: 'key' };

/** So many of each are tried at one viewport, the telling ones first. */
const MOST: Record<DeedOnElement, number> = { tap: 4, press: 1, hover: 2, type: 2, choose: 1, send: 1 };
const ORDER: readonly DeedOnElement[] = ['tap', 'send', 'type', 'choose', 'hover', 'press'];

/** What is tried of all that a visitor can do: each sort, the telling ones first. @param touch nothing hovers there */
export function chooseDeeds(found: readonly FoundDeed[], touch: boolean): Deed[] {
  const telling = [...found].sort((one, other) => other.telling - one.telling);
  return ORDER.filter((kind) => !(touch && kind === 'hover')).flatMap((kind) =>
    telling
      .filter((one) => one.kind === kind)
      .slice(0, MOST[kind])
      .map(({ on, label }) => ({ kind, on, label })),
  );
}

/** So many of what is tapped, pressed, or typed into, at rest are so before as well. */
const MOST_EARLY: Record<EarlyKind, number> = { 'early tap': 3, 'early press': 1, 'early type': 1 };

/** The telling taps of what is done, one by key, and the field that is typed into, as an impatient visitor does them. */
export function earlyDeeds(deeds: readonly Deed[]): Deed[] {
  const as = (kind: 'tap' | 'press' | 'type', early: EarlyKind) =>
    deeds
      .flatMap((deed) => (deed.kind === kind ? [{ ...deed, kind: early }] : []))
      .slice(0, MOST_EARLY[early]);
  return [...as('tap', 'early tap'), ...as('press', 'early press'), ...as('type', 'early type')];
}

/** The same deed has the same key. */
export function deedKey(deed: Deed): string {
  if (deed.kind === 'own') return `own ${deed.check.text}`;
  return 'on' in deed ? `${deed.kind} ${deed.on.name} ${deed.on.index}` : deed.kind;
}

/** A deed as a person would say it: "“Menu” tapped". Empty for those that are none. */
export function deedWords(deed: Deed): string {
  if (deed.kind === 'own') return `your check “${deed.check.text}”`;
  if (!('on' in deed)) return deed.kind === 'scroll' ? 'scrolled through' : '';
  const name = deed.label ? `“${deed.label}” (${deed.on.name})` : deed.on.name;
  switch (deed.kind) {
    case 'tap':
      return `${name} tapped`;
    case 'early tap':
      return `${name} tapped before scripts are there`;
    case 'press':
      return `Enter pressed on ${name}`;
    case 'early press':
      return `Enter pressed on ${name} before scripts are there`;
    case 'hover':
      return `the pointer on ${name}`;
    case 'type':
      return `something typed into ${name}`;
    case 'early type':
      return `something typed into ${name} before scripts are there`;
    case 'choose':
      return `another choice made in ${name}`;
    case 'send':
      return `${name} about to be sent`;
  }
}
