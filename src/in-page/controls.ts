import { shortName } from './names.ts';

/** An element by how it is named, and which of those named so it is. */
export interface NamedElement {
  name: string;
  index: number;
}

const CONTROLS =
  '[aria-expanded], [aria-haspopup], [aria-controls], [role="button"], [role="tab"], [role="switch"], button, summary, [onclick], label[for], input[type="checkbox"], input[type="radio"], a[href^="#"]';
/** More than these are not looked at for the pointer that says that they may be touched. */
const MOST_LOOKED_AT = 1_500;

/** What a visitor may touch in the first screenful, the likeliest first; nothing that leaves the page or sends a form. */
export function foldControls(): NamedElement[] {
  const marked = [...document.querySelectorAll(CONTROLS)];
  const pointed = [...document.querySelectorAll('body *')]
    .slice(0, MOST_LOOKED_AT)
    .filter((one) => isPointed(one) && !(one.parentElement && isPointed(one.parentElement)));
  const found = new Map<string, Element>();
  for (const element of [...marked, ...pointed])
    if (staysOnPage(element) && centreOf(element) && !found.has(shortName(element)))
      found.set(shortName(element), element);
  return [...found].map(([name, element]) => ({ name, index: namedSo(name).indexOf(element) }));
}

/** Where an element is touched, CSS px; null where it is not to be seen. */
export function touchPoint({ name, index }: NamedElement): { x: number; y: number } | null {
  const element = namedSo(name)[index];
  return element ? centreOf(element) : null;
}

function namedSo(name: string): Element[] {
  return [...document.querySelectorAll('body *')].filter((one) => shortName(one) === name);
}

const isPointed = (element: Element) => getComputedStyle(element).cursor === 'pointer';

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
