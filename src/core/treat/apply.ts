import { lineAt, rewrite, type Edit, type HtmlElement } from '../html/document.ts';
import { attribute, attributeValue, cssIn, markupIn, styleElement } from '../html/markup.ts';
import { readImport } from '../css/flatten.ts';
import { parseSheet } from '../css/parse-sheet.ts';
import { swapFaces } from '../css/swap-faces.ts';
import { urlsIn } from '../css/urls.ts';
import { readFace } from '../fonts/faces.ts';
import { baseUrl, resolve, type ScriptElement, type StyleElement } from '../html/assets.ts';
import { DELAYED_TYPE, DELAY_LOADER } from './delay-loader.ts';
import { findHiding, whySnippetStays } from './hiding.ts';
import { LATE_MEDIA, LATE_SWITCH } from './late-switch.ts';
import { deferGroup, lateSwitchOf, nonceFor, policyRefusal } from './legal.ts';
import type { PageAssets, PageScript, TextSource } from './page-assets.ts';
import {
  activeRules,
  matchText,
  sameMatch,
  TREATMENT_WORDS,
  type Match,
  type Plan,
  type PlanRule,
  type Treatment,
} from './plan.ts';

/** The fold CSS that stands in for one sheet. */
export interface FoldForSheet {
  url: string;
  css: string;
  /** What is loaded late in the sheet's place; the sheet itself where it is null or absent. */
  rest?: string | null;
  /** Why it must not be used, or null. */
  refused?: string | null;
}

/** A file that the treated page needs besides its HTML: new, or an existing one changed. */
export interface TreatedFile {
  url: string;
  mimeType: string;
  text: string;
  isNew: boolean;
}

/** One change to put into the real page: what stood where, and what stands there now. */
export interface Change {
  ruleId: string;
  title: string;
  /** "line 12 of the page", or the file's address. */
  where: string;
  before: string;
  after: string;
}

export interface TreatedPage {
  html: Uint8Array;
  files: TreatedFile[];
  changes: Change[];
  /** Rules that were not applied, each with the reason. */
  notApplied: { ruleId: string; why: string }[];
  /** Addresses that the page itself no longer asks for because of a rule. */
  takenOut: string[];
  /** Nonces that what was put in carries, as this capture's policy names them: a server makes others for each answer. */
  nonces: string[];
}

/** Folder, on the page's own host, of the files that treating makes. */
const NEW_FILES = '/wistrel/';

/** Wide enough to tell what a change is about, short enough to read. */
const SNIPPET_LENGTH = 2_000;

/**
 * Applies a plan to a page's bytes. What no rule touches stays byte for byte. A rule that would break what
 * the page's scripts rely on is not applied, and said so.
 */
export function applyPlan(
  page: PageAssets,
  plan: Plan,
  fold: readonly FoldForSheet[],
  text: TextSource,
): TreatedPage {
  return new PlanApplication(page, plan, fold, text).result();
}

class PlanApplication {
  #page: PageAssets;
  #plan: Plan;
  #fold: readonly FoldForSheet[];
  #text: TextSource;
  #edits: Edit[] = [];
  #changes: Change[] = [];
  #files: TreatedFile[] = [];
  #notApplied: TreatedPage['notApplied'] = [];
  #nonces = new Set<string>();
  #takenOut = new Set<string>();
  #headTags: { ruleId: string; title: string; tag: string }[] = [];
  #swapFamilies = new Set<string>();
  /** Existing sheets whose bytes a rule changes, each with the first such rule. */
  #changedSheets = new Map<string, PlanRule>();
  /** Elements that a rule has changed already: two changes of one element have no meaning. */
  #touched = new Map<HtmlElement, PlanRule>();
  /** Scripts of ours that rules need in the head, once each, by the first of these rules. */
  #headScripts = new Map<string, { rule: PlanRule; title: string }>();

  constructor(page: PageAssets, plan: Plan, fold: readonly FoldForSheet[], text: TextSource) {
    this.#page = page;
    this.#plan = plan;
    this.#fold = fold;
    this.#text = text;
  }

