import type { PageAssets, PageScript, PageStyle } from '../page/page-assets.ts';
import { authoredMoment } from './order.ts';

/** Attributes that say nothing but where a file is and how it is read. Whatever else an element says is lost in a row. */
const SCRIPT_ATTRIBUTES = new Set([
  'src',
  'type',
  'language',
  'charset',
  'defer',
  'crossorigin',
  'integrity',
  'nonce',
]);
const LINK_ATTRIBUTES = new Set([
  'rel',
  'href',
  'type',
  'media',
  'charset',
  'crossorigin',
  'integrity',
  'nonce',
]);

interface Rows {
  scripts: readonly PageScript[][];
  styles: readonly PageStyle[][];
}

const known = new WeakMap<PageAssets, Rows>();

/**
 * Scripts of one's own that run one straight after the other, and so could stand in one file: nothing but white space
 * between those that hold the parser, no other one between those that are deferred. Empty where there is only one.
 */
export function scriptRow(script: PageScript, page: PageAssets): readonly PageScript[] {
  return rowsOf(page).scripts.find((row) => row.includes(script)) ?? [];
}

/** Stylesheets of one's own that apply one straight after the other, for the same media. Empty where there is only one. */
export function sheetRow(style: PageStyle, page: PageAssets): readonly PageStyle[] {
  return rowsOf(page).styles.find((row) => row.includes(style)) ?? [];
}

function rowsOf(page: PageAssets): Rows {
  let found = known.get(page);
  if (!found) {
    const blocking = page.scripts.filter((one) => authoredMoment(one) === 'place');
    const deferred = page.scripts.filter((one) => authoredMoment(one) === 'parsed');
    found = {
      scripts: [
        ...rowsIn(blocking, canStand, (a, b) => isNothingBetween(page, a, b)),
        ...rowsIn(deferred, canStand, () => true),
      ],
      styles: rowsIn(
        page.styles,
        canApply,
        (a, b) => a.element.media === b.element.media && isNothingBetween(page, a, b),
      ),
    };
    known.set(page, found);
  }
  return found;
}

function rowsIn<T extends PageScript | PageStyle>(
  all: readonly T[],
  can: (one: T) => boolean,
  goOn: (before: T, after: T) => boolean,
): T[][] {
  const rows: T[][] = [];
  let row: T[] = [];
  for (const one of all) {
    const last = row.at(-1);
    // A file that is asked for twice is found twice by its address.
    const isNext =
      last !== undefined && goOn(last, one) && !row.some(({ element }) => element.url === one.element.url);
    if (!can(one)) row = [];
    else if (isNext) row.push(one);
    else rows.push((row = [one]));
  }
  return rows.filter(({ length }) => length > 1);
}

function canStand({ element: { url, module, element }, party }: PageScript): boolean {
  return url !== null && !module && party === 'first' && saysOnly(element.attributes, SCRIPT_ATTRIBUTES);
}

function canApply({ element: { url, element, printOnly }, party }: PageStyle): boolean {
  return url !== null && !printOnly && party === 'first' && saysOnly(element.attributes, LINK_ATTRIBUTES);
}

function saysOnly(attributes: Readonly<Record<string, string>>, names: ReadonlySet<string>): boolean {
  return Object.keys(attributes).every((name) => names.has(name));
}

/** Whether nothing but white space and comments stands between two elements. */
function isNothingBetween(
  { document: { bytes } }: PageAssets,
  { element: { element: before } }: PageScript | PageStyle,
  { element: { element: after } }: PageScript | PageStyle,
): boolean {
  const between = new TextDecoder('latin1').decode(bytes.subarray(before.end, after.start));
  return /^(?:\s|<!--(?:(?!-->)[^])*-->)*$/.test(between);
}
