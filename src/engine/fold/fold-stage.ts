import type { Browser } from 'puppeteer-core';
import type { FoldViewport } from '../../core/fold/viewports.ts';
import { isAnimatedPicture } from '../../core/frames/animated-picture.ts';
import type { Edit } from '../../core/html/document.ts';
import { rewrite, type HtmlDocument } from '../../core/html/document.ts';
import { CapturedPage, NoHtml } from '../../core/page/captured-page.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { emulateDevice } from '../chromium/emulate.ts';
import type { LaunchedBrowser } from '../chromium/launch.ts';
import {
  goTo,
  LOAD_LIMITS,
  type LoadLimits,
  openVisit,
  type PrepareTarget,
  type Visit,
  type VisitDevice,
  type VisitOptions,
} from '../chromium/visit.ts';
import type { Override } from '../replay/archive.ts';
import { Replay } from '../replay/replay-client.ts';

const LIMITS: LoadLimits = {
  ...LOAD_LIMITS,
  loadMs: 60_000,
  quietMs: 200,
  afterLoadMs: 4_000,
  fromArchive: true,
};

/** The two tabs of a stage: making one anew for each load takes longer than most loads. */
class StageTabs {
  #browser: Browser;
  #options: VisitOptions;
  #loading: Visit | null = null;
  #blank: Visit | null = null;

  constructor(browser: Browser, options: VisitOptions) {
    this.#browser = browser;
    this.#options = options;
  }

  /** The tab that pages are loaded in, as new: nothing of the load before is left in it. */
  async fresh(device: VisitDevice): Promise<Visit> {
    if (this.#loading && !this.#loading.crashed) await this.#loading.begin(device);
    else this.#loading = await openVisit(this.#browser, device, this.#options);
    return this.#loading;
  }

  async blank(): Promise<Visit> {
    this.#blank ??= await openVisit(this.#browser, deviceOf({ width: 800, height: 600 }), {
      clock: null,
      state: null,
    });
    return this.#blank;
  }

  /** After a failure nothing is known of the tab: the next load gets another. */
  async drop(): Promise<void> {
    await this.#loading?.close();
    this.#loading = null;
  }
}

/** A Content-Security-Policy may refuse fold CSS as a style in the page; what the CSS does is another question. */
const withoutPolicy: PrepareTarget = async (session) => {
  await session.send('Page.setBypassCSP', { enabled: true });
};

/** The captured page as authored. */
export const AS_AUTHORED = 'as authored';

/** A captured page on stage: replayed at once, in variants of its HTML, at any viewport. */
export class FoldStage {
  readonly page: CapturedPage;
  readonly document: HtmlDocument;
  #tabs: StageTabs;
  #replay: Replay;
  #chromium: LaunchedBrowser;
  #signal: AbortSignal | undefined;
  #variants = new Set<string>([AS_AUTHORED]);
  #loadingMs = 0;
  #moving: readonly string[] | null = null;

  private constructor(
    page: CapturedPage,
    tabs: StageTabs,
    replay: Replay,
    chromium: LaunchedBrowser,
    signal: AbortSignal | undefined,
  ) {
    this.page = page;
    this.document = page.document;
    this.#tabs = tabs;
    this.#replay = replay;
    this.#chromium = chromium;
    this.#signal = signal;
  }

  /** Starts replay and Chromium. @throws NoHtml when the capture holds none */
  static async open(
    capture: Capture,
    bodies: Bodies,
    state: VisitState | null,
    signal?: AbortSignal,
  ): Promise<FoldStage> {
    const page = new CapturedPage(capture, bodies);
    if (!page.hasDocument) throw new NoHtml(page.url);
    const arms = [{ name: AS_AUTHORED, overrides: [] }];
    const replay = await Replay.start({ capture, bodies, arms, conditions: null });
    try {
      const chromium = await replay.launchBrowser({ untimed: true });
      const tabs = new StageTabs(chromium.browser, { clock: capture.clock, state, prepare: withoutPolicy });
      return new FoldStage(page, tabs, replay, chromium, signal);
    } catch (error) {
      await replay.close();
      throw error;
    }
  }

  /** The same stage for another page that the capture holds. */
  onPage(url: string): FoldStage {
    return new FoldStage(this.page.at(url), this.#tabs, this.#replay, this.#chromium, this.#signal);
  }

  get capture(): Capture {
    return this.page.capture;
  }

  get url(): string {
    return this.capture.documentUrl;
  }

  /** Time spent waiting for pages to load, ms. */
  get loadingMs(): number {
    return this.#loadingMs;
  }

  /** Addresses of captured pictures that move by themselves. */
  get movingPictures(): readonly string[] {
    this.#moving ??= this.capture.exchanges.flatMap(({ kind, url }) => {
      const bytes = kind === 'image' ? this.page.body(url) : null;
      return bytes && isAnimatedPicture(bytes) ? [url] : [];
    });
    return this.#moving;
  }

  /** Adds a variant of the page's HTML, and files it needs besides; gives its name. */
  async addVariant(what: string, edits: readonly Edit[], files: readonly Override[] = []): Promise<string> {
    const name = `${what} ${this.#variants.size} ${this.url}`;
    const body = rewrite(this.document.bytes, edits);
    await this.#replay.addArm({
      name,
      overrides: [{ url: this.url, mimeType: 'text/html', body, isNew: false }, ...files],
    });
    this.#variants.add(name);
    return name;
  }

  /** Loads a variant fresh at a viewport, and lets `act` look at it. */
  async visit<T>(variant: string, viewport: FoldViewport, act: (visit: Visit) => Promise<T>): Promise<T> {
    await this.#replay.chooseArm(variant);
    const visit = await this.#tabs.fresh(deviceOf(viewport));
    try {
      const started = performance.now();
      await this.#replay.whileRunning(goTo(visit, this.capture.url, LIMITS, this.#signal));
      this.#loadingMs += performance.now() - started;
      return await visit.whileOpen(act(visit));
    } catch (error) {
      await this.#tabs.drop();
      throw error;
    }
  }

  /** An empty page in the same browser, for questions that need no content. */
  async blank<T>(act: (visit: Visit) => Promise<T>): Promise<T> {
    const visit = await this.#tabs.blank();
    return visit.whileOpen(act(visit));
  }

  async close(): Promise<void> {
    await this.#chromium.close();
    await this.#replay.close();
  }
}

/** Resizes a visited page, and lets it lay itself out. */
export async function resizeTo(visit: Visit, viewport: FoldViewport): Promise<void> {
  await emulateDevice(visit.session, deviceOf(viewport));
  await visit.inPage.call('twoFrames');
}

function deviceOf(viewport: FoldViewport) {
  const phone = viewport.width < 700;
  return {
    viewport: { width: viewport.width, height: viewport.height },
    pixelRatio: 1,
    touch: phone,
    agent: phone ? ('phone' as const) : ('desktop' as const),
  };
}