  result(): TreatedPage {
    const rules = activeRules(this.#plan);
    this.#fonts(rules.filter((rule) => rule.kind === 'font'));
    this.#hosts(rules.filter((rule) => rule.kind === 'host'));
    this.#styles(rules.filter((rule) => rule.kind === 'stylesheet'));
    this.#scripts(rules.filter((rule) => rule.kind === 'script'));
    this.#integrities();
    this.#head();
    return {
      html: rewrite(this.#page.document.bytes, this.#edits),
      files: this.#files,
      changes: this.#changes,
      notApplied: this.#notApplied,
      nonces: [...this.#nonces],
      takenOut: [...this.#takenOut],
    };
  }

  /** What goes with an element: its own file, and what an inline script made the page ask for in the run. */
  #takeOut({ url, element }: ScriptElement | StyleElement): void {
    if (url !== null) {
      this.#takenOut.add(url);
      return;
    }
    const lastLine = element.line + element.text.split('\n').length - 1;
    for (const { discovery, url: asked } of this.#page.requests)
      if (
        discovery.by === 'script' &&
        discovery.url === this.#page.documentUrl &&
        discovery.line !== null &&
        discovery.line >= element.line &&
        discovery.line <= lastLine
      )
        this.#takenOut.add(asked);
  }

  /** Whether an element is still free for a rule; where another one has it, the rule is refused. */
  #isFree(rule: PlanRule, element: HtmlElement): boolean {
    const other = this.#touched.get(element);
    if (!other) {
      this.#touched.set(element, rule);
      return true;
    }
    if (other !== rule)
      this.#refuse(rule, `Rule ${other.id} (${TREATMENT_WORDS[other.treatment]}) is about the same element.`);
    return false;
  }

  #replace(rule: PlanRule, element: HtmlElement, after: string): void {
    if (!this.#isFree(rule, element)) return;
    this.#edits.push({ start: element.start, end: element.end, text: this.#markup(after) });
    this.#tell(rule, element, after);
  }

  /** Text of an inline script stays byte for byte: only its start tag is another. */
  #delay(rule: PlanRule, { element: { element, module } }: PageScript): void {
    if (!this.#isFree(rule, element)) return;
    const { start, contentStart, end, attributes, text } = element;
    const tag = delayedTag(attributes, module);
    const external = attributes['src'] !== undefined;
    this.#edits.push({
      start,
      end: external ? end : contentStart,
      text: this.#markup(external ? `${tag}</script>` : tag),
    });
    this.#tell(rule, element, `${tag}${external ? '' : text}</script>`);
  }

  #tell(rule: PlanRule, element: HtmlElement, after: string): void {
    const { bytes } = this.#page.document;
    this.#changes.push({
      ruleId: rule.id,
      title: `${nameOf(rule.match)}: ${TREATMENT_WORDS[rule.treatment]}`,
      where: `line ${lineAt(bytes, element.start)} of the page`,
      before: this.#source(element).slice(0, SNIPPET_LENGTH),
      after: after.slice(0, SNIPPET_LENGTH * 20),
    });
  }

  #source({ start, end }: Pick<HtmlElement, 'start' | 'end'>): string {
    const { bytes, encoding } = this.#page.document;
    return new TextDecoder(encoding).decode(bytes.subarray(start, end));
  }

  #markup(text: string): string {
    return markupIn(this.#page.document.encoding, text);
  }

  /** Files that treating makes are UTF-8; the page's own encoding would be taken for theirs. */
  #cssFile(css: string): string {
    return cssIn(this.#page.document.encoding, css);
  }

  #refuse(rule: PlanRule, why: string): void {
    this.#notApplied.push({ ruleId: rule.id, why });
  }

  #styles(rules: readonly PlanRule[]): void {
    for (const rule of rules) {
      const styles = this.#page.styles.filter(
        (style) => style.element.url !== null && sameMatch(style.match, rule.match),
      );
      if (styles.length === 0) this.#refuse(rule, 'The page has no such stylesheet.');
      for (const style of styles) {
        const element = style.element.element;
        if (rule.treatment === 'left-out') {
          this.#replace(rule, element, '');
          this.#takeOut(style.element);
          continue;
        }
        const policy = isLate(rule.treatment) ? policyRefusal(this.#page, rule.treatment) : null;
        if (policy) {
          this.#refuse(rule, `Not put in: ${policy}. Let it through there and measure again.`);
          continue;
        }
        const fold = this.#fold.find((one) => one.url === style.element.url);
        if (rule.treatment === 'fold-css-late' && !fold) {
          this.#refuse(rule, 'There is no fold CSS for it: generate it first.');
          continue;
        }
        if (rule.treatment === 'fold-css-late' && fold?.refused) {
          this.#refuse(rule, fold.refused);
          continue;
        }
        const rest = rule.treatment === 'fold-css-late' ? this.#restFile(fold!) : null;
        if (rest !== null) this.#takeOut(style.element);
        const css = rule.treatment === 'fold-css-late' ? this.#swapped(fold!.css) : '';
        // Each link's fold CSS stands in the link's own place, so the order of the cascade is kept.
        const { encoding } = this.#page.document;
        const { media } = style.element;
        const inline = css ? styleElement(encoding, css, media, this.#nonce('style')) : '';
        const by = lateSwitchOf(this.#page);
        if (by === 'script')
          this.#needs(LATE_SWITCH, rule, 'What lets late stylesheets apply once they are there');
        const changed = rest !== null || this.#changedSheets.has(style.element.url!);
        const link = { source: this.#source(element), element, media, rest, changed };
        this.#replace(rule, element, inline + lateLink(link, by));
      }
    }
  }

  /** Address of the file that stands for a sheet's late rest; null where the sheet itself is loaded. */
  #restFile(fold: FoldForSheet): string | null {
    if (fold.rest === null || fold.rest === undefined) return null;
    const number = this.#fold.indexOf(fold) + 1;
    const url = new URL(`${NEW_FILES}rest-${number}.css`, this.#page.documentUrl);
    if (!this.#files.some((file) => file.url === url.href))
      this.#files.push({
        url: url.href,
        mimeType: 'text/css',
        text: this.#cssFile(this.#swapped(fold.rest)),
        isNew: true,
      });
    return this.#address(url.href);
  }

  #swapped(css: string): string {
    return this.#swapFamilies.size ? swapFaces(css, this.#swapFamilies).css : css;
  }

  #scripts(rules: readonly PlanRule[]): void {
    const find = (match: Match) => this.#page.scripts.filter((script) => sameMatch(script.match, match));
    const chosen = (treatment: string) =>
      rules
        .filter((rule) => rule.treatment === treatment)
        .flatMap((rule) => find(rule.match).map((script) => ({ rule, script })));
    const deferring = chosen('defer');
    const moving = chosen('after-libraries');
    const elsewhere = new Set([...chosen('delay'), ...chosen('left-out')].map(({ script }) => script));
    const group = deferGroup(
      this.#page,
      deferring.map(({ script }) => script),
    );
    const missing = group.moved.filter(
      (script) => !moving.some((one) => one.script === script) && !elsewhere.has(script),
    );

    for (const { rule, script } of deferring) {
      const refused = group.refused.get(script);
      const stuck = missing.find((one) =>
        one.facts.reads.some((read) => script.facts.defines.includes(read.name)),
      );
      if (refused) this.#refuse(rule, `Not deferred: ${refused}.`);
      else if (stuck)
        this.#refuse(
          rule,
          `Not deferred: the inline script at line ${stuck.line} reads it and is not set to follow it.`,
        );
      else this.#replace(rule, script.element.element, this.#withAttribute(script.element.element, 'defer'));
    }
    let number = 0;
    for (const { rule, script } of [...moving].sort((a, b) => a.script.line - b.script.line)) {
      const why =
        script.facts.unreadable ??
        script.facts.findings.find((f) => f.what === 'document.write' || f.what === 'currentScript')?.excerpt;
      if (why) {
        this.#refuse(rule, `It cannot become a file of its own: ${why}`);
        continue;
      }
      const url = new URL(`${NEW_FILES}inline-${++number}.js`, this.#page.documentUrl);
      this.#files.push({
        url: url.href,
        mimeType: 'text/javascript',
        text: script.element.element.text,
        isNew: true,
      });
      this.#replace(
        rule,
        script.element.element,
        this.#asFile(script.element.element, this.#address(url.href)),
      );
    }
    for (const { rule, script } of chosen('async')) {
      if (script.facts.findings.some((f) => f.what === 'document.write'))
        this.#refuse(rule, 'It writes into the page while it is parsed.');
      else this.#replace(rule, script.element.element, this.#withAttribute(script.element.element, 'async'));
    }
    const hidings = findHiding(this.#page);
    const whyStays = (script: PageScript) => {
      const hiding = hidings.find((one) => one.snippet === script || one.enders.includes(script));
      return hiding ? whySnippetStays(this.#page, hiding) : null;
    };
    for (const { rule, script } of chosen('left-out')) {
      const stays = whyStays(script);
      if (stays) {
        this.#refuse(rule, `Not left out: ${stays}.`);
        continue;
      }
      this.#replace(rule, script.element.element, '');
      this.#takeOut(script.element);
      this.#together(rule, find);
    }
    for (const { rule, script } of chosen('delay')) {
      const policy = policyRefusal(this.#page, 'delay');
      if (policy) {
        this.#refuse(rule, `Not delayed: ${policy}. Let it through there and measure again.`);
        continue;
      }
      const stays = whyStays(script);
      if (stays) {
        this.#refuse(rule, `Not delayed: ${stays}.`);
        continue;
      }
      if (script.facts.findings.some((f) => f.what === 'document.write')) {
        this.#refuse(rule, 'It writes into the page while it is parsed.');
        continue;
      }
      this.#needs(DELAY_LOADER, rule, 'What runs delayed scripts at the first interaction');
      this.#delay(rule, script);
      this.#together(rule, find);
    }
    for (const rule of rules)
      if (find(rule.match).length === 0) this.#refuse(rule, 'The page has no such script.');
  }

  /** What goes with a rule: the snippet that hides the page is left out, other scripts are delayed too. */
  #together(rule: PlanRule, find: (match: Match) => PageScript[]): void {
    for (const match of rule.together ?? []) {
      for (const script of find(match)) {
        if (script.element.url === null || rule.treatment === 'left-out') {
          this.#replace(rule, script.element.element, '');
          this.#takeOut(script.element);
        } else this.#delay(rule, script);
      }
    }
  }

  /** The element of an inline script as that of a deferred file; what else it carries (nonce, id) stays. */
  #asFile({ start, contentStart, attributes }: HtmlElement, path: string): string {
    const tag = this.#source({ start, end: contentStart });
    const charset = this.#page.document.encoding === 'utf-8' ? '' : ' charset="utf-8"';
    const added = `${'defer' in attributes ? '' : ' defer'} src="${path}"${charset}`;
    return `${tag.replace(/^<script/i, (name) => name + added)}</script>`;
  }

  #withAttribute(element: HtmlElement, name: 'async' | 'defer'): string {
    const source = this.#source(element);
    if (name in element.attributes) return source;
    return source.replace(/^<script/i, (tag) => `${tag} ${name}`);
  }

  #fonts(rules: readonly PlanRule[]): void {
    const sheets = new Map<string, { family: string; rule: PlanRule }[]>();
    for (const rule of rules) {
      const url = matchText(rule.match);
      if (rule.treatment.includes('preload')) {
        const type = /\.woff2(\?|$)/i.test(url) ? ' type="font/woff2"' : '';
        this.#headTags.push({
          ruleId: rule.id,
          title: `${nameOf(rule.match)}: preload`,
          tag: `<link rel="preload" as="font"${type} href="${attributeValue(this.#address(url))}" crossorigin>`,
        });
      }
      if (!rule.treatment.includes('swap')) continue;
      for (const style of this.#page.styles) this.#findFaces(style.element.url, url, rule, sheets, []);
    }
    for (const [sheetUrl, faces] of sheets) this.#swapIn(sheetUrl, faces);
  }

  /** Finds, through imports, the sheets whose faces name the font file. */
  #findFaces(
    sheetUrl: string | null,
    fontUrl: string,
    planRule: PlanRule,
    sheets: Map<string, { family: string; rule: PlanRule }[]>,
    chain: readonly string[],
  ): void {
    const css = sheetUrl === null ? null : this.#text(sheetUrl);
    if (sheetUrl === null || css === null || chain.includes(sheetUrl)) return;
    const root = parseSheet(css, sheetUrl);
    root.walkAtRules(/^font-face$/i, (rule) => {
      const face = readFace(rule);
      const named = face.sources.flatMap(urlsIn).some((one) => resolve(one, sheetUrl) === fontUrl);
      if (!named || !face.family) return;
      this.#swapFamilies.add(face.family);
      sheets.set(sheetUrl, [...(sheets.get(sheetUrl) ?? []), { family: face.family, rule: planRule }]);
    });
    root.walkAtRules(/^import$/i, (at) => {
      const request = readImport(at.params);
      const url = request && resolve(request.url, sheetUrl);
      if (url) this.#findFaces(url, fontUrl, planRule, sheets, [...chain, sheetUrl]);
    });
  }

  #swapIn(sheetUrl: string, faces: readonly { family: string; rule: PlanRule }[]): void {
    const before = this.#text(sheetUrl)!;
    const { css, faces: swapped } = swapFaces(before, new Set(faces.map((face) => face.family)));
    if (css === before) return;
    this.#files.push({ url: sheetUrl, mimeType: 'text/css', text: this.#cssFile(css), isNew: false });
    this.#changedSheets.set(sheetUrl, faces[0]!.rule);
    for (const face of swapped) {
      const rule = faces.find((one) => one.family === face.family)?.rule;
      if (rule)
        this.#changes.push({
          ruleId: rule.id,
          title: `${face.family}: swap`,
          where: sheetUrl,
          before: face.before,
          after: face.after,
        });
    }
  }

  /** A sheet whose bytes are others no longer is what its link vouches for (Subresource Integrity, section 3.3). */
  #integrities(): void {
    for (const { element } of this.#page.styles) {
      const rule = element.url === null ? undefined : this.#changedSheets.get(element.url);
      const { attributes } = element.element;
      if (!rule || attributes['integrity'] === undefined || this.#touched.has(element.element)) continue;
      this.#replace(rule, element.element, withoutAttribute(this.#source(element.element), 'integrity'));
    }
  }

  #hosts(rules: readonly PlanRule[]): void {
    for (const rule of rules) {
      const origin = matchText(rule.match);
      const link = (more: string) => `<link rel="${rule.treatment}" href="${attributeValue(origin)}"${more}>`;
      const { anonymous, credentialed } = connectionsTo(this.#page, origin);
      const ahead = rule.treatment === 'preconnect';
      this.#headTags.push({
        ruleId: rule.id,
        title: `${nameOf(rule.match)}: ${rule.treatment}`,
        tag:
          (!ahead || credentialed || !anonymous ? link('') : '') +
          (ahead && anonymous ? link(' crossorigin') : ''),
      });
    }
  }

  #head(): void {
    const at = this.#page.document.afterCharset;
    const where = `line ${lineAt(this.#page.document.bytes, at)} of the page, early in the head`;
    const nonce = this.#headScripts.size ? attribute('nonce', this.#nonce('script')) : '';
    const tags = [
      ...this.#headTags,
      ...[...this.#headScripts].map(([code, { rule, title }]) => ({
        ruleId: rule.id,
        title,
        tag: `<script${nonce}>${code}</script>`,
      })),
    ];
    if (tags.length) this.#edits.push({ start: at, end: at, text: tags.map((one) => one.tag).join('') });
    for (const { ruleId, title, tag } of tags)
      this.#changes.push({ ruleId, title, where, before: '', after: tag });
  }

  #nonce(kind: 'style' | 'script'): string | null {
    const nonce = nonceFor(this.#page, kind);
    if (nonce !== null) this.#nonces.add(nonce);
    return nonce;
  }

  #needs(code: string, rule: PlanRule, title: string): void {
    if (!this.#headScripts.has(code)) this.#headScripts.set(code, { rule, title });
  }

  #address(url: string): string {
    const absolute = new URL(url);
    // A path is taken from where the page's <base> says, which may be another host.
    const base = new URL(baseUrl(this.#page.document, this.#page.documentUrl));
    return absolute.origin === base.origin ? absolute.pathname + absolute.search : url;
  }
}

