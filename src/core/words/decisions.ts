import { fileNameOf, hostOf } from '../path/names.ts';
import { treatmentLabel } from '../treat/treatments/index.ts';
import type { KnownBy, WideDecision } from '../treat/wide-decisions.ts';

const KNOWN: Record<KnownBy, (what: string) => string> = {
  address: (what) => `exactly ${what}`,
  content: (what) => `files with the bytes ${what.slice(0, 12)}…`,
  text: (what) => `inline scripts like ${what.slice(0, 60)}`,
  file: (what) => `the file ${fileNameOf(what)} of ${hostOf(what)}, whatever its version`,
  name: (what) => `files called ${what}, whatever their version`,
  defines: (what) => `what defines “${what}”`,
  host: (what) => `all from ${what}`,
  owner: (what) => `all of ${what}`,
};

/** How a decision knows its assets, in words. */
export function knownWords(knownBy: KnownBy, what: string): string {
  return KNOWN[knownBy](what);
}

/** A decision as a sentence: "All from chat.test: delay until interaction, for the whole site." */
export function wideDecisionSentence({
  kind,
  knownBy,
  what,
  treatment,
  family,
  why,
}: Pick<WideDecision, 'kind' | 'knownBy' | 'what' | 'treatment' | 'family' | 'why'>): string {
  const whom = family === null ? 'for the whole site' : `for the family ${family}`;
  const does = treatment === 'as-authored' ? 'never treated' : treatmentLabel(kind, treatment);
  const reason = why.trim().replace(/\.$/, '');
  return `${knownWords(knownBy, what)}: ${does}, ${whom}.${reason ? ` ${reason}.` : ''}`;
}
