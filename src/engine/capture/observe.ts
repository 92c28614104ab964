import postcss from 'postcss';
import type { CDPSession, Protocol } from 'puppeteer-core';
import { isSlanted, weightsIn } from '../../core/fonts/faces.ts';
import type {
  Box,
  FontFile,
  FontUse,
  Observations,
  RuleUsage,
  ScriptUsage,
} from '../../core/measure/exchange.ts';
import type { Visit } from '../chromium/visit.ts';
import type { PageLook } from '../../in-page/observe.ts';

/** Distinct looks of text whose fonts are asked for: the protocol answers for one element at a time. */
const MOST_TEXTS = 60;

/** Watches one untimed load: use of rules and scripts, fonts, boxes, the largest paint and what shifted. */
export class Observer {
  #session: CDPSession;
  #sheets = new Map<string, Protocol.CSS.CSSStyleSheetHeader>();
  #lcp: Protocol.PerformanceTimeline.LargestContentfulPaint | null = null;
  #shifts: { atMs: number; shift: Protocol.PerformanceTimeline.LayoutShift }[] = [];
  #firstEventMs: number | null = null;
  /** Once for each face: one file may stand in several. */
  #fontFiles = new Map<string, FontFile>();
  /** What had run when the page first painted; asked for at once, so a little more may be in it. */
  #ranByPaint: Promise<Protocol.Profiler.ScriptCoverage[] | null> = Promise.resolve(null);

  private constructor(session: CDPSession) {
    this.#session = session;
  }

  /** Starts watching, before the page is gone to. */
  static async start(session: CDPSession): Promise<Observer> {
    const observer = new Observer(session);
    session.on('CSS.styleSheetAdded', ({ header }) => observer.#sheets.set(header.styleSheetId, header));
    session.on('PerformanceTimeline.timelineEventAdded', ({ event }) => observer.#note(event));
    session.on('CSS.fontsUpdated', ({ font }) => {
      if (font) observer.#noteFont(font);
    });
    session.on('Page.lifecycleEvent', ({ name, frameId }) => {
      if (name !== 'firstPaint' || frameId !== mainFrame) return;
      observer.#ranByPaint = session.send('Profiler.takePreciseCoverage').then(
        ({ result }) => result,
        () => null,
      );
    });
    await session.send('Page.enable');
    const mainFrame = (await session.send('Page.getFrameTree')).frameTree.frame.id;
    await session.send('Page.setLifecycleEventsEnabled', { enabled: true });
    await session.send('DOM.enable');
    await session.send('CSS.enable');
    await session.send('CSS.startRuleUsageTracking');
    await session.send('Profiler.enable');
    await session.send('Profiler.startPreciseCoverage', { callCount: false, detailed: true });
    await session.send('PerformanceTimeline.enable', {
      eventTypes: ['largest-contentful-paint', 'layout-shift'],
    });
    return observer;
  }

  #noteFont({ src, platformFontFamily, fontWeight, fontStyle }: Protocol.CSS.FontFace): void {
    const [weights, italic] = [weightsIn(fontWeight), isSlanted(fontStyle)];
    this.#fontFiles.set(`${src} ${fontWeight} ${fontStyle}`, {
      url: src,
      family: platformFontFamily,
      weights,
      italic,
    });
  }

  #note(event: Protocol.PerformanceTimeline.TimelineEvent): void {
    this.#firstEventMs ??= event.time * 1000;
    if (event.lcpDetails) this.#lcp = event.lcpDetails;
    // Nothing is pressed while a page is observed, so every shift counts: the browser's own flag is wrong here.
    if (event.layoutShiftDetails)
      this.#shifts.push({ atMs: event.time * 1000, shift: event.layoutShiftDetails });
  }

  /** Reads everything, once the page rests. */
  async finish(visit: Visit): Promise<Observations> {
    const session = this.#session;
    const { ruleUsage } = await session.send('CSS.stopRuleUsageTracking');
    const { result } = await session.send('Profiler.takePreciseCoverage');
    const origin = await visit.inPage.call('timeOrigin');
    return {
      ruleUsage: await this.#rules(ruleUsage),
      scriptUsage: usageOf(await this.#ranByPaint, result),
      ...(await this.#look(visit)),
      fontFiles: [...this.#fontFiles.values()],
      lcp: await this.#largest(visit),
      shifts: await this.#moved(origin),
    };
  }

  async #rules(used: readonly Protocol.CSS.RuleUsage[]): Promise<RuleUsage[]> {
    const usage: RuleUsage[] = [];
    for (const [id, header] of this.#sheets) {
      if (!/^https?:/.test(header.sourceURL) || header.isInline) continue;
      const text = await this.#session.send('CSS.getStyleSheetText', { styleSheetId: id }).catch(() => null);
      if (!text) continue;
      const starts = new Set(
        used.filter((one) => one.used && one.styleSheetId === id).map((one) => one.startOffset),
      );
      usage.push({ url: header.sourceURL, rules: countRules(text.text), usedRules: starts.size });
    }
    return usage;
  }

  /** Boxes above the fold, and the fonts of every distinct look of text. */
  async #look(visit: Visit): Promise<Omit<PageLook, 'texts'> & { fonts: FontUse[] }> {
    const { texts, ...look } = await visit.inPage.call('lookAtPage', MOST_TEXTS);
    const fonts: FontUse[] = [];
    for (const [index, text] of texts.entries()) {
      for (const font of await this.#fontsOf(visit, index)) {
        const known = fonts.find(
          (one) =>
            one.family === font.familyName &&
            one.weight === text.weight &&
            one.italic === text.italic &&
            one.aboveFold === text.aboveFold,
        );
        if (known) known.glyphs += font.glyphCount;
        else
          fonts.push({
            family: font.familyName,
            custom: font.isCustomFont,
            glyphs: font.glyphCount,
            ...text,
          });
      }
    }
    return { fonts, ...look };
  }

  async #fontsOf(visit: Visit, index: number): Promise<Protocol.CSS.PlatformFontUsage[]> {
    try {
      const objectId = await visit.inPage.handle('textElement', index);
      if (objectId === null) return [];
      await this.#session.send('DOM.getDocument', { depth: 0 });
      const { nodeId } = await this.#session.send('DOM.requestNode', { objectId });
      return (await this.#session.send('CSS.getPlatformFontsForNode', { nodeId })).fonts;
    } catch {
      return [];
    }
  }

  async #largest(visit: Visit): Promise<Observations['lcp']> {
    const lcp = this.#lcp;
    const picture = await visit.inPage.call('largestPicture');
    if (picture && picture.area > (lcp?.size ?? 0)) {
      const { element, url, box } = picture;
      return { element, url, box };
    }
    if (!lcp) return null;
    const box = lcp.nodeId === undefined ? null : await this.#boxOf(lcp.nodeId);
    return { element: await this.#name(lcp.nodeId), url: lcp.url || null, box };
  }

  async #moved(originMs: number): Promise<Observations['shifts']> {
    const moved: Observations['shifts'] = [];
    for (const { atMs, shift } of this.#shifts) {
      const sources = [];
      for (const source of shift.sources)
        sources.push({
          element: await this.#name(source.nodeId),
          from: boxOf(source.previousRect),
          to: boxOf(source.currentRect),
        });
      moved.push({ atMs: Math.max(0, atMs - originMs), score: shift.value, sources });
    }
    return moved;
  }

  /** "img.hero" of a node, by its backend number. */
  async #name(backendNodeId: number | undefined): Promise<string> {
    if (backendNodeId === undefined) return 'an element that is gone';
    const got = await this.#session.send('DOM.describeNode', { backendNodeId }).catch(() => null);
    if (!got) return 'an element that is gone';
    const { node } = got;
    const attributes = node.attributes ?? [];
    const value = (name: string) => {
      const at = attributes.indexOf(name);
      return at >= 0 && at % 2 === 0 ? attributes[at + 1] : undefined;
    };
    const id = value('id');
    const first = value('class')?.trim().split(/\s+/)[0];
    const name = node.nodeName.toLowerCase();
    return name === '#text' ? 'text' : `${name}${id ? `#${id}` : first ? `.${first}` : ''}`;
  }

  async #boxOf(backendNodeId: number): Promise<Box | null> {
    const got = await this.#session.send('DOM.getBoxModel', { backendNodeId }).catch(() => null);
    if (!got) return null;
    const [x = 0, y = 0] = got.model.border;
    return { x, y, width: got.model.width, height: got.model.height };
  }
}

