import { BUDGET_BYTES, giveUps, isMostlyEmbedded } from '../../core/fold/budget.ts';
import { isSheet, type FoldDecision } from '../../core/fold/decisions.ts';
import {
  bytesOf,
  compressedBytes,
  makeFoldCss,
  type FoldSet,
  type FoldSheet,
} from '../../core/fold/fold-css.ts';
import { restOf } from '../../core/fold/late-rest.ts';
import type { RestMode } from '../../core/fold/rest-mode.ts';
import type { LateProof, LateRest, StoredAnswers } from '../../core/fold/record.ts';
import { breakpointsIn, questionsOf, type SheetQuestions } from '../../core/fold/sheet-index.ts';
import {
  FOLD_VIEWPORTS,
  nameOfViewport,
  viewportsBetween,
  type FoldViewport,
} from '../../core/fold/viewports.ts';
import type { FlatSheet } from '../../core/css/flatten.ts';
import { outlineText } from '../../core/css/outline.ts';
import type { StyleElement } from '../../core/html/assets.ts';
import { latin1, rewrite, structureOf, type Edit } from '../../core/html/document.ts';
import { attributeValue, styleElement } from '../../core/html/markup.ts';
import type { Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { EMBEDDED_FILES } from '../../core/words/embedded-files.ts';
import { stopIfCancelled } from '../errors.ts';
import type { Visit } from '../chromium/visit.ts';
import { emulateDevice } from '../chromium/emulate.ts';
import { AS_AUTHORED, FoldStage, resizeTo } from './fold-stage.ts';
import type { FoldResult, PicturedProof } from './fold-result.ts';
import { GatheredAnswers, type MoreToAsk } from './gather-answers.ts';
import { FoldProof, holdsHere, MOST_MASKED, PROOF_LIMIT } from './fold-proof.ts';
import { lookAt, missedBelow, missedElements, otherBoxes, type Look, type LookDifference } from './look.ts';
import { References } from './references.ts';
import { linkedSheets, screenLinks } from '../../core/page/linked-sheets.ts';
import { minifyCss } from './minify.ts';
import { comparePictures } from './pictures.ts';

export interface FoldRequest {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  state: VisitState | null;
  viewports?: readonly FoldViewport[];
  decisions?: readonly FoldDecision[];
  budgetBytes?: number;
  rest?: RestMode;
  /** What the other pages of the family said: the set then serves them all. */
  family?: readonly StoredAnswers[];
  /** For `used-only`: what other measured pages of the site use, and those of which that is not known. */
  elsewhere?: UseElsewhere;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** Which rules other pages use. */
export interface UseElsewhere {
  /** Keys of rules that something on them uses, in any state. */
  used: readonly string[];
  /** Measured pages that were not asked yet. */
  unknown: readonly string[];
}

/** Layout shift that the arrival of the late CSS may cause. */
const SHIFT_LIMIT = 0.001;
const MOST_ROUNDS = 4;
const STEPS = 6;

/** Makes and proves the fold CSS of a captured page, without touching the live site. */
export async function generateFold(request: FoldRequest): Promise<FoldResult> {
  const stage = await FoldStage.open(request.capture, request.bodies, request.state, request.signal);
  try {
    return await generateOnStage(stage, request);
  } finally {
    await stage.close();
  }
}

/** The same on a stage that is open already, for many pages of one capture. */
export function generateOnStage(
  stage: FoldStage,
  request: Omit<FoldRequest, 'capture' | 'bodies' | 'state'>,
): Promise<FoldResult> {
  return new FoldGeneration(stage, request).run();
}

class FoldGeneration {
  #stage: FoldStage;
  #request: Omit<FoldRequest, 'capture' | 'bodies' | 'state'>;
  #viewports: readonly FoldViewport[];
  #proof: FoldProof;
  #decisions: readonly FoldDecision[];
  #base: string;
  #sheets: FlatSheet[] = [];
  #unsure = new Set<string>();
  #questions: SheetQuestions = questionsOf([]);
  #gathered = new GatheredAnswers();
  #remarks: string[] = [];
  #choosingMs = 0;
  #askingMs = 0;

  constructor(stage: FoldStage, request: Omit<FoldRequest, 'capture' | 'bodies' | 'state'>) {
    this.#stage = stage;
    this.#request = request;
    this.#viewports = request.viewports?.length ? request.viewports : FOLD_VIEWPORTS;
    this.#decisions = request.decisions ?? [];
    this.#base = stage.page.baseUrl;
    this.#proof = new FoldProof(stage, this.#viewports, [], this.#masked());
  }

  async run(): Promise<FoldResult> {
    const started = performance.now();
    const loadedBefore = this.#stage.loadingMs;
    this.#say('Reading the stylesheets', 0);
    this.#readSheets();
    await this.#readAsTheBrowserDoes();

    this.#say('Asking the page with all CSS', 1);
    const references = await this.#lookAtReference();
    for (const stored of this.#request.family ?? []) this.#gathered.join(stored);
    const made = await this.#prove(references);
    const { set, rounds } = made;
    const proofs = await this.#proof.at(references.looks, made);
    this.#say('Proving the page after the rest has arrived', 4);
    const late = await this.#proveLate(set, references);
    this.#remarkOn(proofs, late);

    const css = set.sheets.map((sheet) => sheet.css).join('\n');
    const sources = this.#sheets
      .filter((sheet) => !this.#isLeftOut(sheet.url))
      .flatMap((sheet) => sheet.parts.map((part) => part.text))
      .join('\n');
    const sourceBytes = bytesOf(sources);
    const foldBytes = bytesOf(css);
    const everything = set.sheets.length > 0 && foldBytes > sourceBytes * 0.9 && sourceBytes > 4_000;
    if (everything) this.#remarks.push('Nearly the whole source was kept: that is no fold CSS.');
    const headCompressedBytes = compressedBytes(this.#headWith(set.sheets));
    const budgetBytes = this.#request.budgetBytes ?? BUDGET_BYTES;
    if (headCompressedBytes > budgetBytes && isMostlyEmbedded(css))
      this.#remarks.push(`The fold CSS is over its budget. ${EMBEDDED_FILES}`);
    const totalMs = performance.now() - started;
    return {
      takenAt: new Date().toISOString(),
      sheets: set.sheets,
      css,
      sourceBytes,
      sourceCompressedBytes: compressedBytes(sources),
      foldBytes,
      foldCompressedBytes: compressedBytes(css),
      headCompressedBytes,
      budgetBytes,
      giveUps:
        headCompressedBytes > budgetBytes ? giveUps(set.sheets, this.#viewports.map(nameOfViewport)) : [],
      overridden: set.overridden,
      viewports: proofs,
      late,
      proved: set.sheets.length > 0 && !everything && proofs.every((one) => one.holds) && late.holds,
      remarks: this.#remarks,
      rounds,
      foldFonts: this.#foldFonts(set.sheets),
      decisions: [...this.#decisions],
      fingerprint: {
        sheets: this.#stage.page.sheetHashes,
        structure: structureOf(this.#stage.document).slice(0, this.#gathered.elementsToFold),
      },
      shared: (this.#request.family ?? []).length > 0,
      timings: {
        choosingMs: this.#choosingMs,
        askingMs: this.#askingMs,
        beyondLoadingMs: totalMs - (this.#stage.loadingMs - loadedBefore),
        totalMs,
      },
      answers: this.#gathered.toStore(),
    };
  }

  #say(step: string, done: number): void {
    stopIfCancelled(this.#request.signal);
    this.#request.onProgress?.(step, done, STEPS);
  }

  /** The linked sheets that are there; what is not is kept as authored. */
  #readSheets(): void {
    const started = performance.now();
    const { sheets, missing } = linkedSheets(this.#stage.page);
    this.#sheets = sheets;
    this.#remarks.push(
      ...sheets.flatMap((sheet) => sheet.problems),
      ...missing.map((url) => `${url} is not in the capture: its link stays in the page as authored.`),
    );
    this.#questions = questionsOf(this.#sheets);
    const between = viewportsBetween(this.#viewports, breakpointsIn(this.#questions.media));
    this.#proof = new FoldProof(this.#stage, this.#viewports, between, this.#masked());
    this.#choosingMs += performance.now() - started;
  }

  /** Which selectors the browser rejects, which sheets it reads otherwise, which media are ever met. */
  async #readAsTheBrowserDoes(): Promise<void> {
    const { lists, nestedLists, media } = this.#questions;
    const parts = this.#sheets.flatMap((sheet) => sheet.parts.map((part) => ({ sheet, part })));
    await this.#stage.blank(async (visit) => {
      const { rejected, outlines } = await visit.inPage.call('readAsBrowser', {
        texts: parts.map(({ part }) => part.text),
        lists,
        nestedLists,
        namespaces: this.#questions.namespaces,
      });
      this.#gathered.reject(rejected);
      const set = new Set(rejected);
      parts.forEach(({ sheet, part }, index) => {
        if (outlineText(part.outline, set) === outlines[index]) return;
        if (sheet.parts.length === 1) {
          this.#unsure.add(sheet.url);
          this.#remarks.push(
            `${part.url} holds rules that Chromium reads otherwise than we do, so it is kept whole.`,
          );
        } else {
          this.#sheets = this.#sheets.filter((one) => one !== sheet);
          this.#remarks.push(
            `${part.url} holds rules that Chromium reads otherwise than we do: the link of ${sheet.url} stays in the page as authored.`,
          );
        }
      });
      const meet = async (viewport: FoldViewport, agent: 'phone' | 'desktop') => {
        await emulateDevice(visit.session, { viewport, pixelRatio: 1, touch: false, agent });
        const answers = await visit.inPage.call('liveMedia', media);
        this.#gathered.meet(media.filter((_query, index) => answers[index]));
      };
      // A phone lays a page out at its own width, or far wider where the page does not say that it fits.
      for (const viewport of this.#mediaViewports(media)) {
        await meet(viewport, 'desktop');
        if (viewport.width < 700) await meet(viewport, 'phone');
      }
    });
  }

  /** The chosen viewports, and every width between them at which a media query may change its mind. */
  #mediaViewports(media: readonly string[]): FoldViewport[] {
    const widths = this.#viewports.map((one) => one.width);
    const [least, most] = [Math.min(...widths), Math.max(...widths)];
    const inside = breakpointsIn(media)
      .flatMap((width) => [width - 1, width, width + 1])
      .filter((width) => width > least && width < most);
    const heightAt = (width: number) =>
      [...this.#viewports].sort((a, b) => a.width - b.width).findLast((one) => one.width <= width)!.height;
    return [
      ...this.#proof.everywhere,
      ...[...new Set(inside)].map((width) => ({ width, height: heightAt(width) })),
    ];
  }

  /** What the page looks like as authored, and what it answers, at every viewport. */
  async #lookAtReference(): Promise<References> {
    const more = this.#moreToAsk([]);
    const looks = await this.#proof.look(AS_AUTHORED, {
      first: (visit, viewport) => this.#ask(visit, viewport, more),
      whole: true,
    });
    // A script may set the classes that the first picture needs: the page is asked before any ran, too.
    const { scripts } = this.#stage.page;
    if (scripts.length > 0) {
      const bare = await this.#stage.addVariant(
        'no scripts',
        scripts.map(({ element }) => ({ start: element.start, end: element.end, text: '' })),
      );
      await this.#stage.visit(bare, this.#viewports[0]!, async (visit) => {
        for (const viewport of this.#viewports) {
          if (viewport !== this.#viewports[0]) await resizeTo(visit, viewport);
          await this.#ask(visit, viewport, more);
        }
      });
    }
    return new References(this.#proof, looks);
  }

  async #ask(visit: Visit, viewport: FoldViewport, more: MoreToAsk): Promise<void> {
    const started = performance.now();
    await this.#gathered.ask(visit, viewport, this.#questions, more);
    this.#askingMs += performance.now() - started;
  }

  #moreToAsk(extra: string[]): MoreToAsk {
    const elements = (verb: FoldDecision['verb']) =>
      this.#decisions.filter((one) => one.by === 'element' && one.verb === verb).map((one) => one.what);
    return { extra, keepElements: elements('keep'), leaveElements: elements('leave-out') };
  }

  /** Selectors of what the user left out: where it stands is not compared. */
  #masked(): string[] {
    return this.#decisions
      .filter((one) => one.verb === 'leave-out' && one.by !== 'sheet')
      .map((one) => one.what.replace(/::?(before|after|marker|placeholder|first-line|first-letter)\b/g, ''));
  }

  #isLeftOut(sheetUrl: string): boolean {
    return this.#decisions.some(
      (one) => one.verb === 'leave-out' && one.by === 'sheet' && isSheet(sheetUrl, one.what),
    );
  }

  async #choose(): Promise<FoldSet> {
    const started = performance.now();
    const set = makeFoldCss({
      sheets: this.#sheets,
      unsure: this.#unsure,
      answers: this.#gathered.answers,
      elementsOf: this.#gathered.elementsOf,
      outside: this.#gathered.outside,
      decisions: this.#decisions,
      documentUrl: this.#base,
    });
    this.#choosingMs += performance.now() - started;
    return { ...set, sheets: await this.#minified(set.sheets) };
  }

  /** Each sheet minified where the browser reads the same rules from both; as it was printed where not. */
  async #minified(sheets: readonly FoldSheet[]): Promise<FoldSheet[]> {
    const small = sheets.map((sheet) => (sheet.whole ? sheet.css : minifyCss(sheet.css)));
    const settings = await this.#stage.blank((visit) =>
      visit.inPage.call('settingsOf', [...sheets.map((sheet) => sheet.css), ...small]),
    );
    const same = sheets.map((_sheet, index) =>
      sameSettings(settings[index]!, settings[sheets.length + index]!),
    );
    return sheets.map((sheet, index) => {
      const css = same[index] && small[index]!.length < sheet.css.length ? small[index]! : sheet.css;
      return { ...sheet, css, foldBytes: bytesOf(css) };
    });
  }

  /** Chooses and proves; what was missed is found and added, at most four rounds. */
  async #prove(references: References): Promise<Attempt> {
    const extra = new Map<FoldViewport, Set<string>>();
    for (let round = 1; ; round++) {
      this.#say(`Choosing rules, round ${round}`, 2);
      const set = await this.#choose();
      const attempt = await this.#tryOut(set, references, round);
      if (attempt.differences.every(holdsHere) || round >= MOST_ROUNDS) return attempt;
      const beside = this.#proof.everywhere.map((_viewport, index) =>
        missedElements(references.looks[index]!, attempt.looks[index]!, attempt.differences[index]!),
      );
      if (!this.#adds(extra, beside) && !this.#adds(extra, await this.#missedBelow(attempt))) return attempt;
      for (const { fresh, resized } of this.#proof.tours()) {
        const wanted = [fresh, ...resized].filter((viewport) => extra.get(viewport)?.size);
        if (wanted.length === 0) continue;
        await this.#stage.visit(AS_AUTHORED, fresh, async (visit) => {
          for (const viewport of wanted) {
            if (viewport !== fresh) await resizeTo(visit, viewport);
            const more = this.#moreToAsk([...extra.get(viewport)!]);
            await this.#ask(visit, viewport, more);
          }
        });
      }
    }
  }

  /** Notes places by viewport. @returns whether one is new */
  #adds(extra: Map<FoldViewport, Set<string>>, missed: readonly (readonly string[])[]): boolean {
    let found = false;
    this.#proof.everywhere.forEach((viewport, index) => {
      const known = extra.get(viewport) ?? new Set<string>();
      for (const path of missed[index]!) {
        found ||= !known.has(path);
        known.add(path);
      }
      extra.set(viewport, known);
    });
    return found;
  }

  async #missedBelow({ variant, differences }: Attempt): Promise<string[][]> {
    const authored = await this.#proof.layouts(AS_AUTHORED);
    const folded = await this.#proof.layouts(variant);
    return differences.map((one, index) => missedBelow(authored[index]!, folded[index]!, one));
  }

  async #tryOut(set: FoldSet, references: References, round: number): Promise<Attempt> {
    this.#say(`Proving on the picture, round ${round}`, 3);
    const variant = await this.#stage.addVariant('fold only', this.#foldEdits(set.sheets));
    return { set, variant, ...(await references.against(variant)), rounds: round };
  }

  /** Each link's fold CSS stands in the link's own place, so that inline styles between them keep their order. */
  #foldEdits(sheets: readonly FoldSheet[], after?: (style: StyleElement) => string): Edit[] {
    return screenLinks(this.#stage.page).flatMap((style) => {
      const sheet = sheets.find((one) => one.url === style.url);
      if (!sheet) return [];
      const css = styleElement(this.#stage.document.encoding, sheet.css, style.media);
      return [
        {
          start: style.element.start,
          end: style.element.end,
          text: css + (after?.(style) ?? ''),
        },
      ];
    });
  }

  /** The page down to the end of its head, as it would be served. */
  #headWith(sheets: readonly FoldSheet[]): string {
    const edits = this.#foldEdits(
      sheets,
      (style) =>
        `<link rel="stylesheet" href="${attributeValue(style.url!)}" media="print" onload="this.onload=null;this.media='all'">`,
    );
    const html = latin1(rewrite(this.#stage.document.bytes, edits));
    const body = html.search(/<body[\s>]/i);
    const lastStyle = html.lastIndexOf('</style>');
    return html.slice(0, Math.max(body, lastStyle, 0));
  }

  /** The page after the rest has arrived, held against the page as authored; whole sheets where less does not hold. */
  async #proveLate(set: FoldSet, references: References): Promise<LateRest> {
    const asked = this.#request.rest ?? 'whole';
    const modes: RestMode[] = asked === 'whole' ? ['whole'] : [asked, 'whole'];
    let last: LateRest | null = null;
    for (const mode of modes) {
      const files = mode === 'whole' ? [] : this.#restFiles(set, mode);
      let proofs = await this.#lateProofs(set, files, references.looks, false);
      // Where the page itself is not the same twice, or was not at rest yet, that is no fault of the rest.
      if (!proofs.every((one) => one.holds)) {
        await references.settle();
        proofs = await this.#lateProofs(set, files, references.looks, true);
      }
      last = { asked, mode, files, proofs, holds: proofs.every((one) => one.holds) };
      if (last.holds) break;
      if (mode !== 'whole')
        this.#remarks.push(
          'With fewer rules in the late stylesheets the page was not the same as before: they are loaded whole.',
        );
    }
    const unknown = this.#request.elsewhere?.unknown ?? [];
    if (last!.mode === 'used-only' && unknown.length)
      this.#remarks.push(
        `What ${unknown.join(', ')} ${unknown.length === 1 ? 'uses' : 'use'} is not known, as no fold CSS was made there yet: rules that only they need may be among those set aside.`,
      );
    return last!;
  }

  #restFiles(set: FoldSet, mode: RestMode): LateRest['files'] {
    return set.chosen.flatMap((chosen) => {
      const sheet = this.#sheets.find((one) => one.url === chosen.url)!;
      if (this.#unsure.has(sheet.url)) return [];
      const rest = restOf(sheet, chosen, mode === 'used-only' ? this.#usedAnywhere : null);
      return [{ sheetUrl: sheet.url, ...rest }];
    });
  }

  get #usedAnywhere(): ReadonlySet<string> {
    return new Set([...this.#gathered.everUsed, ...(this.#request.elsewhere?.used ?? [])]);
  }

  async #lateProofs(
    set: FoldSet,
    files: LateRest['files'],
    references: readonly Look[],
    atRest: boolean,
  ): Promise<LateProof[]> {
    const urlOf = (sheetUrl: string) => {
      const index = files.findIndex((file) => file.sheetUrl === sheetUrl);
      return index < 0 ? sheetUrl : new URL(`/wistrel/rest-${index + 1}.css`, this.#stage.url).href;
    };
    const variant = await this.#stage.addVariant(
      'late',
      this.#foldEdits(
        set.sheets,
        (style) =>
          `<link rel="stylesheet" href="${attributeValue(urlOf(style.url!))}" media="print" data-late="${attributeValue(style.media)}">`,
      ),
      files.map((file) => ({
        url: urlOf(file.sheetUrl),
        mimeType: 'text/css',
        body: new TextEncoder().encode(file.css),
        isNew: true,
      })),
    );
    const proofs: LateProof[] = [];
    for (const [index, viewport] of this.#viewports.entries()) {
      const reference = references[index]!;
      proofs.push(
        await this.#stage.visit(variant, viewport, async (visit) => {
          await visit.inPage.call('shiftsSince', true);
          await visit.inPage.call('lateSheetsArrive');
          const layoutShift = await visit.inPage.call('shiftsSince', false);
          const moving = this.#stage.movingPictures;
          const look = await lookAt(visit, viewport, { whole: true, atRest, masked: [], moving });
          const others = otherBoxes(reference.whole!, look.whole!, Infinity, Infinity);
          const { share } = await comparePictures(reference.picture, look.picture, {
            unsteady: reference.unsteady?.areas ?? [],
            free: [...reference.free, ...look.free],
          });
          return {
            ...viewport,
            differingPixelShare: share,
            otherElements: others.length,
            firstOther: others[0] ? `${others[0].box.selector} (${others[0].property ?? 'its place'})` : null,
            layoutShift,
            holds: share <= PROOF_LIMIT && others.length === 0 && layoutShift <= SHIFT_LIMIT,
          };
        }),
      );
    }
    return proofs;
  }

  #remarkOn(proofs: readonly PicturedProof[], late: LateRest): void {
    for (const proof of proofs) {
      const at = nameOfViewport(proof);
      if (proof.blank)
        this.#remarks.push(`The picture with all CSS at ${at} is blank: nothing can be proved with it.`);
      else if (proof.undecided)
        this.#remarks.push(
          `At ${at} the page itself is not the same twice: ${percent(proof.unsteady!.share)} of the picture above the fold differs between two loads of it (${proof.unsteady!.elements.join(', ') || 'an area without a name'}). More than a tenth: undecided.`,
        );
      else if (proof.maskedShare > MOST_MASKED)
        this.#remarks.push(
          `At ${at} what you left out covers ${percent(proof.maskedShare)} of the picture: the rest proves too little.`,
        );
      else if (!proof.holds)
        this.#remarks.push(
          `At ${at} ${percent(proof.differingPixelShare)} of the pixels above the fold differ, and ${proof.otherElements} elements stand or look otherwise.`,
        );
    }
    const masked = proofs.filter((one) => one.holds && one.unsteady && one.unsteady.share > 0);
    if (masked.length)
      this.#remarks.push(
        `The page itself is not the same twice (${[...new Set(masked.flatMap((one) => one.unsteady!.elements))].join(', ') || 'an area without a name'}): up to ${percent(Math.max(...masked.map((one) => one.unsteady!.share)))} of the picture above the fold was not compared.`,
      );
    for (const proof of late.proofs) {
      if (proof.holds) continue;
      this.#remarks.push(
        `At ${nameOfViewport(proof)}, after the rest has arrived, ${percent(proof.differingPixelShare)} of the pixels and ${proof.otherElements} elements differ from the page as authored${proof.firstOther ? `, the first being ${proof.firstOther}` : ''}; its arrival shifted the layout by ${proof.layoutShift.toFixed(3)}.`,
      );
    }
  }

  /** Font files that the kept faces name and the capture holds. */
  #foldFonts(folded: readonly FoldSheet[]): string[] {
    const fonts = this.#stage.capture.exchanges.filter((one) => one.kind === 'font').map((one) => one.url);
    return fonts.filter((url) => {
      const { pathname, origin } = new URL(url);
      const written = origin === new URL(this.#stage.url).origin ? pathname : url;
      return folded.some((sheet) => sheet.css.includes(written));
    });
  }
}

interface Attempt {
  set: FoldSet;
  variant: string;
  looks: Look[];
  differences: LookDifference[];
  rounds: number;
}

function sameSettings(one: [string, string][], other: [string, string][]): boolean {
  const found = new Map(other);
  return one.length === other.length && one.every(([key, value]) => found.get(key) === value);
}

function percent(share: number): string {
  return `${(share * 100).toFixed(2)} %`;
}
