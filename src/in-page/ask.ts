import type { Concern } from '../core/fold/declarations.ts';
import type { PaintedFace } from '../core/fonts/faces.ts';
import { Concerns, isStronger, type ConcernWish } from './concerns.ts';
import { tellingSelector } from './names.ts';
import { PaintedText } from './painted-text.ts';

/** Asked of a page at one viewport. */
export interface PageQuestions extends ConcernWish {
  matchKeys: string[];
  everKeys: string[];
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

/** Which selectors the fold needs, and by which element; what text it paints; what CSS stands in the page itself. */
export function answerQuestions(questions: PageQuestions): PageReply {
  const concerns = new Concerns(questions);
  const numberOf = new Map<Element, number>();
  let elementsToFold = 0;
  concerns.all.forEach((element, index) => {
    const concern = concerns.of.get(element);
    if (concern) numberOf.set(element, index);
    if (concern === 'painted') elementsToFold = index + 1;
  });
  const matches = questions.matchKeys.map((key, index) =>
    matchesOf(key, questions.everKeys[index]!, concerns, numberOf),
  );
  const own = ownCss(concerns);
  return {
    concerns: matches.map((one) => one.concern),
    firstElements: matches.map((one) => one.first && tellingSelector(one.first)),
    elements: matches.map((one) => one.numbers),
    everUsed: matches.map((one) => one.everUsed),
    elementsToFold,
    faces: own.text.faces,
    inlineCss: own.css.join('\n'),
  };
}

interface KeyMatches {
  concern: Concern | null;
  first: Element | null;
  numbers: number[];
  everUsed: boolean;
}

function matchesOf(
  key: string,
  everKey: string,
  concerns: Concerns,
  numberOf: ReadonlyMap<Element, number>,
): KeyMatches {
  const matches: KeyMatches = { concern: null, first: null, numbers: [], everUsed: true };
  let found: ArrayLike<Element> = [];
  try {
    found = document.querySelectorAll(key);
    matches.everUsed = everKey === key ? found.length > 0 : document.querySelector(everKey) !== null;
  } catch {
    // What the browser cannot match may be used.
  }
  for (let i = 0; i < found.length; i++) {
    const element = found[i]!;
    const concern = concerns.of.get(element);
    if (!concern) continue;
    matches.numbers.push(numberOf.get(element)!);
    if (!isStronger(concern, matches.concern)) continue;
    matches.concern = concern;
    matches.first = element;
  }
  return matches;
}

/** What CSS the page carries itself, and the text that its painted elements show, into shadow roots. */
function ownCss(concerns: Concerns): { css: string[]; text: PaintedText } {
  const css: string[] = [];
  const text = new PaintedText();
  const addCssOf = (root: Document | ShadowRoot) => {
    for (const style of root.querySelectorAll('style')) css.push(style.textContent ?? '');
    for (const one of root.querySelectorAll('[style]')) css.push(`x{${one.getAttribute('style') ?? ''}}`);
    for (const sheet of root.adoptedStyleSheets) css.push(sheetText(sheet));
    if (root !== document) for (const sheet of root.styleSheets) css.push(sheetText(sheet));
  };
  const lookInto = (root: ShadowRoot) => {
    addCssOf(root);
    for (const inner of root.querySelectorAll('*')) {
      text.add(inner);
      if (inner.shadowRoot) lookInto(inner.shadowRoot);
    }
  };
  addCssOf(document);
  for (const [element, concern] of concerns.of) {
    if (concern !== 'painted') continue;
    text.add(element);
    if (element.shadowRoot) lookInto(element.shadowRoot);
  }
  return { css, text };
}

function sheetText(sheet: CSSStyleSheet): string {
  try {
    return [...sheet.cssRules].map((rule) => rule.cssText).join('\n');
  } catch {
    return '';
  }
}
