import { LRUCache } from 'lru-cache';
import type { AtRule } from 'postcss';
import { unquote } from '../css/urls.ts';
import type { CapturedPage } from '../page/captured-page.ts';
import { partyOf } from '../path/party.ts';
import { readFace } from './faces.ts';
import { fitFace, type FaceFit, type Letters } from './fit.ts';
import { readMeasures, type FontMeasures } from './measures.ts';
import { rulePlaces } from './rule-places.ts';
import type { Generic } from './stand-ins.ts';

/** Of fonts by the hash of their files: unpacking one takes some hundredths of a second. */
const known = new LRUCache<string, { measures: FontMeasures | null }>({ max: 200 });

/** What makes a face other than its file is; who writes it has fitted the face already (CSS Fonts 5, section 3 and 4). */
const OWN_MEASURES = /^(size-adjust|(ascent|descent|line-gap)-override)$/i;

/** Finds fitted fallbacks for the faces of one page. */
export class Fitting {
  readonly #page: CapturedPage;
  #letters: Letters | null = null;
  #lists: string[][] | null = null;

  constructor(page: CapturedPage) {
    this.#page = page;
  }

  /**
   * @param rule the `@font-face` rule that declares the face
   * @param url its file
   */
  of(rule: AtRule, url: string): FaceFit | null {
    const written = rule.nodes?.findLast((one) => one.type === 'decl' && /^font-family$/i.test(one.prop));
    if (written?.type !== 'decl') return null;
    if (rule.nodes?.some((one) => one.type === 'decl' && OWN_MEASURES.test(one.prop))) return null;
    const measures = this.#measuresOf(url);
    const face = readFace(rule);
    const generic = measures && this.#genericOf(face.family);
    if (!measures || !generic) return null;
    this.#letters ??= lettersOf(this.#page);
    return fitFace(face, unquote(written.value.trim()), measures, this.#letters, generic);
  }

  #measuresOf(url: string): FontMeasures | null {
    const hash = this.#page.exchange(url)?.bodyHash;
    const body = hash && this.#page.body(url);
    if (!body) return null;
    let found = known.get(hash);
    if (!found) known.set(hash, (found = { measures: readMeasures(body) }));
    return found.measures;
  }

  /** What the first list ends in that names the family; null where none does that can be written anew. */
  #genericOf(family: string): Generic | null {
    this.#lists ??= familyLists(this.#page);
    const items = this.#lists.find((list) =>
      list.some((one) => one === family || one.endsWith(` ${family}`) || one.endsWith(` "${family}"`)),
    );
    if (!items) return null;
    return items.includes('monospace') ? 'monospace' : items.includes('serif') ? 'serif' : 'sans-serif';
  }
}

/** The lists of families in a page's own rules, lower case and unquoted; those of others are not written anew. */
function familyLists(page: CapturedPage): string[][] {
  const found: string[][] = [];
  for (const { place, root } of rulePlaces(page)) {
    if (place.url !== null && partyOf(place.url, page.url) !== 'first') continue;
    root.walkDecls(/^(font-family|font|--.+)$/i, ({ value, parent }) => {
      if (parent?.type === 'atrule' && /^font-face$/i.test((parent as AtRule).name)) return;
      found.push(value.split(',').map((one) => unquote(one.trim()).toLowerCase()));
    });
  }
  return found;
}

/** What the page's HTML says, without what is not shown; where scripts write all of it, that is nothing. */
function lettersOf(page: CapturedPage): Letters {
  const found = new Map<number, number>();
  if (!page.hasDocument) return found;
  const shown = shownIn(page.text(page.url) ?? '');
  for (const character of shown) {
    const code = character.codePointAt(0)!;
    found.set(code, (found.get(code) ?? 0) + 1);
  }
  return found;
}

const NOT_SHOWN = ['script', 'style', 'template', 'noscript', 'head'];

/** The text of HTML, in one pass over it: what is captured may be made to take long. */
function shownIn(html: string): string {
  let shown = '';
  for (let at = 0; at < html.length;) {
    const tag = html.indexOf('<', at);
    if (tag < 0) return shown + html.slice(at);
    shown += html.slice(at, tag);
    const name = /[a-z]*/iy;
    name.lastIndex = tag + 1;
    const word = name.exec(html)![0].toLowerCase();
    const closes = html.startsWith('<!--', tag) ? '-->' : NOT_SHOWN.includes(word) ? `</${word}` : '>';
    const end = html.indexOf(closes, tag + 1);
    if (end < 0) return shown;
    at = end + closes.length;
  }
  return shown.replace(/\s+/g, ' ');
}
