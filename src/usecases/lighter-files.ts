import { changesSince } from '../core/fold/staleness.ts';
import type { Bodies, Capture } from '../core/measure/exchange.ts';
import type { LighterFiles } from '../core/measure/lighter-files.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import type { MadeLighter } from '../engine/lighter/make-lighter-files.ts';
import type { PageOfTexts } from '../engine/lighter/painted-characters.ts';
import { bodiesOf, capturedNeighbours, findCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { keepLighter, lighterBodies, lighterOf, type StoredLighter } from '../store/lighter-files.ts';
import { stateOf } from '../store/states.ts';

/** More captured pages of a site than these are not looked at for their texts. */
const MOST_OTHERS = 8;

/** The other captured pages of a page's site: they are set in the same fonts. */
export async function pagesBeside(queries: Queries, pageId: number): Promise<PageOfTexts[]> {
  const all = (await capturedNeighbours(queries, pageId)).slice(0, MOST_OTHERS);
  const found = await Promise.all(
    all.map(async ({ captureId }): Promise<PageOfTexts[]> => {
      const stored = await findCapture(queries, captureId);
      if (!stored || !new CapturedPage(stored.capture, new Map()).exchange(stored.capture.documentUrl))
        return [];
      const [bodies, state] = await Promise.all([bodiesOf(queries, captureId), stateOf(queries, captureId)]);
      return [{ capture: stored.capture, bodies, state }];
    }),
  );
  return found.flat();
}

/** Keeps lighter files that were made from a capture, in the place of those of before. Call it inside a transaction. */
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

/** A capture with the lighter files that were made for its page, where they are of use for it, and the bodies of both. */
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

/** A file that has changed is another picture, another font, or another embed. */
function stillTheSame(
  { images, fonts, embeds, ...others }: LighterFiles,
  { exchanges }: Capture,
): LighterFiles {
  const held = new Set(exchanges.map(({ url, bodyHash }) => `${bodyHash} ${url}`));
  const isHeld = ({ url, of }: { url: string; of: string }) => held.has(`${of} ${url}`);
  return {
    ...others,
    images: images.filter(isHeld),
    fonts: fonts.filter(isHeld),
    embeds: embeds.filter(isHeld),
  };
}