/**
 * Which connections to an origin the page uses: a browser keeps those without credentials apart (Fetch, "obtain a
 * connection"), and one made ahead of the wrong sort is of no use. Fonts and data go without; so does what an
 * element asks for with `crossorigin`, and module scripts.
 */
function connectionsTo(page: PageAssets, origin: string): { anonymous: boolean; credentialed: boolean } {
  const base = baseUrl(page.document, page.documentUrl);
  const without = new Set(
    page.document.elements.flatMap(({ tag, attributes }) => {
      const asksWithout =
        (attributes['crossorigin'] !== undefined && attributes['crossorigin'] !== 'use-credentials') ||
        (tag === 'script' && attributes['type'] === 'module');
      return asksWithout ? (resolve(attributes['src'] ?? attributes['href'] ?? '', base) ?? []) : [];
    }),
  );
  const asked = page.requests.filter((one) => new URL(one.url).origin === origin);
  const isAnonymous = (one: (typeof asked)[number]) =>
    one.kind === 'font' || one.kind === 'data' || without.has(one.url);
  return {
    anonymous: asked.some(isAnonymous),
    credentialed: asked.some((one) => !isAnonymous(one)),
  };
}

function isLate(treatment: Treatment): treatment is 'fold-css-late' | 'late' {
  return treatment === 'fold-css-late' || treatment === 'late';
}

