/** What a plan came to on another page of the family. */
export interface FamilyPage {
  pageId: number;
  captureId: number;
  name: string;
  /** How many of its rules that page has assets for. */
  rules: number;
  /** Rules that may not be carried out there, each with what refuses it. */
  refused: { what: string; why: string }[];
  /** Rules of stylesheets that were left out, as that page has no fold CSS that may be used. */
  withoutFold: number;
  /** Rules that rehearsing found at fault there. */
  faults: { what: string; evidence: string }[];
  /** More is at fault there than was found in time. */
  gaveUp: boolean;
  /** How many orders of arrival it was held in. */
  held: number;
}

/** Whether a plan may be put into the page's template for that page's sake. */
export function holdsOn({ refused, faults, withoutFold, gaveUp, held }: FamilyPage): boolean {
  return refused.length + faults.length + withoutFold === 0 && !gaveUp && held > 0;
}

/** What matters most of them, in a sentence. */
export function familySentence(pages: readonly FamilyPage[], family: string): string {
  const broken = pages.filter((one) => one.faults.length > 0 || one.gaveUp);
  const refused = pages.filter((one) => !broken.includes(one) && one.refused.length > 0);
  const rest = pages.filter((one) => ![...broken, ...refused].includes(one) && !holdsOn(one));
  const bare = rest.filter((one) => one.withoutFold > 0);
  const apart = rest.filter((one) => one.withoutFold === 0 && one.rules === 0);
  const unknown = rest.filter((one) => one.withoutFold === 0 && one.rules > 0);
  const good = pages.length - broken.length - refused.length - rest.length;
  const of =
    pages.length === 1
      ? `the other page of ${family}`
      : `${good} of ${pages.length} other pages of ${family}`;
  if (good === pages.length)
    return pages.length === 1
      ? `The plan holds on ${of} too.`
      : `The plan holds on all ${pages.length} other pages of ${family} too.`;
  const parts = [
    broken.length ? `it breaks ${listed(broken)}` : '',
    refused.length ? `some of it may not be put into ${listed(refused)}` : '',
    bare.length ? `the stylesheets of ${listed(bare)} were not tried, for want of fold CSS there` : '',
    apart.length ? `nothing that it is about is on ${listed(apart)}` : '',
    unknown.length ? `it could not be tried on ${listed(unknown)}` : '',
  ].filter(Boolean);
  const first = good
    ? `The plan holds on ${of}, but `
    : broken.length + refused.length
      ? 'The plan is not for the whole family: '
      : 'Not all was tried: ';
  return `${first}${parts.join('; ')}.`;
}

function listed(pages: readonly FamilyPage[]): string {
  const names = pages.map(({ name }) => name);
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}
