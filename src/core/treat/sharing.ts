import type { HtmlHandler } from '../html/document.ts';
import type { PageAssets, PageScript } from '../page/page-assets.ts';
import { ANY_NAME, type Access, type ElementAccess, type ScriptEffects } from '../scripts/effects.ts';
import { analyseHandler, analyseScript } from '../scripts/analyse.ts';
import type { Phase } from '../scripts/phases.ts';

/** What one part of a script does with something that a part of another one works with as well. */
export interface Sharing {
  /** The one that defines or changes it. */
  writer: PageScript;
  writerPhase: Phase;
  /** The one that finds it, or changes it too. */
  reader: PageScript;
  readerPhase: Phase;
  /** Lines of the texts of both, where they do so first. */
  writerLine: number;
  line: number;
  what:
    | { by: 'name'; name: string }
    /** Both change it: whose change counts depends on the order. */
    | { by: 'change'; name: string }
    /** Elements of the page, by what they are found by. */
    | { by: 'elements'; token: string }
    /** One of them does what cannot be known by reading. */
    | { by: 'anything' };
}

const known = new WeakMap<PageAssets, readonly Sharing[]>();

/** All that scripts of a page share: where their order changes, what one of them finds may change. */
export function sharingOf(page: PageAssets): readonly Sharing[] {
  let found = known.get(page);
  if (!found) known.set(page, (found = new SharingFinder(page).find()));
  return found;
}

/** Scripts that read what one defines, by its names. */
export function readersOf(page: PageAssets, writer: PageScript): PageScript[] {
  const readers = sharingOf(page).flatMap((one) =>
    one.writer === writer && one.what.by === 'name' ? [one.reader] : [],
  );
  return [...new Set(readers)];
}

/** Calls of functions of calls of functions: deeper than this they are not followed. */
const MOST_CALLS = 4;

/** A script with all that it does, what it makes other scripts do included. */
interface Doer {
  script: PageScript;
  accesses: Access[];
  elements: readonly ElementAccess[];
  properties: ReadonlyMap<string, number>;
  /** Line where it does what cannot be known. */
  unknown: { line: number; phases: Set<Phase> } | null;
}

class SharingFinder {
  #found = new Map<string, Sharing>();
  /** Scripts first. What stands in attributes keeps its place: among themselves those share nothing that could change. */
  #doers: Doer[];
  #scripts: number;
  #queues = new Set<string>();

