import type { TrialChecks } from '../../src/core/trial/verdict.ts';

/** Nothing besides time that differs; it was not rehearsed. */
export const NOTHING_BESIDES: TrialChecks = {
  finalPictureDiffers: 0,
  consoleErrors: { asIs: [], treated: [] },
  unexplainedRequests: [],
  failedRequests: [],
  missingRequests: [],
  doubledRequests: [],
  rehearsal: null,
  otherDevice: null,
  returning: null,
  afterTouch: null,
  firstPicture: null,
  taps: [],
  atFault: [],
};
