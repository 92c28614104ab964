import type { RuleKind } from '../plan.ts';
import type { Treatment } from '../treatment.ts';
import { afterLibraries } from './after-libraries.ts';
import { asAuthored } from './as-authored.ts';
import { afterPaint } from './after-paint.ts';
import { async } from './async.ts';
import { atRest } from './at-rest.ts';
import { dataEarly } from './data-early.ts';
import { defer } from './defer.ts';
import { delay } from './delay.ts';
import { dnsPrefetch } from './dns-prefetch.ts';
import { embedLate } from './embed-late.ts';
import { embedOnPress } from './embed-on-press.ts';
import { fontSubset } from './font-subset.ts';
import { foldCssHeld } from './fold-css-held.ts';
import { foldCssLate } from './fold-css-late.ts';
import { hintOut } from './hint-out.ts';
import { imageEarly } from './image-early.ts';
import { imageLate } from './image-late.ts';
import { imageLighter } from './image-lighter.ts';
import { imageRoom } from './image-room.ts';
import { imageEarlyWithRoom, imageLateWithRoom } from './image-with-room.ts';
import { importsEarly } from './imports-early.ts';
import { inlineScript } from './inline-script.ts';
import { inlineSheet } from './inline-sheet.ts';
import { late } from './late.ts';
import { leftOutScript } from './left-out-script.ts';
import { leftOutSheet } from './left-out-sheet.ts';
import { mergedDeferred } from './merged-deferred.ts';
import { mergedScripts } from './merged-scripts.ts';
import { mergedSheets } from './merged-sheets.ts';
import { minifiedScriptFile } from './minified-script.ts';
import { minifiedSheet } from './minified-sheet.ts';
import { modulesEarly } from './modules-early.ts';
import { nearView } from './near-view.ts';
import { ownHostScript } from './own-host-script.ts';
import { ownHostSheet } from './own-host-sheet.ts';
import { ownMedia } from './own-media.ts';
import { preconnect } from './preconnect.ts';
import { prefetch } from './prefetch.ts';
import { prefetchOnPress } from './prefetch-on-press.ts';
import { preload } from './preload.ts';
import { scriptEarly } from './script-early.ts';
import { swapFitted } from './swap-fitted.ts';
import { swapPreloadFitted } from './swap-preload-fitted.ts';
import { swapPreload } from './swap-preload.ts';
import { swap } from './swap.ts';
import { waits } from './waits.ts';

/** All treatments, by what they are for, in the order in which screens offer them. */
export const TREATMENTS: { readonly [K in RuleKind]: readonly Treatment<K>[] } = {
  script: [
    asAuthored('script'),
    defer,
    async,
    afterLibraries,
    waits,
    afterPaint,
    atRest,
    delay,
    nearView,
    inlineScript,
    scriptEarly,
    modulesEarly,
    minifiedScriptFile,
    mergedScripts,
    mergedDeferred,
    ownHostScript,
    leftOutScript,
  ],
  stylesheet: [
    asAuthored('stylesheet'),
    foldCssLate,
    foldCssHeld,
    late,
    inlineSheet,
    ownMedia,
    importsEarly,
    minifiedSheet,
    mergedSheets,
    ownHostSheet,
    leftOutSheet,
  ],
  font: [asAuthored('font'), swap, swapFitted, preload, swapPreload, swapPreloadFitted],
  'font-file': [asAuthored('font-file'), fontSubset],
  image: [asAuthored('image'), imageEarly, imageEarlyWithRoom, imageRoom, imageLate, imageLateWithRoom],
  'image-file': [asAuthored('image-file'), imageLighter],
  embed: [asAuthored('embed'), embedLate, embedOnPress],
  data: [asAuthored('data'), dataEarly],
  host: [asAuthored('host'), preconnect, dnsPrefetch, hintOut],
  next: [asAuthored('next'), prefetch, prefetchOnPress],
};

/** The treatment that a plan names; null for one that is none, or not for this kind of asset. */
export function treatmentOf<K extends RuleKind>(kind: K, id: string): Treatment<K> | null {
  return TREATMENTS[kind].find((one) => one.id === id) ?? null;
}

/** As screens and the command line name it. */
export function treatmentLabel(kind: RuleKind, id: string): string {
  return treatmentOf(kind, id)?.label ?? id;
}
