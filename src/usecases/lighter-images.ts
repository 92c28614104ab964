import { changesSince } from '../core/fold/staleness.ts';
import type { LighterImages } from '../core/images/lighter.ts';
import type { Bodies, Capture } from '../core/measure/exchange.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import type { MadeLighter } from '../engine/images/make-lighter-images.ts';
import type { Queries } from '../store/database.ts';
import { keepLighter, lighterBodies, lighterOf, type StoredLighter } from '../store/lighter-images.ts';

/** Keeps lighter images that were made from a capture, in the place of those of before. Call it inside a transaction. */
export function keepMadeLighter(
  queries: Queries,
  pageId: number,
  captureId: number,
  { capture, bodies }: { capture: Capture; bodies: Bodies },
  made: MadeLighter,
): Promise<void> {
  // With other styles or elements images may be shown in another size.
  const { fingerprint } = new CapturedPage(capture, bodies);
  return keepLighter(queries, pageId, captureId, { ...made.lighter, fingerprint }, made.bodies);
}

/** Why what was made is of no use for a capture; none where it is. */
export function whyLighterStale(
  stored: StoredLighter,
  captureId: number,
  capture: Capture,
  bodies: Bodies,
): string[] {
  if (stored.captureId === captureId) return [];
  const page = new CapturedPage(capture, bodies);
  if (!page.hasDocument) return ['The capture holds no HTML.'];
  return changesSince(stored.fingerprint, page.fingerprint);
}

/** A capture with the lighter images that were made for its page, where they are of use for it, and the bodies of both. */
export async function withLighter(
  queries: Queries,
  pageId: number,
  captureId: number,
  capture: Capture,
  bodies: Map<string, Uint8Array>,
): Promise<{ capture: Capture; bodies: Map<string, Uint8Array> }> {
  const stored = await lighterOf(queries, pageId);
  if (!stored || whyLighterStale(stored, captureId, capture, bodies).length) return { capture, bodies };
  const versions = await lighterBodies(queries, pageId);
  return {
    capture: { ...capture, lighter: stillTheSame(stored, capture) },
    bodies: new Map([...bodies, ...versions]),
  };
}

/** A file that has changed is another picture. */
function stillTheSame({ takenAt, images, stay }: LighterImages, { exchanges }: Capture): LighterImages {
  const held = new Set(exchanges.map(({ url, bodyHash }) => `${bodyHash} ${url}`));
  return { takenAt, images: images.filter(({ url, of }) => held.has(`${of} ${url}`)), stay };
}
