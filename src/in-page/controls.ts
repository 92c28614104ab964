import type { DeedOnElement, FoundDeed, NamedElement } from '../core/checks/deed.ts';
import { shortName } from './names.ts';
import { twoFrames } from './rest.ts';

/** What opens, closes, chooses or sorts, by how much it tells. */
const CONTROLS: readonly [selector: string, telling: number][] = [
  ['[aria-expanded], [aria-haspopup], [role="tab"], summary', 4],
  ['[aria-controls], [role="button"], [role="switch"], [aria-pressed], [aria-selected], [aria-sort]', 3],
  ['button, [onclick], label[for], input[type="checkbox"], input[type="radio"]', 2],
  ['a[href^="#"]', 1],
];
const FIELDS =
  'textarea, input:not([type]), input:is([type="text"], [type="search"], [type="email"], [type="tel"], [type="url"], [type="number"])';
const HOVERED = 'li:has(> ul), li:has(> div ul), [aria-haspopup], [title]:not(iframe), [data-tooltip]';
/** More than these are not looked at for the pointer that says that they may be touched. */
const MOST_LOOKED_AT = 1_500;
/** Nothing else is said of what can be touched without having to scroll there. */
const IN_THE_FOLD = 0.5;

/** All that a visitor may do on the page, one of each name; nothing that leaves it. */
export function possibleDeeds(): FoundDeed[] {
  const found = new Map<string, FoundDeed>();
  const add = (kind: DeedOnElement, element: Element, telling: number) => {
    const name = shortName(element);
    const key = `${kind} ${name}`;
    if (found.has(key) || !isShown(element)) return;
    found.set(key, {
      kind,
      on: { name, index: namedSo(name).indexOf(element) },
      label: labelOf(element),
      telling: telling + (centreOf(element) ? IN_THE_FOLD : 0),
    });
  };
  for (const [selector, telling] of CONTROLS)
    for (const element of document.querySelectorAll(selector)) {
      if (!staysOnPage(element)) continue;
      add('tap', element, telling);
      if ((element as HTMLElement).tabIndex >= 0) add('press', element, telling);
    }
  const pointed = [...document.querySelectorAll('body *')]
    .slice(0, MOST_LOOKED_AT)
    .filter((one) => isPointed(one) && !(one.parentElement && isPointed(one.parentElement)));
  for (const element of pointed) if (staysOnPage(element)) add('tap', element, 1);
  for (const element of document.querySelectorAll(FIELDS)) if (isFree(element)) add('type', element, 2);
  for (const element of document.querySelectorAll('select')) if (isFree(element)) add('choose', element, 2);
  for (const element of document.querySelectorAll('form')) add('send', element, 2);
  for (const element of document.querySelectorAll(HOVERED)) add('hover', element, 2);
  return [...found.values()];
}

/** Where an element is touched, CSS px, scrolled to where it has to be; null where it is not to be seen. */
export async function touchPoint(named: NamedElement): Promise<{ x: number; y: number } | null> {
  const element = namedSo(named.name)[named.index];
  return element ? pointOn(element) : null;
}

/** The same of an element. */
export async function pointOn(element: Element): Promise<{ x: number; y: number } | null> {
  const point = centreOf(element);
  if (point) return point;
  element.scrollIntoView({ block: 'center', behavior: 'instant' });
  await twoFrames();
  return centreOf(element);
}

/** Clicks an element as a script does: nothing is scrolled to, and nothing gets the focus. */
export function clickOn({ name, index }: NamedElement): void {
  namedSo(name)[index]?.dispatchEvent(
    new MouseEvent('click', { bubbles: true, cancelable: true, composed: true, view: window, detail: 1 }),
  );
}

/** Gives an element the focus, so that keys reach it; false where it takes none. */
export function focusOn({ name, index }: NamedElement): boolean {
  const element = namedSo(name)[index];
  if (!(element instanceof HTMLElement)) return false;
  element.focus();
  return document.activeElement === element;
}

/**
 * Does what a browser does before it sends a form, and no more: what is required is checked, and whoever listens is
 * told. An event that is dispatched sends nothing by itself.
 */
