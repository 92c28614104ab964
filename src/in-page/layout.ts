import { allBy, siblingSelector } from './names.ts';

/** An element of a page as it stands at a viewport. */
export interface FoldBox {
  /** Place in the tree: "0.1.4". */
  path: string;
  /** A selector that finds it, short enough to read. */
  selector: string;
  left: number;
  top: number;
  width: number;
  height: number;
  /** Main computed values, in the order of `properties`; null where the page's own looks disagree. */
  style: (string | null)[];
  /** The page's own looks disagree in where it stands. */
  loose?: boolean;
  /** Stands above the fold, at least in part. */
  above: boolean;
}

export interface PageLayout {
  boxes: FoldBox[];
  properties: string[];
  /** Width of what it holds in widths of what it was laid out for: over 1, something reaches too far. */
  reach: number;
  /** Elements that reach beyond the right edge, by place. */
  beyond: string[];
}

const PROPERTIES = [
  'color',
  'background-color',
  'background-image',
  'background-size',
  'background-position-x',
  'font-family',
  'font-size',
  'font-weight',
  'font-style',
  'line-height',
  'letter-spacing',
  'text-align',
  'text-transform',
  'text-decoration-line',
  'white-space-collapse',
  'display',
  'position',
  'float',
  'visibility',
  'opacity',
  'overflow-x',
  'overflow-y',
  'transform',
  'border-top-width',
  'border-top-color',
  'border-top-style',
  'border-bottom-width',
  'border-left-width',
  'border-top-left-radius',
  'box-shadow',
  'filter',
  'z-index',
  'object-fit',
  'list-style-type',
  'vertical-align',
  'text-shadow',
  'clip-path',
  'content-visibility',
];

/** Boxes and main styles of a page: of what lies above the fold and beside it, or of everything. */
export function readLayout(asked: {
  foldHeight: number;
  viewport: { width: number; height: number };
  everything: boolean;
}): PageLayout {
  const { foldHeight } = asked;
  const { width } = asked.viewport;
  const scale = width / innerWidth;
  // A phone zooms out of what is too wide: only the width laid out for tells it.
  const laidOut = document.documentElement.clientWidth;
  const boxes: FoldBox[] = [];
  const beyond: string[] = [];
  const visit = (element: Element, path: string, chain: string[]): void => {
    const names =
      element === document.body
        ? []
        : element.id
          ? [siblingSelector(element)]
          : [...chain, siblingSelector(element)];
    const box = element.getBoundingClientRect();
    const rect = new DOMRect(box.x * scale, box.y * scale, box.width * scale, box.height * scale);
    const above =
      rect.bottom > 0 &&
      rect.top < foldHeight &&
      rect.right > 0 &&
      rect.left < width &&
      rect.height + rect.width > 0;
    const beside = rect.top < foldHeight && rect.bottom > 0 && rect.height > 0;
    if (box.right > laidOut + 1) beyond.push(path);
    if (element !== document.body && (above || beside || asked.everything)) {
      const computed = getComputedStyle(element);
      boxes.push({
        path,
        selector: names.slice(-4).join(' > '),
        left: rect.left,
        top: rect.top,
        width: rect.width,
        height: rect.height,
        style: PROPERTIES.map((name) => computed.getPropertyValue(name)),
        above,
      });
    }
    for (let index = 0; index < element.children.length; index++)
      visit(element.children[index]!, `${path}.${index}`, names);
  };
  const at = [...document.documentElement.children].indexOf(document.body);
  visit(document.body, `0.${at}`, []);
  return { boxes, properties: PROPERTIES, reach: document.documentElement.scrollWidth / laidOut, beyond };
}

/** Where canvases, films and pictures that move by themselves stand. */
export function movingBoxes(asked: {
  urls: string[];
  width: number;
}): { left: number; top: number; width: number; height: number }[] {
  const scale = asked.width / innerWidth;
  const urls = new Set(asked.urls);
  return [...document.querySelectorAll('canvas, video, img, input[type="image"]')].flatMap((element) => {
    const picture = element as HTMLImageElement;
    if (/^(img|input)$/.test(element.localName) && !urls.has(picture.currentSrc || picture.src)) return [];
    const { left, top, width, height } = element.getBoundingClientRect();
    return [{ left: left * scale, top: top * scale, width: width * scale, height: height * scale }];
  });
}

/** Where elements stand that the user left out. */
export function boxesOf(asked: {
  selectors: string[];
  width: number;
}): { left: number; top: number; width: number; height: number }[] {
  const scale = asked.width / innerWidth;
  return asked.selectors.flatMap((selector) =>
    allBy(selector).map((element) => {
      const { left, top, width, height } = element.getBoundingClientRect();
      return { left: left * scale, top: top * scale, width: width * scale, height: height * scale };
    }),
  );
}
