import type { Concern } from '../../core/fold/declarations.ts';
import type { PaintedFace } from '../../core/fonts/faces.ts';

/** Asked of a page at one viewport. The functions of this file run inside the page: they import nothing. */
export interface PageQuestions {
  matchKeys: string[];
  everKeys: string[];
  /** Share of the viewport's height that lies above the fold. */
  foldShare: number;
  viewport: string;
  /** Elements to treat as painted above the fold, by their place in the tree ("0.1.4"). */
  extra: string[];
  /** Selectors of elements the user keeps or leaves out, with what lies in them. */
  keepElements: string[];
  leaveElements: string[];
}

export interface PageReply {
  /** For each match key, the strongest concern of its elements, or null. */
  concerns: (Concern | null)[];
  /** For each match key, the first element that needs it. */
  firstElements: (string | null)[];
  /** For each match key, the numbers of the concerned elements it matches, in document order. */
  elements: number[][];
  /** Which match keys anything on the whole page could ever match. */
  everUsed: boolean[];
  faces: PaintedFace[];
  /** Text of style elements, style attributes, constructed sheets and shadow roots' styles. */
  inlineCss: string;
  /** How many elements, in document order, lie before the end of the fold. */
  elementsToFold: number;
}

export function answerQuestions(questions: PageQuestions): PageReply {
  // A page without a viewport meta is laid out wider than the phone, and shown smaller.
  const foldHeight = innerHeight * questions.foldShare;
  const width = Math.max(innerWidth, document.documentElement.clientWidth);
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
  const find = (selector: string): Element[] => {
    try {
      return [...document.querySelectorAll(selector)].flatMap((one) => [one, ...one.querySelectorAll('*')]);
    } catch {
      return [];
    }
  };
  for (const selector of questions.keepElements) find(selector).forEach(markPainted);
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
  // What lies in a table's cells widens its columns; what lies beside the fold in a row makes it higher.
  for (const element of all) {
    if (concernOf.has(element)) continue;
    const table = element.closest('table');
    if (table && concernOf.get(table) === 'painted') mark(element, 'shaping');
    else if (element.parentElement && concernOf.get(element.parentElement) === 'shaping') {
      const rect = element.getBoundingClientRect();
      if (rect.top < foldHeight && (rect.left >= width || rect.right <= 0) && rect.height > 0)
        mark(element, 'shaping');
    }
  }
  for (const selector of questions.leaveElements) for (const one of find(selector)) concernOf.delete(one);

  const nameOf = (element: Element): string => {
    const own = (one: Element) =>
      one.localName +
      (one.id ? `#${CSS.escape(one.id)}` : '') +
      [...one.classList]
        .slice(0, 2)
        .map((name) => `.${CSS.escape(name)}`)
        .join('');
    return element.id || element.classList.length || !element.parentElement
      ? own(element)
      : `${own(element.parentElement)} > ${own(element)}`;
  };
  const numberOf = new Map<Element, number>();
  let elementsToFold = 0;
  all.forEach((element, index) => {
    const concern = concernOf.get(element);
    if (concern) numberOf.set(element, index);
    if (concern === 'painted') elementsToFold = index + 1;
  });
  const firstElements: (string | null)[] = [];
  const elements: number[][] = [];
  const everUsed: boolean[] = [];
  const concerns = questions.matchKeys.map((key, index): Concern | null => {
    const ever = questions.everKeys[index]!;
    let best: Concern | null = null;
    let first: Element | null = null;
    const numbers: number[] = [];
    let found: ArrayLike<Element> = [];
    try {
      found = document.querySelectorAll(key);
      everUsed.push(ever === key ? found.length > 0 : document.querySelector(ever) !== null);
    } catch {
      everUsed.push(true);
    }
    for (let i = 0; i < found.length; i++) {
      const element = found[i]!;
      const concern = concernOf.get(element);
      if (!concern) continue;
      numbers.push(numberOf.get(element)!);
      if (!best || strength[concern] > strength[best]) {
        best = concern;
        first = element;
      }
    }
    firstElements.push(first && nameOf(first));
    elements.push(numbers);
    return best;
  });

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
  const addFaces = (element: Element) => {
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
  };

  const css: string[] = [];
  const sheetText = (sheet: CSSStyleSheet) => {
    try {
      return [...sheet.cssRules].map((rule) => rule.cssText).join('\n');
    } catch {
      return '';
    }
  };
  const addCssOf = (root: Document | ShadowRoot) => {
    for (const style of root.querySelectorAll('style')) css.push(style.textContent ?? '');
    for (const one of root.querySelectorAll('[style]')) css.push(`x{${one.getAttribute('style') ?? ''}}`);
    for (const sheet of root.adoptedStyleSheets) css.push(sheetText(sheet));
    if (root !== document) for (const sheet of root.styleSheets) css.push(sheetText(sheet));
  };
  const lookInto = (root: ShadowRoot) => {
    addCssOf(root);
    for (const inner of root.querySelectorAll('*')) {
      addFaces(inner);
      if (inner.shadowRoot) lookInto(inner.shadowRoot);
    }
  };
  addCssOf(document);
  for (const [element, concern] of concernOf) {
    if (concern !== 'painted') continue;
    addFaces(element);
    if (element.shadowRoot) lookInto(element.shadowRoot);
  }

  return {
    concerns,
    firstElements,
    elements,
    everUsed,
    elementsToFold,
    faces: [...faces.values()].map((face) => ({ ...face, characters: [...face.characters].join('') })),
    inlineCss: css.join('\n'),
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

/** How the browser itself reads sheets: which selector lists it rejects, and the outline of each text. */
export function readAsBrowser(asked: {
  texts: string[];
  lists: string[];
  nestedLists: string[];
  /** Prefixes that @namespace rules declare: a selector with another one is rejected. */
  namespaces: string[];
}): { rejected: string[]; outlines: string[] } {
  const declared = asked.namespaces.map((prefix) => `@namespace ${prefix} "x";`).join('');
  const sheet = new CSSStyleSheet();
  const rejects = (text: string, nested: boolean) => {
    try {
      sheet.replaceSync(declared + (nested ? `x{${text}{color:red}}` : `${text}{color:red}`));
      const outer = sheet.cssRules[asked.namespaces.length];
      return nested
        ? !(outer && 'cssRules' in outer && (outer as CSSStyleRule).cssRules.length === 1)
        : sheet.cssRules.length !== asked.namespaces.length + 1;
    } catch {
      return true;
    }
  };
  const kinds: [string, string][] = [
    ['CSSStyleRule', 'r'],
    ['CSSMediaRule', '@media'],
    ['CSSSupportsRule', '@supports'],
    ['CSSContainerRule', '@container'],
    ['CSSLayerBlockRule', '@layer'],
    ['CSSScopeRule', '@scope'],
    ['CSSStartingStyleRule', '@starting-style'],
  ];
  const outline = (rules: CSSRuleList): string => {
    let text = '';
    for (const rule of rules) {
      const kind = kinds.find(([name]) => rule.constructor.name === name)?.[1];
      if (!kind) continue;
      const inside = outline((rule as CSSGroupingRule).cssRules);
      text += kind + (inside ? `{${inside}}` : ';');
    }
    return text;
  };
  return {
    rejected: [
      ...asked.lists.filter((list) => rejects(list, false)),
      ...asked.nestedLists.filter((list) => rejects(list, true)),
    ],
    outlines: asked.texts.map((text) => {
      sheet.replaceSync(text);
      return outline(sheet.cssRules);
    }),
  };
}

/**
 * What the browser reads from each sheet: for every context, selector and property, the value that stands.
 * Two sheets with the same settings say the same.
 */
export function settingsOf(texts: string[]): [key: string, value: string][][] {
  const sheet = new CSSStyleSheet();
  const partsOf = (list: string): string[] => {
    const parts: string[] = [];
    let [depth, from] = [0, 0];
    for (let at = 0; at < list.length; at++) {
      const character = list[at];
      if (character === '\\') at++;
      else if (character === '"')
        for (at++; at < list.length && list[at] !== '"'; at++) at += Number(list[at] === '\\');
      else if (character === '(' || character === '[') depth++;
      else if (character === ')' || character === ']') depth--;
      else if (character === ',' && depth === 0) {
        parts.push(list.slice(from, at).trim());
        from = at + 1;
      }
    }
    return [...parts, list.slice(from).trim()];
  };
  return texts.map((text) => {
    const found = new Map<string, string>();
    const add = (head: string, style: CSSStyleDeclaration) => {
      for (const property of style)
        found.set(
          `${head}\n${property}`,
          style.getPropertyValue(property) + style.getPropertyPriority(property),
        );
    };
    const walk = (rules: CSSRuleList, context: string): void => {
      for (const rule of rules) {
        const { cssText } = rule;
        const head = cssText.slice(0, Math.max(0, cssText.indexOf('{'))).trim();
        if (rule instanceof CSSStyleRule) {
          for (const selector of partsOf(rule.selectorText)) {
            add(`${context}\n${selector}`, rule.style);
            walk(rule.cssRules, `${context}\n${selector}`);
          }
        } else if (rule.constructor.name === 'CSSNestedDeclarations')
          add(context, (rule as unknown as CSSStyleRule).style);
        else if ('style' in rule) add(`${context}\n${head}`, rule.style as CSSStyleDeclaration);
        else if ('cssRules' in rule) walk(rule.cssRules as CSSRuleList, `${context}\n${head}`);
      }
    };
    try {
      sheet.replaceSync(text);
      walk(sheet.cssRules, '');
    } catch {
      // A text that no sheet can be made of says nothing.
    }
    return [...found];
  });
}

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
  const properties = [
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
  const own = (element: Element) => {
    const name = element.localName + (element.id ? `#${CSS.escape(element.id)}` : '') + classesOf(element);
    if (element.id) return name;
    const twins = [...(element.parentElement?.children ?? [])].filter(
      (one) => one.localName === element.localName,
    );
    return twins.length > 1 ? `${name}:nth-of-type(${twins.indexOf(element) + 1})` : name;
  };
  const classesOf = (element: Element) =>
    [...element.classList]
      .slice(0, 2)
      .map((name) => `.${CSS.escape(name)}`)
      .join('');
  const boxes: FoldBox[] = [];
  const beyond: string[] = [];
  const visit = (element: Element, path: string, chain: string[]): void => {
    const names = element === document.body ? [] : element.id ? [own(element)] : [...chain, own(element)];
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
        style: properties.map((name) => computed.getPropertyValue(name)),
        above,
      });
    }
    for (let index = 0; index < element.children.length; index++)
      visit(element.children[index]!, `${path}.${index}`, names);
  };
  const at = [...document.documentElement.children].indexOf(document.body);
  visit(document.body, `0.${at}`, []);
  return { boxes, properties, reach: document.documentElement.scrollWidth / laidOut, beyond };
}

