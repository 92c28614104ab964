import { parse, type Program } from 'acorn';
import { Bindings } from './bindings.ts';
import { effectsOf, type ScriptEffects } from './effects.ts';
import { findingsIn, type Finding } from './findings.ts';
import { marksIn } from './marks.ts';
import { Phases } from './phases.ts';
import { PLATFORM } from './platform.ts';
import { topLevelOf, type TopLevel } from './top-level.ts';

/** What a script needs and what it gives, found by parsing it. */
export interface ScriptFacts {
  /** Global names it defines: top-level declarations, assignments to window.x and to undeclared names. */
  defines: string[];
  /** Global names it reads at any depth, less its own and the platform's. */
  reads: { name: string; line: number }[];
  findings: Finding[];
  /** Classes (`.name`) and attributes (`[name]`) it puts on, and takes from, any element. */
  addsMarks: string[];
  removesMarks: string[];
  /** String literals that name the class of a consent or cookie interface. */
  speaksOfConsent: boolean;
  effects: ScriptEffects;
  topLevel: TopLevel;
  /** The message of the parser when the script could not be read; then nothing else is known. */
  unreadable: string | null;
}

const CONSENT = /consent|cookie[-_ ]?(notice|banner|bar|choice|preference|law)|gdpr|__tcfapi/i;

/** What is no name of a script's: shared state of the page. */
const NO_NAME = /^(\*|\?|event|document\..*|localStorage|sessionStorage)$/;

const NO_EFFECTS: ScriptEffects = { accesses: [], elements: [], properties: new Map(), hearsPage: null };
const NO_TOP: TopLevel = { strict: false, declared: new Set() };

/**
 * Parses a script and says what it defines, reads and does that matters to when it may run.
 *
 * @param source script text; null where it is not known: then nothing may be said of it
 * @param kind how it is parsed; a classic script that only parses as a module is unreadable
 */
export function analyseScript(source: string | null, kind: 'script' | 'module' = 'script'): ScriptFacts {
  const facts: ScriptFacts = {
    defines: [],
    reads: [],
    findings: [],
    addsMarks: [],
    removesMarks: [],
    speaksOfConsent: CONSENT.test(source ?? ''),
    effects: NO_EFFECTS,
    topLevel: NO_TOP,
    unreadable: source === null ? 'its text is not in the capture' : null,
  };
  if (source === null) return facts;
  try {
    const program = parseScript(source, kind);
    const bindings = new Bindings(program, kind);
    const phases = new Phases(bindings);
    const all = effectsOf(bindings, phases);
    // What the top of a module declares is its own.
    const own = new Set(bindings.topNames);
    const effects =
      kind === 'script' ? all : { ...all, accesses: all.accesses.filter(({ name }) => !own.has(name)) };
    return {
      ...facts,
      effects,
      topLevel: topLevelOf(program),
      defines: namesWith(effects, /^(write|stub)$/).map(({ name }) => name),
      reads: namesWith(effects, /^(read|touch|push)$/).filter(({ name }) => !own.has(name)),
      findings: findingsIn(bindings, phases, source),
      ...marksIn(bindings),
    };
  } catch (error) {
    // Nested too deeply for the parser is not read either.
    facts.unreadable = error instanceof Error ? error.message : String(error);
    return facts;
  }
}

function parseScript(source: string, kind: 'script' | 'module'): Program {
  return parse(source, {
    ecmaVersion: 'latest',
    sourceType: kind,
    locations: true,
    // Scopes are told by them.
    ranges: true,
    allowHashBang: true,
    allowReturnOutsideFunction: false,
  });
}

function namesWith(effects: ScriptEffects, kinds: RegExp): { name: string; line: number }[] {
  const lines = new Map<string, number>();
  for (const { name, kind, line, members } of effects.accesses) {
    if (!kinds.test(kind) || NO_NAME.test(name) || PLATFORM.has(name)) continue;
    // A part of a name is not the name.
    if (/write/.test(kind) && members?.size !== 0) continue;
    lines.set(name, Math.min(line, lines.get(name) ?? Infinity));
  }
  return [...lines].map(([name, line]) => ({ name, line }));
}

/** What an inline event handler, or an address that is a script, needs and does. */
export function analyseHandler(code: string): ScriptFacts {
  return analyseScript(`(function(event){${code}\n})`);
}

/** Names an inline event handler or expression reads. */
export function namesReadBy(handler: string): string[] {
  return analyseHandler(handler).reads.map((read) => read.name);
}
