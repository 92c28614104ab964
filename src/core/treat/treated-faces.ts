import { fitFaces, type FittedSheet } from '../css/fit-faces.ts';
import { swapFaces } from '../css/swap-faces.ts';
import type { FaceFit } from '../fonts/fit.ts';
import { rulePlaces, type RulePlace } from '../fonts/rule-places.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { partyOf } from '../path/party.ts';
import type { RuleContribution } from './contribution.ts';
import type { PlanRule } from './plan.ts';
import { policyRefusal } from './policy.ts';

/** A place whose rules become others. */
export interface TreatedPlace {
  place: RulePlace;
  css: string;
  /** The first rule that changes it. */
  rule: PlanRule;
  /** Each face and each list of families that changes, as it was and as it is. */
  parts: { rule: PlanRule; title: string; before: string; after: string }[];
}

/** What a plan does to the faces of fonts, wherever their rules stand: which families swap, and what stands in for them. */
export class TreatedFaces {
  readonly #page: PageAssets;
  #swaps: { place: RulePlace; family: string; rule: PlanRule }[] = [];
  #fits: { fit: FaceFit; rule: PlanRule }[] = [];

  constructor(page: PageAssets, contributions: readonly RuleContribution[]) {
    this.#page = page;
    for (const { rule, contribution } of contributions) {
      this.#swaps.push(...(contribution.faceSwaps ?? []).map((one) => ({ ...one, rule })));
      this.#fits.push(...(contribution.faceFits ?? []).map((fit) => ({ fit, rule })));
    }
  }

  /** Rules that treating makes or moves, with the same done to them. */
  in(css: string): string {
    const families = new Set(this.#swaps.map((one) => one.family));
    return this.#fit(families.size ? swapFaces(css, families).css : css).css;
  }

  /** The places that change. */
  get places(): TreatedPlace[] {
    if (this.#swaps.length === 0 && this.#fits.length === 0) return [];
    return rulePlaces(this.#page.captured).flatMap(({ place }) => {
      const swaps = this.#swaps.filter((one) => isSame(one.place, place));
      // Lists of families stand where no face is declared as well.
      return swaps.length > 0 || this.#isOwn(place) ? (this.#treated(place, swaps) ?? []) : [];
    });
  }

  #isOwn({ url }: RulePlace): boolean {
    return url === null
      ? policyRefusal(this.#page, [['style']]) === null
      : partyOf(url, this.#page.documentUrl) === 'first';
  }

  #treated(place: RulePlace, swaps: readonly { family: string; rule: PlanRule }[]): TreatedPlace | null {
    if (place.element?.isVerbatim === false) return null;
    const before = place.url === null ? place.element.text : (this.#page.captured.text(place.url) ?? '');
    const swapped = swapFaces(before, new Set(swaps.map((one) => one.family)));
    const fitted = this.#fit(swapped.css);
    const rule = swaps[0]?.rule ?? this.#fits[0]?.rule;
    if (fitted.css === before || !rule) return null;
    const parts: TreatedPlace['parts'] = swapped.faces.flatMap((face) => {
      const of = swaps.find((one) => one.family === face.family)?.rule;
      return of ? { rule: of, title: `${face.family}: swap`, before: face.before, after: face.after } : [];
    });
    for (const { families, before: was, after } of fitted.changes) {
      const of = this.#fits.find((one) => families.includes(one.fit.face.family))!;
      parts.push({ rule: of.rule, title: `${of.fit.face.family}: fallback fitted`, before: was, after });
    }
    return { place, css: fitted.css, rule, parts };
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
