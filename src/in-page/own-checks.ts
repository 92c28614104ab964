import { isShown, labelOf, LONGEST_NAME, pointOn } from './controls.ts';

/** What a visitor presses, the likelier first. */
export const PRESSED = [
  'button, [role="button"], [role="tab"], [role="menuitem"], [role="switch"], [role="checkbox"], [role="radio"], [role="option"], summary, input:is([type="button"], [type="submit"], [type="reset"], [type="checkbox"], [type="radio"])',
  'a[href], [role="link"], label, [onclick], [tabindex]',
  'body *',
];
const BESIDE_TEXT = '[alt], input, textarea';
/** What is typed into. */
export const FIELDS =
  'input, textarea, select, [contenteditable=""], [contenteditable="true"], [role="textbox"], [role="combobox"]';

/**
 * Where what is called so is pressed, CSS px, scrolled to where it has to be; null where it is not to be seen.
 *
 * @param selects whether it is a selector, not a name
 */
export async function pressPoint(what: string, selects: boolean): Promise<{ x: number; y: number } | null> {
  for (const element of selects ? chosen(what) : PRESSED.flatMap((sort) => called(what, sort))) {
    const point = isShown(element) && (await pointOn(element));
    if (point) return point;
  }
  return null;
}

/** Gives the field that is called so the focus, and marks what stands in it, so that typing replaces it. */
export function focusField(what: string, selects: boolean): boolean {
  const fields = selects ? chosen(what) : called(what, FIELDS);
  const field = fields.find((one) => isShown(one)) as HTMLElement | undefined;
  if (!field) return false;
  field.focus();
  if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) field.select();
  return document.activeElement === field;
}

/** Whether a visitor sees it somewhere on the page: words, or what a selector means. */
export function isSeen(what: string, selects: boolean): boolean {
  if (selects) return chosen(what).some(isVisible);
  const words = plain(what);
  const says = [...document.querySelectorAll(BESIDE_TEXT)];
  if (says.some((one) => besideText(one).includes(words) && isVisible(one))) return true;
  // The innermost that say it: what is around them says it too, and may be shown without them.
  for (const open = [document.body]; open.length;) {
    const element = open.pop()!;
    if (!textOf(element).includes(words)) continue;
    const within = ([...element.children] as HTMLElement[]).filter((child) => textOf(child).includes(words));
    if (within.length) open.push(...within);
    else if (isVisible(element)) return true;
  }
  return false;
}

function chosen(selector: string): Element[] {
  try {
    return [...document.querySelectorAll(selector)];
  } catch {
    return [];
  }
}

/** Elements of a sort with exactly that name, then those whose name begins so. */
export function called(what: string, sort: string): Element[] {
  const words = plain(what).slice(0, LONGEST_NAME);
  const all = [...document.querySelectorAll(sort)].map((one) => ({ one, name: plain(nameOf(one)) }));
  return [
    ...all.filter(({ name }) => name === words),
    ...all.filter(({ name }) => name !== words && name.startsWith(words)),
  ].map(({ one }) => one);
}

/** What an element is called in a check. */
export function nameOf(element: Element): string {
  if (element instanceof HTMLInputElement && /^(button|submit|reset)$/.test(element.type))
    return element.value;
  return labelOf(element) || (element.getAttribute('name') ?? '');
}

function textOf(element: Element): string {
  return /^(SCRIPT|STYLE|NOSCRIPT|TEMPLATE)$/.test(element.tagName) ? '' : plain(element.textContent);
}

/** What an element says that is not its text: what a picture shows, what stands in a field. */
function besideText(element: Element): string {
  const stands =
    element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement ? element.value : '';
  return plain(`${element.getAttribute('alt') ?? ''} ${stands}`);
}

const isVisible = (element: Element) =>
  isShown(element) && element.checkVisibility({ opacityProperty: true });

const plain = (text: string) => text.replace(/\s+/g, ' ').trim().toLowerCase();
