import type { FoldRecord } from '../core/fold/record.ts';
import type { Bodies, Capture } from '../core/measure/exchange.ts';
import { headersOf } from '../core/measure/headers.ts';
import type { RequestTiming } from '../core/measure/run.ts';
import { applyPlan, type FoldForSheet, type TreatedPage } from '../core/treat/apply.ts';
import { readFonts } from '../core/fonts/page-fonts.ts';
import { readPageAssets, type PageAssets } from '../core/treat/page-assets.ts';
import type { Plan, Risk } from '../core/treat/plan.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import type { Override } from './replay/archive.ts';
import { bodyOf, contentTypeOf, decodeText, exchangeOf } from './stored-page.ts';
import { Trouble } from './errors.ts';

/** What of a fold result treating needs. */
export type FoldOutcome = Pick<FoldRecord, 'sheets' | 'proved' | 'foldFonts' | 'late'> & {
  /** The user decided to use it although it is not proved. */
  accepted?: boolean;
};

/** The captured page as the treatments see it. @throws Trouble when the capture holds no HTML */
export function pageAssetsOf(
  capture: Capture,
  bodies: Bodies,
  requests: readonly RequestTiming[],
): PageAssets {
  const html = bodyOf(capture, bodies, capture.documentUrl);
  if (!html) throw new Trouble('input', 'The capture holds no HTML of the page. Measure it again.');
  return readPageAssets(html, capture.documentUrl, (url) => decodeText(capture, bodies, url), requests, {
    contentType: contentTypeOf(capture, capture.documentUrl),
    policies: headersOf(
      exchangeOf(capture, capture.documentUrl)?.responseHeaders ?? [],
      'content-security-policy',
    ),
  });
}

/** The recommended plan for a captured page. */
export function recommendFor(
  capture: Capture,
  bodies: Bodies,
  page: PageAssets,
  fold: FoldOutcome | null,
  risk: Risk = 'medium',
): Plan {
  const fonts = readFonts(page, capture.exchanges, fold?.foldFonts ?? [], (url) =>
    decodeText(capture, bodies, url),
  );
  const facts = fold && {
    proved: fold.proved || (fold.accepted ?? false),
    sheets: fold.sheets.map((sheet) => ({
      url: sheet.url,
      keptRules: sheet.kept.length,
      rules: sheet.rules,
      foldBytes: sheet.foldBytes,
    })),
  };
  return recommendPlan(page, fonts, facts, risk);
}

/** Applies a plan to a captured page. */
export function treat(
  capture: Capture,
  bodies: Bodies,
  page: PageAssets,
  plan: Plan,
  fold: FoldOutcome | null,
): TreatedPage {
  return applyPlan(page, plan, foldForSheets(fold), (url) => decodeText(capture, bodies, url));
}

function foldForSheets(fold: FoldOutcome | null): FoldForSheet[] {
  const refused =
    fold && !fold.proved && !fold.accepted
      ? 'Its fold CSS is not proved. Look at what differs, then decide to use it in the Fold CSS stage.'
      : null;
  return (fold?.sheets ?? []).map((sheet) => ({
    url: sheet.url,
    css: sheet.css,
    rest: fold?.late?.files.find((file) => file.sheetUrl === sheet.url)?.css ?? null,
    refused,
  }));
}

/** What the treated arm serves in place of, or besides, the captured bytes. */
export function overridesOf(capture: Capture, treated: TreatedPage): Override[] {
  return [
    { url: capture.documentUrl, mimeType: 'text/html', body: treated.html, isNew: false },
    ...treated.files.map((file) => ({
      url: file.url,
      mimeType: file.mimeType,
      body: new TextEncoder().encode(file.text),
      isNew: file.isNew,
    })),
  ];
}