  constructor(page: PageAssets) {
    this.#doers = [
      ...page.scripts.map((script) => doerOf(page, script)),
      ...page.document.handlers.map((handler) => handlerDoer(handler)),
    ];
    this.#scripts = page.scripts.length;
  }

  find(): readonly Sharing[] {
    this.#inherit();
    for (const { accesses } of this.#doers)
      for (const { name, kind } of accesses) if (kind === 'stub') this.#queues.add(name);
    this.#byName();
    this.#ofAll();
    return [...this.#found.values()];
  }

  /** A script that calls a function of another one does what that function does. */
  #inherit(): void {
    const called = this.#doers.map((doer) => doer.accesses.filter(({ phase }) => phase === 'called'));
    const definers = new Map<string, number[]>();
    this.#doers.forEach(({ accesses }, index) => {
      for (const { name, kind } of accesses)
        if (kind === 'write' || kind === 'stub') definers.set(name, [...(definers.get(name) ?? []), index]);
    });
    for (const [index, doer] of this.#doers.entries()) {
      const seen = new Set<string>();
      let frontier = doer.accesses.filter(({ kind, phase }) => kind === 'touch' && phase !== 'called');
      for (let round = 0; round < MOST_CALLS && frontier.length; round++) {
        const next: Access[] = [];
        for (const { name, phase, line } of frontier)
          for (const other of definers.get(name) ?? []) {
            const key = `${other} ${phase}`;
            if (other === index || seen.has(key)) continue;
            seen.add(key);
            for (const access of called[other]!)
              if (access.name !== ANY_NAME) next.push({ ...access, phase, line });
          }
        doer.accesses.push(...next);
        frontier = next.filter(({ kind }) => kind === 'touch');
      }
    }
  }

  #byName(): void {
    const users = new Map<string, { doer: Doer; access: Access; isScript: boolean }[]>();
    for (const [index, doer] of this.#doers.entries())
      for (const access of doer.accesses) {
        if (access.phase === 'called') continue;
        const user = { doer, access, isScript: index < this.#scripts };
        const known = users.get(access.name);
        if (known) known.push(user);
        else users.set(access.name, [user]);
      }
    for (const [name, all] of users) {
      if (name === ANY_NAME || name === '*') continue;
      for (let first = 0; all[first]?.isScript; first++)
        for (let other = first + 1; other < all.length; other++)
          if (all[first]!.doer !== all[other]!.doer) this.#pair(name, all[first]!, all[other]!);
    }
  }

  #pair(name: string, a: { doer: Doer; access: Access }, b: { doer: Doer; access: Access }): void {
    const queue = this.#queues.has(name);
    const how = conflictOf(a.access, b.access, queue);
    if (how === null) return;
    const [writer, reader] = how === 'b writes' ? [b, a] : [a, b];
    this.#add({
      writer: writer.doer.script,
      writerPhase: writer.access.phase,
      reader: reader.doer.script,
      readerPhase: reader.access.phase,
      writerLine: writer.access.line,
      line: reader.access.line,
      what: { by: how === 'both change' ? 'change' : 'name', name },
    });
  }

  /** What is not by names: elements, the platform's own objects, and what cannot be known. */
  #ofAll(): void {
    for (let first = 0; first < this.#scripts; first++)
      for (let other = first + 1; other < this.#doers.length; other++) {
        const [a, b] = [this.#doers[first]!, this.#doers[other]!];
        this.#elements(a, b);
        this.#platform(a, b);
        this.#platform(b, a);
        this.#anything(a, b);
        this.#anything(b, a);
      }
  }

  #elements(a: Doer, b: Doer): void {
    for (const one of a.elements)
      for (const other of b.elements) {
        const token = sharedToken(one, other);
        if (token === null) continue;
        const [writer, reader] = one.writes ? [a, b] : [b, a];
        const [from, to] = one.writes ? [one, other] : [other, one];
        this.#add({
          writer: writer.script,
          writerPhase: from.phase,
          reader: reader.script,
          readerPhase: to.phase,
          writerLine: from.line,
          line: to.line,
          what: { by: 'elements', token },
        });
      }
  }

  /** A change of what every object of a kind has is seen by whoever uses a part of that name. */
  #platform(writer: Doer, reader: Doer): void {
    for (const { name, members, phase, line } of writer.accesses) {
      if (name !== '*' || phase === 'called') continue;
      const part = members === null ? '*' : [...members].find((one) => reader.properties.has(one));
      if (part !== undefined)
        this.#add({
          writer: writer.script,
          writerPhase: phase,
          reader: reader.script,
          readerPhase: 'run',
          writerLine: line,
          line: reader.properties.get(part) ?? 1,
          what: { by: 'name', name: part },
        });
    }
  }

  #anything(doer: Doer, other: Doer): void {
    if (!doer.unknown || !doesSomething(other)) return;
    for (const phase of doer.unknown.phases)
      this.#add({
        writer: other.script,
        writerPhase: 'run',
        reader: doer.script,
        readerPhase: phase,
        writerLine: 1,
        line: doer.unknown.line,
        what: { by: 'anything' },
      });
  }

  #add(sharing: Sharing): void {
    const { writer, writerPhase, reader, readerPhase, what } = sharing;
    const index = (script: PageScript) => script.element.element.index;
    const key = `${index(writer)} ${writerPhase} ${index(reader)} ${readerPhase} ${what.by}`;
    if (!this.#found.has(key)) this.#found.set(key, sharing);
  }
}

function doesSomething({ accesses, elements, unknown }: Doer): boolean {
  return accesses.length > 0 || elements.length > 0 || unknown !== null;
}

function doerOf(page: PageAssets, script: PageScript): Doer {
  const { effects, unreadable } = script.facts;
  const inserted = insertedBy(page, script).map((url) => page.captured.factsAt(url).effects);
  const accesses = [
    ...effects.accesses,
    ...inserted.flatMap((one) => one.accesses.map((access) => ({ ...access, phase: lateOf(access.phase) }))),
  ];
  const any = accesses.filter(
    ({ name, phase }) => name === ANY_NAME && phase !== 'called' && phase !== 'input',
  );
  return {
    script,
    accesses,
    elements: elementsThatCount(effects),
    properties: new Map([effects, ...inserted].flatMap(({ properties }) => [...properties])),
    unknown: unreadable
      ? { line: 1, phases: new Set(['run']) }
      : any.length
        ? { line: any[0]!.line, phases: new Set(any.map(({ phase }) => phase)) }
        : null,
  };
}

