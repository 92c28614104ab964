import { cutFaces, type CutSheet, type FaceCut } from '../css/cut-faces.ts';
import { fitFaces, type FittedSheet } from '../css/fit-faces.ts';
import { swapFaces } from '../css/swap-faces.ts';
import type { FaceFit } from '../fonts/fit.ts';
import { rebase, type AddressesOf } from '../css/urls.ts';
import { rulePlaces, type RulePlace } from '../fonts/rule-places.ts';
import { resolve } from '../html/assets.ts';
import { withBehindFiles, type BehindFile, type LighterSheet } from '../images/behind-files.ts';
import type { PageAssets } from '../page/page-assets.ts';
import type { RuleContribution } from './contribution.ts';
import { addressIn } from './new-files.ts';
import { isOwnPlace } from './own-places.ts';
import { matchName, type PlanRule } from './plan.ts';

/** A place whose rules become others. */
export interface TreatedPlace {
  place: RulePlace;
  css: string;
  /** The first rule that changes it. */
  rule: PlanRule;
  /** Each face, list of families and rule that changes, as it was and as it is. */
  parts: { rule: PlanRule; title: string; before: string; after: string }[];
}

/**
 * What a plan does to style rules, wherever they stand: which families of fonts swap, what stands in for them, which ask
 * for a smaller file first, and what other files stand beside those behind elements.
 */
export class TreatedRules {
  readonly #page: PageAssets;
  #swaps: { place: RulePlace; family: string; rule: PlanRule }[] = [];
  #fits: { fit: FaceFit; rule: PlanRule }[] = [];
  #cuts = new Map<string, FaceCut & { rule: PlanRule }>();
  #behind = new Map<string, BehindFile & { rule: PlanRule }>();

  constructor(page: PageAssets, contributions: readonly RuleContribution[]) {
    this.#page = page;
    for (const { rule, contribution } of contributions) {
      this.#swaps.push(...(contribution.faceSwaps ?? []).map((one) => ({ ...one, rule })));
      this.#fits.push(...(contribution.faceFits ?? []).map((fit) => ({ fit, rule })));
      for (const cut of contribution.faceCuts ?? []) this.#cuts.set(cut.url, { ...cut, rule });
      for (const [url, file] of contribution.behind ?? []) this.#behind.set(url, { ...file, rule });
    }
  }

  /** Rules that treating makes or moves, with the same done to them: their addresses are those of the document. */
  in(css: string): string {
    const families = new Set(this.#swaps.map((one) => one.family));
    const faces = this.#fit(swapFaces(css, families).css).css;
    const { baseUrl } = this.#page.captured;
    return this.#besides(this.#cut(faces, null, baseUrl).css, null, baseUrl).css;
  }

  /** The places that change. */
  get places(): TreatedPlace[] {
    if (this.#swaps.length + this.#fits.length + this.#cuts.size + this.#behind.size === 0) return [];
    return rulePlaces(this.#page.captured).flatMap(({ place, base }) => {
      const swaps = this.#swaps.filter((one) => isSame(one.place, place));
      // Lists of families stand where no face is declared as well.
      return swaps.length > 0 || isOwnPlace(this.#page, place)
        ? (this.#treated(place, base, swaps) ?? [])
        : [];
    });
  }

  #treated(
    place: RulePlace,
    base: string,
    swaps: readonly { family: string; rule: PlanRule }[],
  ): TreatedPlace | null {
    if (place.element?.isVerbatim === false) return null;
    const before = place.url === null ? place.element.text : (this.#page.captured.text(place.url) ?? '');
    const swapped = swapFaces(before, new Set(swaps.map((one) => one.family)));
    const fitted = this.#fit(swapped.css);
    const cut = this.#cut(fitted.css, place.url, base);
    const lighter = this.#besides(cut.css, place.url, base);
    const parts: TreatedPlace['parts'] = swapped.faces.flatMap((face) => {
      const of = swaps.find((one) => one.family === face.family)?.rule;
      return of ? { rule: of, title: `${face.family}: swap`, before: face.before, after: face.after } : [];
    });
    for (const { families, before: was, after } of fitted.changes) {
      const of = this.#fits.find((one) => families.includes(one.fit.face.family))!;
      parts.push({ rule: of.rule, title: `${of.fit.face.family}: fallback fitted`, before: was, after });
    }
    for (const { url, before: was, after } of cut.changes) {
      const { rule } = this.#cuts.get(url)!;
      parts.push({ rule, title: `${matchName(rule.match)}: subset`, before: was, after });
    }
    for (const { urls, before: was, after } of lighter.changes)
      for (const url of urls) {
        const { rule } = this.#behind.get(url)!;
        parts.push({ rule, title: `${matchName(rule.match)}: lighter files`, before: was, after });
      }
    const rule = swaps[0]?.rule ?? this.#fits[0]?.rule ?? parts[0]?.rule;
    return lighter.css === before || !rule ? null : { place, css: lighter.css, rule, parts };
  }

  /**
   * @param sheet the file that the text stands in; null for the page itself, and for files that treating makes
   * @param base what addresses in it are taken from
   */
  #besides(css: string, sheet: string | null, base: string): LighterSheet {
    return withBehindFiles(css, this.#addresses(sheet, base), this.#behind);
  }

  #cut(css: string, sheet: string | null, base: string): CutSheet {
    return cutFaces(css, this.#addresses(sheet, base), this.#cuts);
  }

  #addresses(sheet: string | null, base: string): AddressesOf {
    return {
      read: (address) => resolve(address, base),
      write: (url) => (sheet === null ? addressIn(this.#page, url) : rebase(url, url, sheet)),
    };
  }

  #fit(css: string): FittedSheet {
    return fitFaces(
      css,
      this.#fits.map((one) => one.fit),
    );
  }
}

const isSame = (one: RulePlace, other: RulePlace) =>
  one.url === other.url && one.element?.start === other.element?.start;
