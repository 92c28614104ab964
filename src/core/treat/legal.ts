import { inlineLeave, type InlineKind } from '../html/content-policy.ts';
import type { HtmlHandler } from '../html/document.ts';
import type { Finding } from '../scripts/analyse.ts';
import { namesReadBy } from '../scripts/analyse.ts';
import { findHiding, whySnippetStays } from './hiding.ts';
import type { PageAssets, PageScript } from './page-assets.ts';
import type { ScriptTreatment, StylesheetTreatment } from './plan.ts';

/** A treatment as offered for an asset: refused with a reason, or open with what has to be known. */
export interface Offer {
  treatment: ScriptTreatment | StylesheetTreatment;
  refused: string | null;
  note: string | null;
}

/** Which scripts may be deferred together, and what has to move with them. */
export interface DeferGroup {
  /** External classic scripts that become `defer`. */
  deferred: PageScript[];
  /** Inline scripts that read what a deferred script defines: they become external deferred files. */
  moved: PageScript[];
  /** Why a candidate stays as it is. */
  refused: Map<PageScript, string>;
}

/**
 * Finds the largest set of blocking scripts that may be deferred together.
 *
 * Deferred classic scripts run in document order after parsing (HTML: "list of scripts that will execute
 * when the document has finished parsing"). So a script may go there when it does not write into the
 * parser's stream, and when everything that reads what it defines goes there too.
 *
 * @param candidates the scripts to defer if it can be done
 */
export function deferGroup(page: PageAssets, candidates: readonly PageScript[]): DeferGroup {
  const refused = new Map<PageScript, string>();
  let deferred = candidates.filter((script) => {
    const why = whyNotDeferred(script);
    if (why) refused.set(script, why);
    return !why;
  });
  for (;;) {
    const moved = new Set<PageScript>();
    let culprit: { script: PageScript; why: string } | null = null;
    // Each name by the script that defines it, and the deferred one for whose sake that is late.
    const names = new Map<string, { definer: PageScript; library: PageScript }>();
    const gather = (definer: PageScript, library: PageScript) => {
      for (const name of definer.facts.defines) if (!names.has(name)) names.set(name, { definer, library });
    };
    for (const script of deferred) gather(script, script);
    // What a moved inline script defines may be read by the next one: repeat until nothing is added.
    for (let grew = true; grew && !culprit;) {
      grew = false;
      for (const script of page.scripts) {
        if (deferred.includes(script) || moved.has(script)) continue;
        const isDeferred = (script.element.module && !script.element.async) || script.element.defer;
        // What is deferred already runs in its order: after a library before it, but before one after it.
        const read = script.facts.reads.find(
          (one) => names.has(one.name) && before(names.get(one.name)!.definer, script) !== isDeferred,
        );
        if (!read) continue;
        const { library } = names.get(read.name)!;
        const place =
          script.element.url === null
            ? `line ${script.line + read.line - 1}`
            : `line ${read.line} of ${script.name}`;
        if (isDeferred) {
          culprit = {
            script: library,
            why: `${place} reads “${read.name}”, and that script, deferred already, stands before it and would run first`,
          };
          break;
        }
        const why = whyNotMoved(script);
        if (why) {
          culprit = {
            script: library,
            why: `${place} reads “${read.name}” while the page is parsed, and ${why}`,
          };
          break;
        }
        moved.add(script);
        gather(script, library);
        grew = true;
      }
    }
    if (!culprit) return { deferred, moved: [...moved].sort((a, b) => a.line - b.line), refused };
    refused.set(culprit.script, culprit.why);
    deferred = deferred.filter((script) => script !== culprit.script);
  }
}

function before(a: PageScript, b: PageScript): boolean {
  return a.element.element.start < b.element.element.start;
}

function whyNotDeferred(script: PageScript): string | null {
  if (script.facts.unreadable) return `it could not be read (${script.facts.unreadable})`;
  const write = finding(script, 'document.write');
  if (write) return `it writes into the page while it is parsed: ${placeOf(script, write)}`;
  return null;
}

function whyNotMoved(script: PageScript): string | null {
  if (script.element.url !== null) return `${script.name} is not deferred with it`;
  return whyNotDeferred(script);
}

/**
 * The treatments of a script, each open or refused with the line that refuses it.
 *
 * @param deferredToo other scripts that are deferred as things stand: what reads this one may be among them
 */
