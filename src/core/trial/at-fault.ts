import type { Break, BreakKind } from './breaks.ts';
import type { FirstPicture } from './first-picture.ts';
import { failedOnlyTreated, missingTreated, type AskedRequest } from './requests.ts';
import { answeredLater, type TapCheck } from './tap-answers.ts';

/** The rule by which a trial's page breaks in one way. */
export interface AtFault {
  kind: BreakKind;
  /** Whether it breaks so on the other kind of device, and not on this one. */
  onOther: boolean;
  /** Null where none was found, or there was no time left. */
  ruleId: string | null;
  /** Whether the page with all of the plan but this rule no longer breaks so. */
  goneWithout: boolean;
}

/** What a trial found that a rule is looked for. */
export interface FoundBroken {
  consoleErrors: { asIs: readonly string[]; treated: readonly string[] };
  failedRequests: readonly string[];
  missingRequests: readonly string[];
  firstPicture: FirstPicture | null;
}

/** Loads of the page with some of a plan's rules. */
export interface SeenWithSome {
  consoleErrors: readonly string[];
  /** Of each load, all its requests. */
  asked: readonly (readonly AskedRequest[])[];
  /** Addresses that those rules take out, with what these made the page ask for. */
  takenOut: readonly string[];
  /** Of each load, which share of the screen shows something first and something else in the end, 0 to 1. */
  redrawn: readonly number[];
  taps: readonly TapCheck[];
}

/** The ways of breaking that a rule is looked for, each once; what rehearsing found has its rules already. */
export function kindsToFind(breaks: readonly Break[]): BreakKind[] {
  return [...new Set(breaks.map(({ kind }) => kind))].filter((kind) => kind !== 'rehearsal');
}

/**
 * Whether the page with some of the rules breaks as the one with all of them did.
 *
 * @param asIs requests of each load as is
 */
export function breaksLikewise(
  kind: BreakKind,
  found: FoundBroken,
  asIs: readonly (readonly AskedRequest[])[],
  seen: SeenWithSome,
): boolean {
  switch (kind) {
    case 'console': {
      const { asIs: before, treated } = found.consoleErrors;
      return seen.consoleErrors.some((text) => treated.includes(text) && !before.includes(text));
    }
    case 'failed-requests':
      return failedOnlyTreated(asIs, seen.asked).some((url) => found.failedRequests.includes(url));
    case 'missing-requests':
      return missingTreated(asIs, seen.asked, seen.takenOut).some((url) =>
        found.missingRequests.includes(url),
      );
    case 'first-picture':
      // Half of it may be another rule's, or chance.
      return (
        found.firstPicture !== null &&
        Math.min(...seen.redrawn) - found.firstPicture.asIs >= found.firstPicture.difference / 2
      );
    case 'late-answers':
      return answeredLater(seen.taps).length > 0;
    case 'rehearsal':
      return false;
  }
}
