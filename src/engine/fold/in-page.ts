import type { Concern } from '../../core/fold/declarations.ts';
import type { PaintedFace } from '../../core/fold/closure.ts';

/** Asked of a page at one viewport. The functions of this file run inside the page: they import nothing. */
export interface PageQuestions {
  matchKeys: string[];
  lists: string[];
  nestedLists: string[];
  foldHeight: number;
  /** Elements to treat as painted above the fold, by their place in the tree ("0.1.4"). */
  extra: string[];
}

export interface PageReply {
  /** For each match key, the strongest concern of its elements, or null. */
  concerns: (Concern | null)[];
  rejected: string[];
  faces: PaintedFace[];
  /** Text of style elements and style attributes. */
  inlineCss: string;
}

export function answerQuestions(questions: PageQuestions): PageReply {
  const { foldHeight } = questions;
  const width = document.documentElement.clientWidth;
  const strength: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };
  const concernOf = new Map<Element, Concern>();
  const mark = (element: Element | null, concern: Concern) => {
    if (!element) return;
    const known = concernOf.get(element);
    if (!known || strength[known] < strength[concern]) concernOf.set(element, concern);
  };
  const touches = (rect: DOMRect) =>
    rect.bottom >= 0 && rect.top < foldHeight && rect.right >= 0 && rect.left <= width;
  const all = [...document.querySelectorAll('*')];
  const markPainted = (element: Element) => {
    for (let up: Element | null = element; up && concernOf.get(up) !== 'painted'; up = up.parentElement)
      mark(up, 'painted');
  };
  mark(document.documentElement, 'painted');
  mark(document.body, 'painted');
  for (const element of all) {
    for (const rect of element.getClientRects()) {
      if (touches(rect)) {
        markPainted(element);
        break;
      }
    }
  }
  for (const path of questions.extra) {
    let element: Element | undefined = document.documentElement;
    for (const index of path.split('.').slice(1)) element = element?.children[Number(index)];
    if (element) markPainted(element);
  }
  for (const element of all) {
    if (concernOf.has(element) || document.head.contains(element)) continue;
    const parent = element.parentElement;
    if (!parent || concernOf.get(parent) !== 'painted') continue;
    const style = getComputedStyle(element);
    if (style.display === 'none') {
      mark(element, 'hidden');
      continue;
    }
    const parentDisplay = getComputedStyle(parent).display;
    const outOfFlow = style.position === 'absolute' || style.position === 'fixed';
    const rect = element.getBoundingClientRect();
    if (outOfFlow || rect.right > width + 1 || /flex|grid|table|ruby/.test(parentDisplay))
      mark(element, 'shaping');
    // A child that starts just below the fold still takes part in how margins above it collapse.
    else if (rect.top < foldHeight + 200) mark(element, 'shaping');
  }
  // What lies in a table's cells widens its columns.
  for (const element of all) {
    if (concernOf.has(element)) continue;
    const table = element.closest('table');
    if (table && concernOf.get(table) === 'painted') mark(element, 'shaping');
  }

  const concerns = questions.matchKeys.map((key): Concern | null => {
    let best: Concern | null = null;
    let found: NodeListOf<Element>;
    try {
      found = document.querySelectorAll(key);
    } catch {
      return null;
    }
    for (const element of found) {
      const concern = concernOf.get(element);
      if (concern && (!best || strength[concern] > strength[best])) {
        best = concern;
        if (best === 'painted') break;
      }
    }
    return best;
  });

  const sheet = new CSSStyleSheet();
  const rejects = (text: string, nested: boolean) => {
    try {
      sheet.replaceSync(nested ? `x{${text}{color:red}}` : `${text}{color:red}`);
      const outer = sheet.cssRules[0];
      return nested
        ? !(outer && 'cssRules' in outer && (outer as CSSStyleRule).cssRules.length === 1)
        : sheet.cssRules.length !== 1;
    } catch {
      return true;
    }
  };
  const rejected = [
    ...questions.lists.filter((list) => rejects(list, false)),
    ...questions.nestedLists.filter((list) => rejects(list, true)),
  ];

  const faces = new Map<
    string,
    { families: string[]; weight: number; italic: boolean; characters: Set<string> }
  >();
  const addText = (style: CSSStyleDeclaration, text: string) => {
    const characters = new Set(text.replace(/\s+/g, ''));
    if (characters.size === 0) return;
    const key = `${style.fontFamily}|${style.fontWeight}|${style.fontStyle}`;
    let face = faces.get(key);
    if (!face) {
      const families = style.fontFamily.split(',').map((name) =>
        name
          .trim()
          .replace(/^["']|["']$/g, '')
          .toLowerCase(),
      );
      faces.set(
        key,
        (face = {
          families,
          weight: Number(style.fontWeight) || 400,
          italic: style.fontStyle !== 'normal',
          characters: new Set(),
        }),
      );
    }
    for (const character of characters) {
      face.characters.add(character);
      // text-transform paints other letters than the source holds.
      face.characters.add(character.toUpperCase());
      face.characters.add(character.toLowerCase());
    }
  };
  for (const [element, concern] of concernOf) {
    if (concern !== 'painted') continue;
    const style = getComputedStyle(element);
    for (const node of element.childNodes)
      if (node.nodeType === Node.TEXT_NODE) addText(style, node.nodeValue ?? '');
    if (element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement)
      addText(style, `${element.value}${element.placeholder}`);
    for (const pseudo of ['::before', '::after', '::marker']) {
      const generated = getComputedStyle(element, pseudo);
      if (generated.content && generated.content !== 'none' && generated.content !== 'normal')
        addText(generated, generated.content + '0123456789•');
    }
  }

  const inline = [...document.querySelectorAll('style')].map((one) => one.textContent ?? '');
  const attributes = [...document.querySelectorAll('[style]')].map((one) => one.getAttribute('style') ?? '');
  return {
    concerns,
    rejected,
    faces: [...faces.values()].map((face) => ({ ...face, characters: [...face.characters].join('') })),
    inlineCss: [...inline, ...attributes.map((text) => `x{${text}}`)].join('\n'),
  };
}

/** Which of the queries the page's viewport meets; preferences, hover and pointer count as met. */
export function liveMedia(queries: string[]): boolean[] {
  return queries.map((query) => {
    if (/hover|pointer|prefers-|forced-colors|resolution|device-pixel-ratio/.test(query))
      return !/^\s*print\b/.test(query);
    return matchMedia(query).matches;
  });
}

/** Boxes and main styles of what is above the fold, by place in the tree. */
export interface FoldBox {
  path: string;
  box: string;
  style: string;
}

export interface FoldLayout {
  boxes: FoldBox[];
  scrollWidth: number;
  /** Elements that reach beyond the right edge, by place. */
  beyond: string[];
}

export function readLayout(foldHeight: number): FoldLayout {
  const width = document.documentElement.clientWidth;
  const properties = [
    'color',
    'background-color',
    'background-image',
    'font-family',
    'font-size',
    'font-weight',
    'font-style',
    'line-height',
    'letter-spacing',
    'text-align',
    'text-transform',
    'text-decoration-line',
    'white-space',
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
    'border-top-left-radius',
    'box-shadow',
    'filter',
    'z-index',
    'object-fit',
    'list-style-type',
    'vertical-align',
  ];
  const pathOf = (element: Element): string => {
    const parts: number[] = [];
    for (let up: Element | null = element; up; up = up.parentElement) {
      parts.unshift(up.parentElement ? [...up.parentElement.children].indexOf(up) : 0);
    }
    return parts.join('.');
  };
  const boxes: FoldBox[] = [];
  const beyond: string[] = [];
  for (const element of document.body.querySelectorAll('*')) {
    const rect = element.getBoundingClientRect();
    if (rect.width === 0 && rect.height === 0) continue;
    if (rect.right > width + 1 && rect.top < foldHeight * 3) beyond.push(pathOf(element));
    if (rect.bottom <= 0 || rect.top >= foldHeight || rect.right <= 0 || rect.left >= width) continue;
    const computed = getComputedStyle(element);
    const clip = (value: number, most: number) => Math.round(Math.min(Math.max(value, 0), most));
    boxes.push({
      path: pathOf(element),
      box: [
        clip(rect.left, width),
        clip(rect.top, foldHeight),
        clip(rect.right, width),
        clip(rect.bottom, foldHeight),
      ].join(','),
      style: properties.map((name) => computed.getPropertyValue(name)).join('|'),
    });
  }
  return { boxes, scrollWidth: document.documentElement.scrollWidth, beyond };
}