export function offersFor(
  page: PageAssets,
  script: PageScript,
  deferredToo: readonly PageScript[] = [],
): Offer[] {
  const external = script.element.url !== null;
  const together = deferGroup(page, [script, ...deferredToo.filter((one) => one !== script)]);
  // What others bring along is theirs to tell.
  const readers = readersOf(page, script);
  const moved = together.moved.filter((one) => readers.includes(one));
  const readersNote = readers.length
    ? `${readers.length} ${readers.length === 1 ? 'script reads' : 'scripts read'} it: ${readers.map((r) => shortName(r)).join(', ')}`
    : null;
  const offers: Offer[] = [{ treatment: 'as-authored', refused: null, note: null }];
  const add = (treatment: ScriptTreatment, refused: string | null, note: string | null = null) =>
    offers.push({ treatment, refused, note: refused ? null : note });

  const write = finding(script, 'document.write');
  const unreadable = script.facts.unreadable ? `it could not be read (${script.facts.unreadable})` : null;
  const writes = write ? `document.write: ${placeOf(script, write)}` : null;
  const ready = finding(script, 'ready-listener') ?? finding(script, 'load-listener');
  const current = finding(script, 'currentScript');
  const currentNote = current ? `currentScript (${placeOf(script, current)}) still finds its element` : null;

  if (external) {
    const readyNote = ready ? `its listener (${placeOf(script, ready)}) is set in time` : null;
    const movedNote = moved.length
      ? `${moved.length} inline ${moved.length === 1 ? 'script moves' : 'scripts move'} after it`
      : null;
    add('defer', together.refused.get(script) ?? null, movedNote ?? readyNote ?? currentNote);
    const asyncReader = readers.find((reader) => reader.element.element.start > script.element.element.start);
    add(
      'async',
      unreadable ??
        writes ??
        (asyncReader ? `${shortName(asyncReader)} reads it before it might arrive` : null) ??
        (ready ? `its listener might be set too late: ${placeOf(script, ready)}` : null),
      currentNote,
    );
  } else {
    const refused =
      unreadable ??
      writes ??
      (current ? `currentScript would be another element: ${placeOf(script, current)}` : null);
    add('after-libraries', refused, 'becomes an external deferred file, in its order');
  }
  const hiding = findHiding(page);
  const snippet = hiding.find((one) => one.snippet === script || one.enders.includes(script));
  const stays = snippet ? whySnippetStays(page, snippet) : null;
  add(
    'delay',
    unreadable ??
      writes ??
      policyRefusal(page, 'delay') ??
      stays ??
      readersRefusal(readers, script) ??
      (ready ? `its listener waits for an event that is over by then: ${placeOf(script, ready)}` : null),
    script.facts.speaksOfConsent
      ? 'it asks for consent: never delayed by recommendation'
      : snippet
        ? 'the snippet that hides the page goes with it'
        : readersNote,
  );
  add(
    'left-out',
    readers.length ? readersNote : stays,
    snippet ? 'the snippet that hides the page goes with it' : null,
  );
  return offers;
}

/** The treatments of a stylesheet, each open or refused by the page's policy. */
export function styleOffersFor(page: PageAssets): Offer[] {
  const treatments: StylesheetTreatment[] = ['as-authored', 'fold-css-late', 'late', 'left-out'];
  return treatments.map((treatment) => ({
    treatment,
    refused: treatment === 'fold-css-late' || treatment === 'late' ? policyRefusal(page, treatment) : null,
    note: null,
  }));
}

/** What each treatment writes into the page, and for each of that by what it can be done. */
const WRITES: Record<'fold-css-late' | 'late' | 'delay', readonly (readonly InlineKind[])[]> = {
  'fold-css-late': [['style'], ['handler', 'script']],
  late: [['handler', 'script']],
  delay: [['script']],
};

const INLINE_WORDS: Record<InlineKind, string> = {
  style: 'styles in the page',
  script: 'new scripts in the page',
  handler: 'the attribute that lets a late sheet apply',
};

/** Why a page's Content-Security-Policy does not let a treatment be put in; null where it does, or there is none. */
export function policyRefusal(page: PageAssets, treatment: keyof typeof WRITES): string | null {
  for (const kinds of WRITES[treatment]) {
    const refused = kinds.flatMap((kind) => {
      const leave = inlineLeave(page.policies, kind);
      return leave.state === 'refused' ? [{ kind, by: leave.by }] : [];
    });
    const [first] = refused;
    if (first && refused.length === kinds.length)
      return `the page’s Content-Security-Policy refuses ${INLINE_WORDS[first.kind]} (${first.by})`;
  }
  return null;
}

/** What lets a late sheet apply once it is there: an attribute of its own, or where policies refuse that, a script. */
export function lateSwitchOf({ policies }: PageAssets): 'attribute' | 'script' {
  return inlineLeave(policies, 'handler').state === 'refused' ? 'script' : 'attribute';
}

/** The nonce that a new style or script has to carry; null for none. */
export function nonceFor({ policies }: PageAssets, kind: 'style' | 'script'): string | null {
  const leave = inlineLeave(policies, kind);
  return leave.state === 'let through' ? leave.nonce : null;
}

/** Scripts, and inline handlers of the page by name, that read what this one defines. */
export function readersOf(page: PageAssets, script: PageScript): PageScript[] {
  return page.scripts.filter(
    (other) => other !== script && other.facts.reads.some((read) => script.facts.defines.includes(read.name)),
  );
}

/** The `on…` attributes of the page that read one of the names. */
export function handlersThatRead(page: PageAssets, names: readonly string[]): HtmlHandler[] {
  return page.document.handlers.filter(({ code }) => namesReadBy(code).some((read) => names.includes(read)));
}

function readersRefusal(readers: readonly PageScript[], script: PageScript): string | null {
  const external = readers.find((reader) => reader.element.url !== null && before(script, reader));
  return external ? `${shortName(external)} needs it before an interaction` : null;
}

export function finding(script: PageScript, what: Finding['what']): Finding | undefined {
  return script.facts.findings.find((one) => one.what === what);
}

/** "line 41 of the page: `document.write(…)`". */
export function placeOf(script: PageScript, found: Finding): string {
  const line =
    script.element.url === null ? `line ${script.line + found.line - 1} of the page` : `line ${found.line}`;
  return `${line}: ${found.excerpt}`;
}

function shortName(script: PageScript): string {
  return script.element.url === null
    ? script.name
    : (script.name.split('/').at(-1)?.split('?')[0] ?? script.name);
}
