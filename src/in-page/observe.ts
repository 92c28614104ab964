import type { Box, Observations } from '../core/measure/exchange.ts';
import { shortName } from './names.ts';

/** What a page shows: distinct looks of text with a sample each, and what stands, lies behind and moves above the fold. */
export interface PageLook {
  texts: { sample: string; box: Box; aboveFold: boolean; weight: number; italic: boolean }[];
  boxes: Observations['boxes'];
  imagesBelow: Observations['imagesBelow'];
  embedsBelow: Observations['embedsBelow'];
  backgrounds: NonNullable<Observations['backgrounds']>;
  animations: NonNullable<Observations['animations']>;
}

const MOST_BOXES = 200;
const MOST_FILES = 500;
const SHOWN = /^(img|iframe|video|h1|h2|p|svg|canvas|picture)$/;

/** Elements whose texts were told, in their order: their fonts are asked for one by one. */
let textElements: Element[] = [];

/** @param mostTexts distinct looks of text at most */
export function lookAtPage(mostTexts: number): PageLook {
  const looks = new TextLooks(mostTexts);
  const boxes: PageLook['boxes'] = [];
  const images = new Stands();
  const embeds = new Stands();
  const backgrounds: PageLook['backgrounds'] = [];
  for (const element of document.querySelectorAll('body *')) {
    const box = boxIn(element);
    if (box.width === 0 || box.height === 0) continue;
    const above = isAbove(box);
    looks.add(element, box, above);
    if (element instanceof HTMLImageElement) images.add(fileOf(element), above);
    if (element instanceof HTMLIFrameElement) embeds.add(element.src, above);
    if (!above) continue;
    const behind = /url\("([^"]+)"\)/.exec(getComputedStyle(element).backgroundImage)?.[1];
    if (behind && !behind.startsWith('data:') && !backgrounds.some((one) => one.url === behind))
      backgrounds.push({ element: shortName(element), url: behind });
    if (boxes.length < MOST_BOXES && SHOWN.test(element.localName)) boxes.push(shownBox(element, box));
  }
  textElements = looks.elements;
  return {
    texts: looks.texts,
    boxes,
    imagesBelow: images.belowAlone(),
    embedsBelow: embeds.belowAlone(),
    backgrounds,
    animations: animationsAbove(),
  };
}

/** Files by where they stand. */
class Stands {
  #above = new Set<string>();
  #below = new Set<string>();

  add(url: string, above: boolean): void {
    (above ? this.#above : this.#below).add(url);
  }

  belowAlone(): string[] {
    return [...this.#below]
      .filter((url) => /^https?:/.test(url) && !this.#above.has(url))
      .slice(0, MOST_FILES);
  }
}

/** The element of a text that `lookAtPage` told last. */
export function textElement(index: number): Element | undefined {
  return textElements[index];
}

function boxIn(element: Element): Box {
  const { x, y, width, height } = element.getBoundingClientRect();
  const round = (value: number) => Math.round(value * 10) / 10;
  return { x: round(x + scrollX), y: round(y + scrollY), width: round(width), height: round(height) };
}

/** What an image shows, or would. */
function fileOf({ currentSrc, src }: HTMLImageElement): string {
  return currentSrc || src;
}

function isAbove({ y, height }: Box): boolean {
  return y < innerHeight && y + height > 0;
}

function shownBox(element: Element, box: Box): PageLook['boxes'][number] {
  const image = element as HTMLImageElement;
  const url: unknown = fileOf(image);
  return {
    element: shortName(element),
    tag: element.localName,
    url: typeof url === 'string' && url ? url : null,
    box,
    natural: element.localName === 'img' ? { width: image.naturalWidth, height: image.naturalHeight } : null,
  };
}

/** Each look of text once: its face, and whether it stands above the fold. */
class TextLooks {
  readonly texts: PageLook['texts'] = [];
  readonly elements: Element[] = [];
  #seen = new Set<string>();
  #most: number;

  constructor(most: number) {
    this.#most = most;
  }

  add(element: Element, box: Box, aboveFold: boolean): void {
    const own = [...element.childNodes].find((node) => node.nodeType === 3 && node.nodeValue?.trim());
    if (own) {
      const sample = own.nodeValue!.trim().replace(/\s+/g, ' ').slice(0, 60);
      this.#note(element, getComputedStyle(element), { sample, box, aboveFold });
    }
    // Fonts of signs paint nothing but what a sheet puts before and after elements that are empty.
    for (const pseudo of ['::before', '::after']) {
      const style = getComputedStyle(element, pseudo);
      if (/^["'].*\S.*["']$/s.test(style.content))
        this.#note(element, style, { sample: `${pseudo} of ${shortName(element)}`, box, aboveFold });
    }
  }

  #note(
    element: Element,
    style: CSSStyleDeclaration,
    text: { sample: string; box: Box; aboveFold: boolean },
  ): void {
    const key = [style.fontFamily, style.fontWeight, style.fontStyle, text.aboveFold].join('|');
    if (this.#seen.has(key) || this.elements.length >= this.#most) return;
    this.#seen.add(key);
    this.elements.push(element);
    this.texts.push({
      ...text,
      weight: Number(style.fontWeight) || 400,
      italic: style.fontStyle !== 'normal',
    });
  }
}

const OF_KEYFRAME = new Set(['offset', 'computedOffset', 'easing', 'composite']);

function animationsAbove(): PageLook['animations'] {
  return document.getAnimations().flatMap((animation) => {
    const { effect } = animation;
    if (!(effect instanceof KeyframeEffect) || !effect.target || !isAbove(boxIn(effect.target))) return [];
    const properties = new Set(effect.getKeyframes().flatMap((frame) => Object.keys(frame)));
    return [
      {
        element: shortName(effect.target),
        name: animation instanceof CSSAnimation ? animation.animationName : animation.id || 'without a name',
        properties: [...properties]
          .filter((property) => !OF_KEYFRAME.has(property))
          .map((property) => property.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)),
        endless: effect.getTiming().iterations === Infinity,
      },
    ];
  });
}