/** What an element does on an event, as a script that stands there: nothing can be done to it. */
function handlerDoer(handler: HtmlHandler): Doer {
  const { tag, attribute, code, line, start } = handler;
  const { effects } = analyseHandler(code);
  const phase = phaseOfHandler(handler);
  const element: PageScript['element']['element'] = {
    index: -start - 1,
    tag,
    attributes: {},
    attributeSpans: {},
    attributesEnd: start,
    start,
    end: start,
    contentStart: start,
    contentEnd: start,
    line,
    inHead: false,
    inert: false,
    text: code,
    isVerbatim: false,
  };
  const script: PageScript = {
    element: { element, url: null, module: false, async: false, defer: false },
    match: { inline: code },
    name: `${attribute} of ${tag}, line ${line}`,
    line,
    party: 'first',
    facts: analyseScript(''),
    inserts: [],
    blocking: false,
  };
  return {
    script,
    accesses: effects.accesses.map((access) => ({ ...access, phase })),
    elements: [],
    properties: effects.properties,
    unknown: null,
  };
}

/** When an attribute's script runs. */
function phaseOfHandler({ tag, attribute }: HtmlHandler): Phase {
  if (/^on(load|pageshow)$/.test(attribute)) return tag === 'body' ? 'ready' : 'soon';
  return /^on(error|toggle|readystatechange|animation\w+|transition\w+)$/.test(attribute) ? 'soon' : 'input';
}

function elementsThatCount({ elements }: ScriptEffects): readonly ElementAccess[] {
  return elements.filter(({ phase }) => phase !== 'called' && phase !== 'input');
}

/** What an inserted script does at once is done some time after the one that inserts it. */
function lateOf(phase: Phase): Phase {
  return phase === 'input' || phase === 'called' ? phase : 'soon';
}

/** Addresses of the scripts that one puts into the page, and those that these put in. */
export function insertedBy(page: PageAssets, script: PageScript): string[] {
  const found = new Set(script.inserts);
  const queue = [...(script.element.url === null ? [] : [script.element.url]), ...found];
  for (let url = queue.pop(); url !== undefined; url = queue.pop())
    for (const { kind, discovery, url: inserted } of page.requests) {
      if (kind !== 'script' || discovery.by !== 'script' || discovery.url !== url || found.has(inserted))
        continue;
      found.add(inserted);
      queue.push(inserted);
    }
  return [...found];
}

/** Whether the order of two uses of a name counts, and who of them is the one that changes it. */
function conflictOf(a: Access, b: Access, queue: boolean): 'a writes' | 'b writes' | 'both change' | null {
  const writes = (one: Access) => one.kind === 'write' || one.kind === 'stub';
  if (a.kind === 'stub' && b.kind === 'stub') return null;
  if (writes(a) && writes(b)) return shares(a.members, b.members) ? 'both change' : null;
  if (writes(a)) return concerns(a, b, queue) ? 'a writes' : null;
  if (writes(b)) return concerns(b, a, queue) ? 'b writes' : null;
  if (a.kind === 'push' || b.kind === 'push')
    return a.kind === b.kind && a.kind === 'push' ? 'both change' : null;
  if (a.kind === 'touch' && b.kind === 'touch') return 'both change';
  if (a.kind === 'touch') return b.members?.size === 0 ? null : 'a writes';
  if (b.kind === 'touch') return a.members?.size === 0 ? null : 'b writes';
  return null;
}

/** Whether a change of a name, or of parts of it, is seen by who uses it. */
function concerns(write: Access, use: Access, queue: boolean): boolean {
  // What is put into a queue finds the other one, whichever comes first: that is what the queue is for.
  if (use.kind === 'push') return !queue || write.kind === 'stub';
  if (write.members?.size === 0) return true;
  if (use.members?.size === 0) return false;
  return shares(write.members, use.members);
}

/** Whether two sets of parts have one in common; none is the whole, null any. */
function shares(a: ReadonlySet<string> | null, b: ReadonlySet<string> | null): boolean {
  if (a === null || b === null || a.size === 0 || b.size === 0) return true;
  return [...a].some((one) => b.has(one));
}

/** What two scripts that change the page both work with; null for nothing. */
function sharedToken(a: ElementAccess, b: ElementAccess): string | null {
  if (!a.writes && !b.writes) return null;
  const all = ({ seeks, makes }: ElementAccess) => [...(seeks ?? []), ...makes];
  if (a.seeks === null) return b.writes || all(b).length ? '*' : null;
  if (b.seeks === null) return a.writes || all(a).length ? '*' : null;
  const named = (one: string) => /^[#.[]|-/.test(one);
  for (const one of a.seeks) if (b.seeks.has(one) || b.makes.has(one)) return one;
  for (const one of a.makes)
    if (b.seeks.has(one) || (b.makes.has(one) && named(one) && /^[#.]/.test(one))) return one;
  return null;
}
