import type { Concern } from '../core/fold/declarations.ts';
import { allBy, elementAt } from './names.ts';

const STRENGTH: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };

export function isStronger(concern: Concern, than: Concern | null | undefined): boolean {
  return !than || STRENGTH[concern] > STRENGTH[than];
}

/** Which elements are looked at. */
export interface ConcernWish {
  /** Share of the viewport's height that lies above the fold. */
  foldShare: number;
  /** Elements to treat as painted above the fold, by their place in the tree ("0.1.4"). */
  extra: string[];
  /** Selectors of elements the user keeps or leaves out, with what lies in them. */
  keepElements: string[];
  leaveElements: string[];
}

/** Which elements the fold needs at this viewport, each with the strongest reason. */
export class Concerns {
  readonly of = new Map<Element, Concern>();
  readonly all = [...document.querySelectorAll('*')];
  #foldHeight: number;
  #width: number;

  constructor(wish: ConcernWish) {
    // A page without a viewport meta is laid out wider than the phone, and shown smaller.
    this.#foldHeight = innerHeight * wish.foldShare;
    this.#width = Math.max(innerWidth, document.documentElement.clientWidth);
    this.#markPainted(wish);
    this.#markShaping();
    this.#markTables();
    for (const selector of wish.leaveElements) for (const one of withInside(selector)) this.of.delete(one);
  }

  #mark(element: Element | null, concern: Concern): void {
    if (element && isStronger(concern, this.of.get(element))) this.of.set(element, concern);
  }

  #paint(element: Element): void {
    for (let up: Element | null = element; up && this.of.get(up) !== 'painted'; up = up.parentElement)
      this.#mark(up, 'painted');
  }

  #markPainted({ keepElements, extra }: ConcernWish): void {
    const touches = (rect: DOMRect) =>
      rect.bottom >= 0 && rect.top < this.#foldHeight && rect.right >= 0 && rect.left <= this.#width;
    this.#mark(document.documentElement, 'painted');
    this.#mark(document.body, 'painted');
    for (const element of this.all) if ([...element.getClientRects()].some(touches)) this.#paint(element);
    for (const selector of keepElements) for (const one of withInside(selector)) this.#paint(one);
    for (const path of extra) {
      const element = elementAt(path);
      if (element) this.#paint(element);
    }
  }

  /** What lies in something painted and takes part in its layout. */
  #markShaping(): void {
    for (const element of this.all) {
      if (this.of.has(element) || document.head.contains(element)) continue;
      const parent = element.parentElement;
      if (!parent || this.of.get(parent) !== 'painted') continue;
      const style = getComputedStyle(element);
      if (style.display === 'none') {
        this.#mark(element, 'hidden');
        continue;
      }
      const parentDisplay = getComputedStyle(parent).display;
      const outOfFlow = style.position === 'absolute' || style.position === 'fixed';
      const rect = element.getBoundingClientRect();
      if (outOfFlow || rect.right > this.#width + 1 || /flex|grid|table|ruby/.test(parentDisplay))
        this.#mark(element, 'shaping');
      // A child that starts just below the fold still takes part in how margins above it collapse.
      else if (rect.top < this.#foldHeight + 200) this.#mark(element, 'shaping');
    }
  }

  /** What lies in a table's cells widens its columns; what lies beside the fold in a row makes it higher. */
  #markTables(): void {
    for (const element of this.all) {
      if (this.of.has(element)) continue;
      const table = element.closest('table');
      if (table && this.of.get(table) === 'painted') this.#mark(element, 'shaping');
      else if (element.parentElement && this.of.get(element.parentElement) === 'shaping') {
        const rect = element.getBoundingClientRect();
        const beside = rect.left >= this.#width || rect.right <= 0;
        if (rect.top < this.#foldHeight && beside && rect.height > 0) this.#mark(element, 'shaping');
      }
    }
  }
}

function withInside(selector: string): Element[] {
  return allBy(selector).flatMap((one) => [one, ...one.querySelectorAll('*')]);
}
