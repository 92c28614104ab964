import type { PageScript } from '../page/page-assets.ts';
import { hidingStays } from './hiding.ts';
import { findingIn, placeOf, tiedToPlace } from './places.ts';
import { policyRefusal } from './policy.ts';
import type { Refusal } from './refusal.ts';
import type { Scene } from './treatment.ts';

/** Why a script cannot wait until the page is parsed and more, as a loader of ours runs it then; null where it can. */
export function waitingRefusal(script: PageScript, scene: Scene): Refusal | null {
  const tied = tiedToPlace(script) ?? policyRefusal(scene.page, [['script']]) ?? hidingStays(script, scene);
  if (tied) return tied;
  const ready = findingIn(script, 'ready-listener', 'load-listener');
  return ready ? { code: 'event-is-over', place: placeOf(script, ready), certain: true } : null;
}
