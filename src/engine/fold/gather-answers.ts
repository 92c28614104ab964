import type { Need, PageAnswers } from '../../core/fold/choose.ts';
import type { PaintedFace } from '../../core/fonts/faces.ts';
import type { Concern } from '../../core/fold/declarations.ts';
import type { ElementsOf } from '../../core/fold/overridden.ts';
import type { StoredAnswers } from '../../core/fold/record.ts';
import type { SheetQuestions } from '../../core/fold/sheet-index.ts';
import { foldOf, nameOfViewport, type FoldViewport } from '../../core/fold/viewports.ts';
import type { Visit } from '../chromium/visit.ts';
import type { PageReply } from '../../in-page/ask.ts';

const STRENGTH: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };

/** Elements to be treated otherwise than their place tells: missed ones, and those the user decided on. */
export interface MoreToAsk {
  extra: string[];
  keepElements: string[];
  leaveElements: string[];
}

/** Collects a page's answers over viewports and states: before scripts and after load. */
export class GatheredAnswers {
  #concerns = new Map<string, Concern>();
  #neededBy = new Map<string, Need[]>();
  #everUsed = new Set<string>();
  #rejected = new Set<string>();
  #liveMedia = new Set<string>();
  #faces: PaintedFace[] = [];
  #outside = new Set<string>();
  #states: Map<string, number[]>[] = [];
  /** Other pages have a say as well: what overrides what is not known of them. */
  #joined = false;
  #elementsToFold = 0;

  /** Asks the page as it stands in a visit. */
  async ask(
    visit: Visit,
    viewport: FoldViewport,
    questions: SheetQuestions,
    more: MoreToAsk,
  ): Promise<PageReply> {
    const name = nameOfViewport(viewport);
    const reply = await visit.inPage.call('answerQuestions', {
      matchKeys: questions.matchKeys,
      everKeys: questions.everKeys,
      foldShare: foldOf(viewport) / viewport.height,
      ...more,
    });
    const state = new Map<string, number[]>();
    reply.concerns.forEach((concern, index) => {
      const key = questions.matchKeys[index]!;
      if (reply.everUsed[index]) this.#everUsed.add(key);
      if (!concern) return;
      const element = reply.firstElements[index];
      this.#add(key, concern, element ? [{ viewport: name, element }] : []);
      state.set(key, reply.elements[index]!);
    });
    this.#states.push(state);
    this.#faces.push(...reply.faces);
    this.#outside.add(reply.inlineCss);
    this.#elementsToFold = Math.max(this.#elementsToFold, reply.elementsToFold);
    return reply;
  }

  #add(key: string, concern: Concern, needs: readonly Need[]): void {
    const known = this.#concerns.get(key);
    if (!known || STRENGTH[concern] > STRENGTH[known]) this.#concerns.set(key, concern);
    const list = this.#neededBy.get(key) ?? [];
    for (const need of needs) if (!list.some((one) => one.viewport === need.viewport)) list.push(need);
    this.#neededBy.set(key, list);
  }

  reject(lists: readonly string[]): void {
    for (const list of lists) this.#rejected.add(list);
  }

  meet(media: readonly string[]): void {
    for (const query of media) this.#liveMedia.add(query);
  }

  /** Adds what other pages of the family said. */
  join(stored: StoredAnswers): void {
    for (const [key, concern] of stored.concerns) this.#add(key, concern, []);
    for (const [key, needs] of stored.neededBy) this.#add(key, this.#concerns.get(key)!, needs);
    for (const key of stored.everUsed) this.#everUsed.add(key);
    this.reject(stored.rejected);
    this.meet(stored.liveMedia);
    this.#faces.push(...stored.faces);
    this.#outside.add(stored.outsideCss);
    this.#joined = true;
  }

  get answers(): PageAnswers {
    return {
      concerns: this.#concerns,
      neededBy: this.#neededBy,
      rejected: this.#rejected,
      liveMedia: this.#liveMedia,
    };
  }

  /** Which elements each key applies to, per state; null when other pages have a say as well. */
  get elementsOf(): ElementsOf | null {
    // A declaration that is overridden everywhere on this page may be what another page needs.
    if (this.#joined || this.#states.length === 0) return null;
    return new Map(
      [...this.#concerns.keys()].map((key) => [key, this.#states.map((state) => state.get(key) ?? [])]),
    );
  }

  get everUsed(): ReadonlySet<string> {
    return this.#everUsed;
  }

  get outside(): { css: string; faces: readonly PaintedFace[] } {
    return { css: [...this.#outside].join('\n'), faces: this.#faces };
  }

  get elementsToFold(): number {
    return this.#elementsToFold;
  }

  /** To be stored: faces that ask for the same are put together. */
  toStore(): StoredAnswers {
    const faces = new Map<string, PaintedFace>();
    for (const face of this.#faces) {
      const key = JSON.stringify([face.families, face.weight, face.italic]);
      const known = faces.get(key);
      const characters = new Set([...(known?.characters ?? ''), ...face.characters]);
      faces.set(key, { ...face, characters: [...characters].join('') });
    }
    return {
      concerns: [...this.#concerns],
      neededBy: [...this.#neededBy],
      everUsed: [...this.#everUsed],
      rejected: [...this.#rejected],
      liveMedia: [...this.#liveMedia],
      faces: [...faces.values()],
      outsideCss: this.outside.css,
    };
  }
}