/** A stylesheet link that does not block: it loads for print, and is for its own media once it is there. */
function lateLink(
  {
    source,
    element,
    media,
    rest,
    changed,
  }: {
    source: string;
    element: HtmlElement;
    media: string;
    /** The file that stands in the sheet's place. */
    rest: string | null;
    /** Other bytes come than the author's: what vouches for those does not for these. */
    changed: boolean;
  },
  by: ReturnType<typeof lateSwitchOf>,
): string {
  const own = media || 'all';
  const dropped = [
    'media',
    'onload',
    'rel',
    ...(changed ? ['integrity'] : []),
    ...(rest ? ['crossorigin'] : []),
  ];
  const attributes = Object.entries(element.attributes)
    .filter(([name]) => !dropped.includes(name))
    .map(([name, value]) => attribute(name, name === 'href' && rest ? rest : value))
    .join('');
  const applies =
    by === 'script'
      ? attribute(LATE_MEDIA, own)
      : ` onload="this.onload=null;this.media='${own.replaceAll("'", '&#39;').replaceAll('"', '&quot;')}'"`;
  const link = `<link rel="stylesheet"${attributes} media="print"${applies}>`;
  const fallback = changed && !rest ? withoutAttribute(source, 'integrity') : source;
  return `${link}<noscript>${fallback}</noscript>`;
}

/** A tag's source without one of its attributes; its name may stand quoted elsewhere in it. */
function withoutAttribute(source: string, name: string): string {
  const attribute = new RegExp(`\\s+${name}(\\s*=\\s*("[^"]*"|'[^']*'|[^\\s>]+))?(?=[\\s/>])`, 'i');
  return source.replace(/^<[^>"']*(?:"[^"]*"[^>"']*|'[^']*'[^>"']*)*>/, (tag) => tag.replace(attribute, ''));
}

function delayedTag(attributes: HtmlElement['attributes'], module: boolean): string {
  const kept = Object.entries(attributes)
    .filter(([name]) => !['src', 'type', 'async', 'defer'].includes(name))
    .map(([name, value]) => ` ${name}="${attributeValue(value)}"`)
    .join('');
  const type = module ? ' data-type="module"' : '';
  const src = attributes['src'] === undefined ? '' : ` data-src="${attributeValue(attributes['src'])}"`;
  return `<script type="${DELAYED_TYPE}"${type}${src}${kept}>`;
}

function nameOf(match: Match): string {
  if ('inline' in match) return 'inline script';
  return 'host' in match ? match.host : match.url.split('/').at(-1)?.split('?')[0] || match.url;
}