/** The last rule of the page's sheets that sets a property on an element: what a set without it lacks. */
export function ruleSetting(asked: { path: string; property: string }): {
  selector: string;
  sheet: string;
} | null {
  let element: Element | undefined = document.documentElement;
  for (const index of asked.path.split('.').slice(1)) element = element?.children[Number(index)];
  if (!element) return null;
  let found: { selector: string; sheet: string } | null = null;
  const look = (rules: CSSRuleList, sheet: string): void => {
    for (const rule of rules) {
      if (rule instanceof CSSMediaRule && !matchMedia(rule.conditionText).matches) continue;
      if (
        rule instanceof CSSStyleRule &&
        rule.style.getPropertyValue(asked.property) !== '' &&
        element.matches(rule.selectorText.replace(/::?(before|after)\b/g, '') || '*')
      )
        found = { selector: rule.selectorText, sheet };
      if (rule instanceof CSSImportRule && rule.styleSheet) look(rule.styleSheet.cssRules, rule.href);
      else if ('cssRules' in rule) look(rule.cssRules as CSSRuleList, sheet);
    }
  };
  for (const sheet of document.styleSheets) {
    try {
      look(sheet.cssRules, sheet.href ?? '');
    } catch {
      // A sheet of another origin shows its rules to nobody.
    }
  }
  return found;
}

