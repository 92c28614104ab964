import type { Browser } from 'puppeteer-core';
import { flattenSheet, type FlatSheet } from '../../core/css/flatten.ts';
import type { Concern } from '../../core/fold/declarations.ts';
import type { PaintedFace } from '../../core/fold/closure.ts';
import { bytesOf, compressedBytes, makeFoldCss, type FoldSheet } from '../../core/fold/fold-css.ts';
import { breakpointsIn, questionsOf, type SheetQuestions } from '../../core/fold/sheet-index.ts';
import { scriptsOf, stylesOf } from '../../core/html/assets.ts';
import { attributeValue, readHtml, rewrite, type HtmlDocument } from '../../core/html/document.ts';
import type { Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { emulateDevice } from '../chromium/emulate.ts';
import { goTo, LOAD_LIMITS, openVisit, type Visit } from '../chromium/visit.ts';
import { Trouble } from '../errors.ts';
import { takePicture } from '../load/timed-load.ts';
import { Replay } from '../replay/replay-client.ts';
import { bodyOf, decodeText } from '../stored-page.ts';
import { answerQuestions, liveMedia, readLayout, type FoldLayout } from './in-page.ts';
import { minifyCss } from './minify.ts';
import { comparePictures, isBlank } from './pictures.ts';

export interface FoldViewport {
  width: number;
  height: number;
}

/** Phone and laptop: the viewports fold CSS is made for unless others are named. */
export const FOLD_VIEWPORTS: readonly FoldViewport[] = [
  { width: 390, height: 844 },
  { width: 1440, height: 900 },
];

export interface ViewportProof extends FoldViewport {
  differingPixelShare: number;
  /** PNGs: with all CSS, with the fold CSS only, and their difference. */
  allCss: Uint8Array;
  foldOnly: Uint8Array;
  difference: Uint8Array;
  blank: boolean;
}

export interface FoldResult {
  takenAt: string;
  sheets: FoldSheet[];
  css: string;
  sourceBytes: number;
  sourceCompressedBytes: number;
  foldBytes: number;
  foldCompressedBytes: number;
  viewports: ViewportProof[];
  proved: boolean;
  /** Why it is not proved, or what else is to be known. */
  remarks: string[];
  rounds: number;
  /** Font files that paint text above the fold, by address. */
  foldFonts: string[];
}

export interface FoldRequest {
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  state: VisitState | null;
  viewports?: readonly FoldViewport[];
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** Differing share of pixels above the fold up to which a picture counts as the same. */
export const PROOF_LIMIT = 0.0005;
const MOST_ROUNDS = 4;
const LIMITS = { ...LOAD_LIMITS, loadMs: 30_000, quietMs: 400, afterLoadMs: 4_000 };

/** Makes and proves the fold CSS of a captured page, without touching the live site. */
export async function generateFold(request: FoldRequest): Promise<FoldResult> {
  const { capture, bodies } = request;
  const html = bodyOf(capture, bodies, capture.documentUrl);
  if (!html) throw new Trouble('input', 'The capture holds no HTML of the page. Measure it again.');
  const replay = await Replay.start({
    capture,
    bodies,
    arms: [{ name: 'all', overrides: [] }],
    conditions: null,
  });
  try {
    const chromium = await replay.launchBrowser();
    try {
      return await new FoldGeneration(request, html, replay, chromium.browser).run();
    } finally {
      await chromium.close();
    }
  } finally {
    await replay.close();
  }
}

class FoldGeneration {
  #request: FoldRequest;
  #document: HtmlDocument;
  #html: Uint8Array;
  #replay: Replay;
  #browser: Browser;
  #viewports: readonly FoldViewport[];

  constructor(request: FoldRequest, html: Uint8Array, replay: Replay, browser: Browser) {
    this.#request = request;
    this.#html = html;
    this.#document = readHtml(html);
    this.#replay = replay;
    this.#browser = browser;
    this.#viewports = request.viewports ?? FOLD_VIEWPORTS;
  }

  async run(): Promise<FoldResult> {
    const say = this.#request.onProgress ?? (() => undefined);
    const remarks: string[] = [];
    say('Reading the stylesheets', 0, 6);
    const { sheets, whole } = this.#readSheets();
    for (const url of whole) remarks.push(`${url} could not be read as CSS and is kept as authored.`);
    for (const problem of sheets.flatMap((sheet) => sheet.problems)) remarks.push(problem);
    const questions = questionsOf(sheets);

    say('Taking the pictures with all CSS', 1, 6);
    await this.#addVariant('no scripts', (document) =>
      scriptsOf(document, this.#url).map(({ element }) => ({
        start: element.start,
        end: element.end,
        text: '',
      })),
    );
    const reference = await this.#look('all');

    let extra: string[] = [];
    let made: { folded: FoldSheet[]; faces: PaintedFace[] } = { folded: [], faces: [] };
    let test: Look[] = [];
    let shares: number[] = [];
    let rounds = 0;
    for (;;) {
      rounds++;
      say(`Choosing rules, round ${rounds}`, 2, 6);
      made = await this.#choose(sheets, questions, extra);
      say(`Proving on the picture, round ${rounds}`, 4, 6);
      await this.#addFoldVariant(`fold ${rounds}`, made.folded);
      test = await this.#look(`fold ${rounds}`);
      shares = test.map((one, index) => comparePictures(reference[index]!.picture, one.picture).share);
      if (shares.every((share) => share <= PROOF_LIMIT) || rounds >= MOST_ROUNDS) break;
      const missed = this.#missed(reference, test);
      const more = [...new Set([...extra, ...missed])];
      if (more.length === extra.length) break;
      extra = more;
    }

    const css = made.folded.map((sheet) => sheet.css).join('\n');
    const sourceText = sheets
      .flatMap((sheet) => sheet.parts.map((part) => this.#textOf(part.url) ?? ''))
      .join('\n');
    const viewports = this.#viewports.map((viewport, index): ViewportProof => {
      const { share, difference } = comparePictures(reference[index]!.picture, test[index]!.picture);
      return {
        ...viewport,
        differingPixelShare: share,
        allCss: reference[index]!.picture,
        foldOnly: test[index]!.picture,
        difference,
        blank: isBlank(reference[index]!.picture),
      };
    });
    for (const viewport of viewports) {
      if (viewport.blank)
        remarks.push(
          `The picture with all CSS at ${viewport.width}×${viewport.height} is blank: nothing can be proved with it.`,
        );
      else if (viewport.differingPixelShare > PROOF_LIMIT) {
        remarks.push(
          `${(viewport.differingPixelShare * 100).toFixed(2)} % of the pixels above the fold differ at ${viewport.width}×${viewport.height}.`,
        );
      }
    }
    const sourceBytes = bytesOf(sourceText);
    const foldBytes = bytesOf(css);
    const everything = sheets.length > 0 && foldBytes > sourceBytes * 0.9 && sourceBytes > 4_000;
    if (everything) remarks.push('Nearly the whole source was kept: that is no fold CSS.');
    return {
      takenAt: new Date().toISOString(),
      sheets: made.folded,
      css,
      sourceBytes,
      sourceCompressedBytes: compressedBytes(sourceText),
      foldBytes,
      foldCompressedBytes: compressedBytes(css),
      viewports,
      proved:
        sheets.length > 0 &&
        !everything &&
        viewports.every((one) => !one.blank && one.differingPixelShare <= PROOF_LIMIT),
      remarks,
      rounds,
      foldFonts: this.#foldFonts(made.folded),
    };
  }

  get #url(): string {
    return this.#request.capture.documentUrl;
  }

  #textOf(url: string): string | null {
    const { capture, bodies } = this.#request;
    return decodeText(capture, bodies, url);
  }

  /** The linked sheets that are there and can be read; the rest is kept as authored. */
  #readSheets(): { sheets: FlatSheet[]; whole: string[] } {
    const sheets: FlatSheet[] = [];
    const whole: string[] = [];
    for (const style of stylesOf(this.#document, this.#url)) {
      if (style.url === null || style.printOnly || sheets.some((sheet) => sheet.url === style.url)) continue;
      const flat = flattenSheet(style.url, (url) => this.#textOf(url), this.#url);
      if (flat) sheets.push(flat);
      else if (this.#textOf(style.url) !== null) whole.push(style.url);
    }
    return { sheets, whole };
  }

  async #choose(
    sheets: readonly FlatSheet[],
    questions: SheetQuestions,
    extra: string[],
  ): Promise<{ folded: FoldSheet[]; faces: PaintedFace[] }> {
    const strength: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };
    const concerns = new Map<string, Concern>();
    const rejected = new Set<string>();
    const live = new Set<string>();
    const faces: PaintedFace[] = [];
    let outside = '';
    // Before scripts and after load: a script may set the classes that the first picture needs.
    for (const arm of ['all', 'no scripts']) {
      for (const viewport of this.#viewports) {
        await this.#visit(arm, viewport, async (visit) => {
          const reply = await visit.page.evaluate(answerQuestions, {
            matchKeys: questions.matchKeys,
            lists: questions.lists,
            nestedLists: questions.nestedLists,
            foldHeight: viewport.height,
            extra,
          });
          reply.concerns.forEach((concern, index) => {
            const key = questions.matchKeys[index]!;
            const known = concerns.get(key);
            if (concern && (!known || strength[concern] > strength[known])) concerns.set(key, concern);
          });
          for (const list of reply.rejected) rejected.add(list);
          faces.push(...reply.faces);
          outside += reply.inlineCss;
          if (arm === 'all') await this.#askMedia(visit, viewport, questions.media, live);
        });
      }
    }
    const folded = makeFoldCss(
      sheets,
      { concerns, rejected, liveMedia: live },
      { css: outside, faces },
      minifyCss,
    );
    return { folded, faces };
  }

  /** Media that this viewport meets, or a width between the least and the greatest of the chosen ones. */
  async #askMedia(visit: Visit, viewport: FoldViewport, media: string[], live: Set<string>): Promise<void> {
    const widths = this.#viewports.map((one) => one.width);
    const [least, most] = [Math.min(...widths), Math.max(...widths)];
    const between =
      viewport.width === least ? breakpointsIn(media).filter((width) => width > least && width <= most) : [];
    for (const width of [viewport.width, ...between]) {
      if (width !== viewport.width) await emulateDevice(visit.session, deviceOf({ ...viewport, width }));
      const answers = await visit.page.evaluate(liveMedia, media);
      answers.forEach((is, index) => {
        if (is) live.add(media[index]!);
      });
    }
  }

  async #addVariant(
    name: string,
    edits: (document: HtmlDocument) => { start: number; end: number; text: string }[],
  ): Promise<void> {
    const body = rewrite(this.#html, edits(this.#document));
    await this.#replay.addArm({
      name,
      overrides: [{ url: this.#url, mimeType: 'text/html', body, isNew: false }],
    });
  }

  async #addFoldVariant(name: string, folded: readonly FoldSheet[]): Promise<void> {
    await this.#addVariant(name, (document) =>
      stylesOf(document, this.#url).flatMap((style) => {
        const sheet = folded.find((one) => one.url === style.url);
        if (!sheet) return [];
        const media = style.media ? ` media="${attributeValue(style.media)}"` : '';
        return [
          {
            start: style.element.start,
            end: style.element.end,
            text: `<style${media}>${sheet.css.replaceAll(/<\/(style)/gi, '<\\/$1')}</style>`,
          },
        ];
      }),
    );
  }

  async #visit<T>(arm: string, viewport: FoldViewport, act: (visit: Visit) => Promise<T>): Promise<T> {
    await this.#replay.chooseArm(arm);
    const { capture, state } = this.#request;
    const visit = await openVisit(this.#browser, deviceOf(viewport), { clock: capture.clock, state });
    try {
      await goTo(visit, this.#request.capture.url, LIMITS, this.#request.signal);
      await visit.page.evaluate('globalThis.__name ??= (f) => f');
      return await act(visit);
    } finally {
      await visit.close();
    }
  }

  async #look(arm: string): Promise<Look[]> {
    const looks: Look[] = [];
    for (const viewport of this.#viewports) {
      looks.push(
        await this.#visit(arm, viewport, async (visit) => {
          const picture = await takePicture(visit);
          return { picture, layout: await visit.page.evaluate(readLayout, viewport.height) };
        }),
      );
    }
    return looks;
  }

  /** Elements whose rules were missed: intruders, what overflows, and what stands or looks otherwise. */
  #missed(reference: readonly Look[], test: readonly Look[]): string[] {
    const missed = new Set<string>();
    reference.forEach(({ layout }, index) => {
      const other = test[index]!.layout;
      const known = new Map(layout.boxes.map((box) => [box.path, box]));
      for (const box of other.boxes) {
        const before = known.get(box.path);
        if (!before || before.box !== box.box || before.style !== box.style) missed.add(box.path);
      }
      for (const box of layout.boxes)
        if (!other.boxes.some((one) => one.path === box.path)) missed.add(box.path);
      if (other.scrollWidth > layout.scrollWidth) for (const path of other.beyond) missed.add(path);
    });
    return [...missed];
  }

  /** Font files that the kept faces name and the capture holds. */
  #foldFonts(folded: readonly FoldSheet[]): string[] {
    const fonts = this.#request.capture.exchanges.filter((one) => one.kind === 'font').map((one) => one.url);
    return fonts.filter((url) => {
      const { pathname, origin } = new URL(url);
      const written = origin === new URL(this.#url).origin ? pathname : url;
      return folded.some((sheet) => sheet.css.includes(written));
    });
  }
}

interface Look {
  picture: Uint8Array;
  layout: FoldLayout;
}

function deviceOf(viewport: FoldViewport) {
  const phone = viewport.width < 700;
  return { viewport, pixelRatio: 1, touch: phone, agent: phone ? ('phone' as const) : ('desktop' as const) };
}