export function aboutToSend({ name, index }: NamedElement): void {
  const form = namedSo(name)[index];
  if (!(form instanceof HTMLFormElement)) return;
  // A field may be called what a form's own function is called.
  const { checkValidity } = HTMLFormElement.prototype;
  if (form.hasAttribute('novalidate') || checkValidity.call(form))
    form.dispatchEvent(new SubmitEvent('submit', { bubbles: true, cancelable: true }));
}

/** Screens that are scrolled through at most, and how long each is stayed on, ms. */
const MOST_SCREENS = 12;
const STAY_MS = 60;

/** Scrolls through the page as a visitor does, screen by screen, as far down as it is looked at. */
export async function scrollThrough(): Promise<void> {
  for (let screen = 1; screen <= MOST_SCREENS; screen++) {
    const top = Math.round(screen * innerHeight * 0.9);
    scrollTo({ top, behavior: 'instant' });
    await twoFrames();
    await new Promise((resolve) => setTimeout(resolve, STAY_MS));
    if (scrollY + innerHeight >= document.documentElement.scrollHeight - 1) break;
  }
}

/** Nothing that waits until it comes near may be missing on paper: scripts that wait so run now. */
export function aboutToPrint(): void {
  dispatchEvent(new Event('beforeprint'));
}

/** As far down as is scrolled through: what came by scrolling may have made the page longer. */
export async function toEnd(): Promise<void> {
  const end = Math.min(
    document.documentElement.scrollHeight - innerHeight,
    Math.round(MOST_SCREENS * innerHeight * 0.9),
  );
  scrollTo({ top: end, behavior: 'instant' });
  await twoFrames();
}

/** Back to where the page begins. */
export async function toTop(): Promise<void> {
  scrollTo({ top: 0, behavior: 'instant' });
  await twoFrames();
}

/** How far down a picture of the whole page reaches, CSS px. */
export function pageHeight(): number {
  return Math.min(document.documentElement.scrollHeight, innerHeight * MOST_SCREENS);
}

export function pageWidth(): number {
  return innerWidth;
}

export function pixelRatio(): number {
  return devicePixelRatio;
}

function namedSo(name: string): Element[] {
  return [...document.querySelectorAll('body *')].filter((one) => shortName(one) === name);
}

const isPointed = (element: Element) => getComputedStyle(element).cursor === 'pointer';

function isFree(element: Element): boolean {
  const { disabled, readOnly } = element as HTMLInputElement;
  return !disabled && !readOnly;
}

export function isShown(element: Element): boolean {
  const { width, height } = element.getBoundingClientRect();
  return width >= 4 && height >= 4 && element.checkVisibility({ visibilityProperty: true });
}

/** More of a name is not told. */
export const LONGEST_NAME = 40;

/** What a visitor calls an element. */
export function labelOf(element: Element): string {
  const labels = (element as HTMLInputElement).labels;
  const words =
    element.getAttribute('aria-label') ??
    labels?.[0]?.textContent ??
    (element instanceof HTMLFormElement || element instanceof HTMLSelectElement ? '' : element.textContent);
  const told = words?.trim() || element.getAttribute('placeholder') || element.getAttribute('title') || '';
  return told.replace(/\s+/g, ' ').slice(0, LONGEST_NAME);
}

function staysOnPage(element: Element): boolean {
  const link = element.closest('a[href]');
  const leads = link && !link.getAttribute('href')!.startsWith('#');
  if (leads && !link.matches('[aria-expanded], [aria-haspopup], [aria-controls], [role="button"]'))
    return false;
  const button = element.closest('button, input');
  return !(button?.closest('form') && /^(submit|image)$/.test((button as HTMLButtonElement).type));
}

/** The middle of an element, where nothing lies over it within the first screenful. */
function centreOf(element: Element): { x: number; y: number } | null {
  const { left, top, width, height } = element.getBoundingClientRect();
  if (width < 4 || height < 4) return null;
  const [x, y] = [left + width / 2, top + height / 2];
  if (x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) return null;
  const there = document.elementFromPoint(x, y);
  return there && (element.contains(there) || there.contains(element)) ? { x, y } : null;
}
