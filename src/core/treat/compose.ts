import { lineAt, rewrite, type Edit, type HtmlElement } from '../html/document.ts';
import { attribute, cssIn, markupIn, styleElement } from '../html/markup.ts';
import { attributeEdits } from '../html/tag.ts';
import type { PageAssets } from '../page/page-assets.ts';
import type {
  Contribution,
  ElementChange,
  HeadPart,
  HeadTag,
  NewFile,
  RuleContribution,
} from './contribution.ts';
import { HOLD_ENDS } from './late-switch.ts';
import { addressIn } from './new-files.ts';
import { matchName, type PlanRule } from './plan.ts';
import { nonceFor } from './policy.ts';
import type { Refusal } from './refusal.ts';
import { TreatedRules } from './treated-rules.ts';
import { treatmentLabel } from './treatments/index.ts';

/** A file that the treated page needs besides its HTML: new, or an existing one changed. */
export interface TreatedFile extends NewFile {
  isNew: boolean;
}

/** One change to put into the real page: what stood where, and what stands there now. */
export interface Change {
  ruleId: string;
  title: string;
  /** "line 12 of the page", or the file's address. */
  where: string;
  /** Byte of the page at which it stands; null in a file. */
  at: number | null;
  before: string;
  after: string;
}

/** A page with contributions put together. */
export interface Composed {
  html: Uint8Array;
  files: TreatedFile[];
  changes: Change[];
  /** Rules that were not put in, as another one has changed the same element before. */
  conflicts: { ruleId: string; refusal: Refusal }[];
  /** Addresses that the page itself no longer asks for, on some screens at least. */
  takenOut: string[];
  /** Nonces that what was put in carries, as this capture's policy names them: a server makes others for each answer. */
  nonces: string[];
}

/** The element that holds, while the page loads, the sheets that scripts wait for. */
const HOLD = 'wistrel-hold';

/** Wide enough to tell what a change is about, short enough to read. */
const SNIPPET_LENGTH = 2_000;

/** Puts contributions into a page. What none of them touches stays byte for byte. */
export function compose(page: PageAssets, contributions: readonly RuleContribution[]): Composed {
  return new Composition(page).compose(contributions);
}

class Composition {
  #page: PageAssets;
  #edits: Edit[] = [];
  #changes: Change[] = [];
  #files = new Map<string, TreatedFile>();
  #conflicts: Composed['conflicts'] = [];
  #takenOut = new Set<string>();
  #nonces = new Set<string>();
  /** Elements that a rule has changed already: two changes of one element have no meaning. */
  #touched = new Map<HtmlElement, PlanRule>();
  /** What becomes of these elements. */
  #editsIn = new Map<HtmlElement, readonly Edit[]>();
  #rules: TreatedRules;
  /** Existing sheets whose bytes a rule changes, each with the first such rule. */
  #changedSheets = new Map<string, PlanRule>();

  constructor(page: PageAssets) {
    this.#page = page;
    this.#rules = new TreatedRules(page, []);
  }

