import type { STAND_IN_MARK } from '../core/embeds/stand-in.ts';
import type { LIGHTER_MARK } from '../core/images/lighter.ts';
import type { SeenElement } from '../core/rehearse/outcome.ts';
import { shortName } from './names.ts';

const MOST_ELEMENTS = 4_000;
/** What treatments change themselves, and nobody sees. */
const UNSEEN = /^(script|link|style|meta|title|base|head|noscript|template)$/;

/** What treatments say of images and embeds: where those stand, and what they show, is seen. */
const UNSEEN_OF: Readonly<Record<string, RegExp>> = {
  img: /^(width|height|loading|fetchpriority|data-room)$/,
  iframe: /^loading$/,
};

/** The elements of the body, in their order. */
export function seenElements(): SeenElement[] {
  const found: SeenElement[] = [];
  const moving = movingForEver();
  for (const element of document.querySelectorAll('html, body, body *')) {
    if (UNSEEN.test(element.localName) || isOurs(element)) continue;
    if (found.length >= MOST_ELEMENTS) break;
    const { x, y, width, height } = element.getBoundingClientRect();
    const text = [...element.childNodes]
      .flatMap((node) => (node.nodeType === Node.TEXT_NODE ? [node.nodeValue!.trim()] : []))
      .filter(Boolean)
      .join(' ');
    found.push({
      name: shortName(element),
      depth: depthOf(element),
      attributes: [...element.attributes]
        .filter(({ name, value }) => !UNSEEN_OF[element.localName]?.test(name) && !isStandIn(name, value))
        .map(({ name, value }) => `${name}=${name === 'style' ? value.replace(BESIDE, '') : value}`)
        .sort(),
      text: text.slice(0, 200),
      box:
        width || height
          ? moving.some((one) => one.contains(element))
            ? ANYWHERE
            : [round(x + scrollX), round(y + scrollY), round(width), round(height)]
          : null,
    });
  }
  return found;
}

/** Where what moves for ever is. */
const ANYWHERE = [0, 0, 0, 0] as const;

/** A document that treating gave a frame until it is pressed. */
function isStandIn(name: string, value: string): boolean {
  return name === 'srcdoc' && value.includes(STAND_IN);
}

/** What treating puts around an image: it has no box, and says nothing. */
function isOurs({ localName, parentElement: around, attributes }: Element): boolean {
  if (localName === 'source') return around?.localName === 'picture' && around.hasAttribute(OURS);
  return localName === 'picture' && attributes.getNamedItem(OURS) !== null;
}

/** What treating puts beside a file that an element's own style puts behind it. */
const BESIDE = /;background-image:[^;]*\/wistrel\/[^;]*(?=;|$)/g;

const OURS: typeof LIGHTER_MARK = 'data-lighter';
const STAND_IN: typeof STAND_IN_MARK = 'data-stand-in';

function depthOf(element: Element): number {
  let depth = 0;
  for (let up = element.parentElement; up; up = up.parentElement) if (!isOurs(up)) depth++;
  return depth;
}

/** Elements that an animation without an end moves: at any moment they are elsewhere. */
function movingForEver(): Element[] {
  return document.getAnimations().flatMap(({ effect, playState }) => {
    if (!(effect instanceof KeyframeEffect) || !effect.target || playState !== 'running') return [];
    return effect.getComputedTiming().iterations === Infinity ? [effect.target] : [];
  });
}

const LOOK_EVERY_MS = 150;
const STILL_WITHIN_MS = 2_500;

/** Waits until what scripts move by themselves has come to rest; what moves for ever is not waited for long. */
export async function untilStill(): Promise<void> {
  let last = '';
  for (const end = performance.now() + STILL_WITHIN_MS; performance.now() < end;) {
    const seen = JSON.stringify(seenElements());
    if (seen === last) return;
    last = seen;
    await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
  }
}

/** How far the page is scrolled, CSS px. */
export function scrolledBy(): number {
  return scrollY;
}

/** Fields whose contents are looked at; what is typed into a password field is nobody's. */
const FIELDS = 'input:not([type="password"]), textarea, select';
const MOST_FIELDS = 60;
/** Whoever scrolls there lands not at the very same place each time. */
const SCROLL_STEP = 100;

/** What else a page is, beside its elements: each as the end of "the page as treated". */
export function pageFacts(): string[] {
  const focused = document.activeElement;
  const fields = [...document.querySelectorAll<HTMLInputElement>(FIELDS)].slice(0, MOST_FIELDS);
  return [
    `has the title “${document.title}”`,
    focused && focused !== document.body ? `has the focus on ${shortName(focused)}` : 'has the focus nowhere',
    scrollY < SCROLL_STEP / 2
      ? 'is at its top'
      : `is scrolled to about ${Math.round(scrollY / SCROLL_STEP) * SCROLL_STEP} px`,
    ...fields.flatMap((field) => [
      ...(field.value ? [`holds “${field.value.slice(0, 40)}” in ${shortName(field)}`] : []),
      ...(field.checked ? [`has ${shortName(field)} chosen`] : []),
      ...(field.willValidate && !field.validity.valid ? [`finds fault with ${shortName(field)}`] : []),
    ]),
  ];
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}

/** Follows the link of each stand-in for an embed, as who wants to see them all; gives how many there were. */
export function pressStandIns(): number {
  const links = [...document.querySelectorAll('iframe[srcdoc]')].flatMap(
    (frame) =>
      (frame as HTMLIFrameElement).contentDocument?.querySelector<HTMLElement>(`a[${STAND_IN}]`) ?? [],
  );
  for (const link of links) link.click();
  return links.length;
}

/** Where images stand that treating gave lighter files, CSS px of the page. */
export function lighterBoxes(): { left: number; top: number; width: number; height: number }[] {
  return [...document.querySelectorAll(`picture[${OURS}] > img`)].map((image) => {
    const { left, top, width, height } = image.getBoundingClientRect();
    return { left: left + scrollX, top: top + scrollY, width, height };
  });
}