/** Watches for layout shifts, and says what came since it was last asked (Layout Instability, section 3). */
export function shiftsSince(start: boolean): number {
  const scope = globalThis as unknown as { __shifts?: PerformanceObserver; __shifted?: number };
  if (start) {
    scope.__shifted = 0;
    scope.__shifts = new PerformanceObserver((list) => {
      for (const entry of list.getEntries())
        scope.__shifted! += (entry as unknown as { value: number }).value;
    });
    scope.__shifts.observe({ type: 'layout-shift', buffered: false });
    return 0;
  }
  for (const entry of scope.__shifts?.takeRecords() ?? [])
    scope.__shifted! += (entry as unknown as { value: number }).value;
  return scope.__shifted ?? 0;
}

/** Lets the late stylesheets apply, all at once, and waits until what they did is drawn. */
export async function lateSheetsArrive(): Promise<void> {
  for (const link of document.querySelectorAll<HTMLLinkElement>('link[data-late]'))
    link.media = link.dataset['late'] || 'all';
  await document.fonts.ready;
  for (let i = 0; i < 3; i++) await new Promise((resolve) => requestAnimationFrame(resolve));
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
  return asked.selectors.flatMap((selector) => {
    try {
      return [...document.querySelectorAll(selector)].map((element) => {
        const { left, top, width, height } = element.getBoundingClientRect();
        return { left: left * scale, top: top * scale, width: width * scale, height: height * scale };
      });
    } catch {
      return [];
    }
  });
}