/**
 * Characters of each script that ran at least once: V8's block ranges, the innermost deciding (its coverage
 * nests ranges within functions). What is told once is not told again.
 *
 * @param byPaint what had run when the page first painted; null where it did not
 * @param later what has run since
 */
export function usageOf(
  byPaint: readonly Protocol.Profiler.ScriptCoverage[] | null,
  later: readonly Protocol.Profiler.ScriptCoverage[],
): ScriptUsage[] {
  const early = ranOf(byPaint ?? []);
  const late = ranOf(later);
  return [...new Set([...early.keys(), ...late.keys()])].map((url): ScriptUsage => {
    const [before, after] = [early.get(url) ?? new Uint8Array(), late.get(url) ?? new Uint8Array()];
    const bytes = Math.max(before.length, after.length);
    let usedBytes = 0;
    for (let at = 0; at < bytes; at++) usedBytes += before[at] || after[at] ? 1 : 0;
    const usedByPaintBytes = before.reduce((sum, one) => sum + one, 0);
    return { url, bytes, usedBytes, usedByPaintBytes: byPaint ? usedByPaintBytes : null };
  });
}

/** For each script with an address, its characters as 1 where they ran; of scripts of one address the longest. */
function ranOf(scripts: readonly Protocol.Profiler.ScriptCoverage[]): Map<string, Uint8Array> {
  const byUrl = new Map<string, Uint8Array>();
  for (const script of scripts) {
    if (!/^https?:/.test(script.url)) continue;
    const ranges = script.functions.flatMap((one) => one.ranges);
    const ran = new Uint8Array(Math.max(0, ...ranges.map((range) => range.endOffset)));
    // The widest first, so that what lies within overrides it.
    ranges.sort((a, b) => b.endOffset - b.startOffset - (a.endOffset - a.startOffset));
    for (const range of ranges) ran.fill(range.count > 0 ? 1 : 0, range.startOffset, range.endOffset);
    if (ran.length >= (byUrl.get(script.url)?.length ?? 0)) byUrl.set(script.url, ran);
  }
  return byUrl;
}

function boxOf(rect: Protocol.DOM.Rect): Box {
  return { x: rect.x, y: rect.y, width: rect.width, height: rect.height };
}

function countRules(css: string): number {
  let rules = 0;
  try {
    postcss.parse(css).walkRules((rule) => {
      if (!(rule.parent?.type === 'atrule' && /keyframes$/i.test(rule.parent.name))) rules++;
    });
  } catch {
    return 0;
  }
  return rules;
}