  compose(contributions: readonly RuleContribution[]): Composed {
    const all = contributions.filter((one) => this.#claim(one));
    this.#rules = new TreatedRules(this.#page, all);
    this.#treatRules();
    for (const { contribution } of all) {
      for (const file of contribution.files ?? []) this.#addFile(file);
      for (const url of contribution.takenOut ?? []) this.#takenOut.add(url);
    }
    // In the order of the document: what is put in behind one element stands before what is put in before the next.
    const changes = all.flatMap(({ rule, contribution }) =>
      (contribution.elements ?? []).map((change) => ({ rule, change })),
    );
    changes.sort((a, b) => a.change.element.start - b.change.element.start);
    for (const { rule, change } of changes) this.#change(rule, change);
    this.#wrap(all);
    this.#dropIntegrities();
    this.#fillHead(all);
    this.#fillBodyEnd(all);
    return {
      html: rewrite(this.#page.document.bytes, this.#edits),
      files: [...this.#files.values()].filter((file) => file.isNew || !this.#takenOut.has(file.url)),
      // What stands in a file that nothing asks for any more stands in its copy.
      changes: this.#changes.filter(({ where }) => !this.#takenOut.has(where)),
      conflicts: this.#conflicts,
      takenOut: [...this.#takenOut],
      nonces: [...this.#nonces],
    };
  }

  /** Whether a rule's elements are still free: the first rule has them. */
  #claim({ rule, contribution }: RuleContribution): boolean {
    const elements = (contribution.elements ?? []).map((change) => change.element);
    const other = elements.map((one) => this.#touched.get(one)).find((one) => one !== undefined);
    if (other) {
      if (other !== rule)
        this.#conflicts.push({
          ruleId: rule.id,
          refusal: {
            code: 'same-element',
            ruleId: other.id,
            treatment: treatmentLabel(other.kind, other.treatment),
          },
        });
      return false;
    }
    for (const element of elements) this.#touched.set(element, rule);
    return true;
  }

  #treatRules(): void {
    for (const { place, css, rule, parts } of this.#rules.places) {
      const text = this.#cssFile(css);
      if (place.url === null) {
        const { contentStart, contentEnd, attributes } = place.element;
        const nonce = this.#nonce('style');
        if (nonce !== null && attributes['nonce'] !== nonce)
          this.#edits.push(...attributeEdits(this.#page.document, place.element, { nonce }));
        this.#edits.push({ start: contentStart, end: contentEnd, text });
      } else {
        this.#files.set(place.url, { url: place.url, mimeType: 'text/css', content: text, isNew: false });
        this.#changedSheets.set(place.url, rule);
      }
      const at = place.element?.start ?? null;
      const where = place.url ?? `line ${place.element.line} of the page`;
      for (const { rule: of, ...part } of parts) this.#changes.push({ ruleId: of.id, where, at, ...part });
    }
  }

  #addFile(file: NewFile): void {
    const isSheet = file.mimeType === 'text/css' && typeof file.content === 'string';
    const content = isSheet ? this.#cssFile(this.#rules.in(file.content as string)) : file.content;
    this.#files.set(file.url, { ...file, content, isNew: true });
  }

  /** Files that treating makes are UTF-8; the page's own encoding would be taken for theirs. */
  #cssFile(css: string): string {
    return cssIn(this.#page.document.encoding, css);
  }

  #change(rule: PlanRule, change: ElementChange): void {
    const edits = this.#editsOf(change);
    this.#edits.push(...edits);
    this.#editsIn.set(change.element, edits);
    const { bytes, encoding } = this.#page.document;
    const { start, end, line } = change.element;
    const here = edits.map((edit) => ({ ...edit, start: edit.start - start, end: edit.end - start }));
    const decoder = new TextDecoder(encoding);
    this.#changes.push({
      ruleId: rule.id,
      title: titleOf(rule),
      where: `line ${line} of the page`,
      at: start,
      before: decoder.decode(bytes.subarray(start, end)).slice(0, SNIPPET_LENGTH),
      after: decoder.decode(rewrite(bytes.subarray(start, end), here)).slice(0, SNIPPET_LENGTH * 20),
    });
  }

  /** Puts markup around elements, whatever became of them; what is told of it is told of them as they are by then. */
  #wrap(all: readonly RuleContribution[]): void {
    const wraps = all.flatMap(({ rule, contribution }) =>
      (contribution.wraps ?? []).map((wrap) => ({ rule, wrap })),
    );
    wraps.sort((a, b) => a.wrap.element.start - b.wrap.element.start);
    const { bytes, encoding } = this.#page.document;
    const decoder = new TextDecoder(encoding);
    for (const { rule, wrap } of wraps) {
      const { start, end, line } = wrap.element;
      const edits = this.#editsIn.get(wrap.element) ?? [];
      const here = edits.map((edit) => ({ ...edit, start: edit.start - start, end: edit.end - start }));
      const before = decoder.decode(rewrite(bytes.subarray(start, end), here));
      const [opening, closing] = [markupIn(encoding, wrap.before), markupIn(encoding, wrap.after)];
      this.#edits.push({ start, end: start, text: opening }, { start: end, end, text: closing });
      const where = `line ${line} of the page`;
      const after = opening + before + closing;
      this.#changes.push({ ruleId: rule.id, title: titleOf(rule), where, at: start, before, after });
    }
  }

  #editsOf({
    element,
    attributes = {},
    content,
    styleBefore,
    scriptAfter,
    fallback,
    gone,
  }: ElementChange): Edit[] {
    const { document } = this.#page;
    const { bytes, encoding } = document;
    const edits: Edit[] = [];
    if (styleBefore) {
      const { css, media } = styleBefore;
      const text = styleElement(encoding, this.#rules.in(css), media, this.#nonce('style'));
      edits.push({ start: element.start, end: element.start, text });
    }
    if (gone) return [...edits, { start: element.start, end: element.end, text: '' }];
    const changed = this.#vouchesForOthers(element);
    edits.push(
      ...attributeEdits(document, element, { ...attributes, ...(changed ? { integrity: null } : {}) }),
    );
    if (content !== undefined)
      edits.push({ start: element.contentStart, end: element.contentEnd, text: content });
    if (scriptAfter) {
      const given = attribute('src', scriptAfter.src) + attribute('nonce', this.#nonce('script'));
      const text = markupIn(encoding, `<script defer${given}></script>`);
      edits.push({ start: element.end, end: element.end, text });
    }
    if (fallback) {
      const authored = bytes.subarray(element.start, element.end);
      const own = changed ? attributeEdits(document, element, { integrity: null }) : [];
      const here = own.map((edit) => ({
        ...edit,
        start: edit.start - element.start,
        end: edit.end - element.start,
      }));
      const source = new TextDecoder(encoding).decode(rewrite(authored, here));
      edits.push({
        start: element.end,
        end: element.end,
        text: `<noscript>${markupIn(encoding, source)}</noscript>`,
      });
    }
    return edits;
  }

  /** A sheet whose bytes are others no longer is what its link vouches for (Subresource Integrity, section 3.3). */
  #vouchesForOthers(element: HtmlElement): boolean {
    if (element.attributes['integrity'] === undefined) return false;
    const style = this.#page.styles.find((one) => one.element.element === element);
    return typeof style?.element.url === 'string' && this.#changedSheets.has(style.element.url);
  }

  #dropIntegrities(): void {
    for (const { element } of this.#page.styles) {
      const rule = element.url === null ? undefined : this.#changedSheets.get(element.url);
      if (rule && !this.#touched.has(element.element) && this.#vouchesForOthers(element.element))
        this.#change(rule, { element: element.element });
    }
  }

  #fillHead(all: readonly RuleContribution[]): void {
    const tags = all.flatMap(({ rule, contribution }) =>
      (contribution.headTags ?? []).flatMap((one) =>
        this.#atNewAddresses(one.tag, all).map((tag) => ({ ...one, tag, rule })),
      ),
    );
    const own = [
      ...this.#onceEach(all, 'style', ({ headStyles }) => headStyles),
      ...this.#onceEach(all, 'script', ({ headScripts }) => headScripts),
    ];
    // Two rules may ask for the same file ahead: it is asked for once.
    const once = tags.filter(({ tag }, index) => tags.findIndex((one) => one.tag === tag) === index);
    this.#putIn([...once, ...own], this.#page.document.afterCharset, 'early in the head', '\n');
  }

  /** What is asked for ahead is asked for where it stands now; where one of several files is shown, by what says which. */
  #atNewAddresses(tag: string, all: readonly RuleContribution[]): string[] {
    const at = (url: string) => attribute('href', addressIn(this.#page, url));
    for (const { contribution } of all) {
      for (const [from, to] of contribution.moved ?? [])
        if (tag.includes(at(from))) return [tag.replace(at(from), () => attribute('href', to))];
      for (const [from, to] of contribution.chosen ?? [])
        if (tag.includes(at(from)))
          return to.map(({ href, type, media }) =>
            tag.replace(
              at(from),
              () => attribute('href', href) + attribute('type', type) + attribute('media', media),
            ),
          );
    }
    return [tag];
  }

  /** Styles or scripts of ours, each once however many rules need it: the first of them has it. */
  #onceEach(
    all: readonly RuleContribution[],
    kind: 'style' | 'script',
    partsOf: (contribution: Contribution) => readonly HeadPart[] | undefined,
  ): (HeadTag & { rule: PlanRule })[] {
    const found = new Map<string, HeadTag & { rule: PlanRule }>();
    for (const { rule, contribution } of all)
      for (const { text, title, type = null } of partsOf(contribution) ?? [])
        if (!found.has(text)) {
          const given = attribute('type', type) + attribute('nonce', this.#nonce(kind));
          found.set(text, { rule, title, tag: `<${kind}${given}>${text}</${kind}>` });
        }
    return [...found.values()];
  }

  #fillBodyEnd(all: readonly RuleContribution[]): void {
    const tags = all.flatMap(({ rule, contribution }) =>
      (contribution.endTags ?? []).map((one) => ({ ...one, rule })),
    );
    const own = this.#onceEach(all, 'script', ({ endScripts }) => endScripts);
    this.#putIn(
      [...this.#holds(all), ...tags, ...own],
      this.#page.document.bodyEnd,
      'at the end of the body',
    );
  }

  /**
   * Sheets in a shadow tree style nothing of the page, but scripts wait for them as for any other. The tree is the
   * parser's own work (HTML, "shadowrootmode"): where a browser does not know that, nothing waits.
   */
  #holds(all: readonly RuleContribution[]): (HeadTag & { rule: PlanRule })[] {
    const links = all.flatMap(({ contribution }) => contribution.holds ?? []);
    const rule = all.find(({ contribution }) => contribution.holds?.length)?.rule;
    if (!rule) return [];
    const nonce = attribute('nonce', this.#nonce('script'));
    const tag = `<${HOLD} hidden><template shadowrootmode="open">${links.join('')}</template></${HOLD}><script${nonce}>${HOLD_ENDS}</script>`;
    const title = 'What makes scripts wait for the late stylesheets';
    return [{ rule, title, tag }];
  }

  /** @param between stands before each tag, and behind the last one: in the head line ends are no content (HTML, "in head"), in the body they may be */
  #putIn(
    tags: readonly (HeadTag & { rule: PlanRule })[],
    at: number,
    place: string,
    between: '' | '\n' = '',
  ): void {
    if (tags.length === 0) return;
    const { bytes, encoding } = this.#page.document;
    const text = tags.map((one) => between + markupIn(encoding, one.tag)).join('');
    this.#edits.push({ start: at, end: at, text: text + between });
    const where = `line ${lineAt(bytes, at)} of the page, ${place}`;
    for (const { rule, title, tag } of tags)
      this.#changes.push({ ruleId: rule.id, title, where, at, before: '', after: tag });
  }

  #nonce(kind: 'style' | 'script'): string | null {
    const nonce = nonceFor(this.#page, kind);
    if (nonce !== null) this.#nonces.add(nonce);
    return nonce;
  }
}

function titleOf({ match, kind, treatment }: PlanRule): string {
  return `${matchName(match)}: ${treatmentLabel(kind, treatment)}`;
}
