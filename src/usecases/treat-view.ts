import { headlineOfSpreads, type HeadlineKey } from '../core/measure/headline.ts';
import type { PageEmbed } from '../core/embeds/page-embeds.ts';
import type { PageFont } from '../core/fonts/page-fonts.ts';
import type { PageImage } from '../core/images/page-images.ts';
import type { PageScript, PageStyle } from '../core/page/page-assets.ts';
import { broughtBy } from '../core/path/brought-by.ts';
import { partyOf, type Party } from '../core/path/party.ts';
import { bytes, capital } from '../core/path/words.ts';
import { faultsOf, type Exception, type Rehearsal } from '../core/rehearse/rehearsal.ts';
import { applyPlan, choicesOf } from '../core/treat/apply.ts';
import type { Change } from '../core/treat/compose.ts';
import { ownDecisions } from '../core/treat/decisions.ts';
import type { OwnDecision } from '../core/words/own-decision.ts';
import { missingFiles, missingSentence } from '../core/treat/missing.ts';
import { isLone } from '../core/treat/lone.ts';
import { loneOffers, scriptOffers, styleOffers, type Offer } from '../core/treat/offers.ts';
import { activeRules, matchText, sameMatch, type Plan, type PlanRule } from '../core/treat/plan.ts';
import type { Rebound } from '../core/treat/rebind.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import type { Scene } from '../core/treat/treatment.ts';
import {
  KNOWN_BY,
  keysOf,
  type DecisionOutcome,
  type KnownBy,
  type WideDecision,
} from '../core/treat/wide-decisions.ts';
import { knownWords, wideDecisionSentence } from '../core/words/decisions.ts';
import type { Queries } from '../store/database.ts';
import { evidenceOf, type Evidence } from '../store/rehearsals.ts';
import { reboundOf } from '../store/proofs.ts';
import { findPage } from '../store/sites.ts';
import { caveatsOf, emptyPaintOf } from './caveats.ts';
import { lighterView, type LighterView } from './lighter-view.ts';
import { mapOf } from './map-view.ts';
import { ruleLabel } from './rule-label.ts';
import { measuredPage, planFor, sceneFor } from './stored-page.ts';

export interface TreatRow {
  rule: PlanRule;
  /** Its address, or what the page calls it. */
  label: string;
  wireBytes: number | null;
  party: Party;
  hold: string | null;
  /** What it is in the page as authored: "parser-blocking". */
  start: string;
  evidence: string | null;
  /** Addresses of what the page asks for because of it. */
  brings: string[];
  treatmentLabel: string;
  offers: Offer[];
  notApplied: string | null;
  changes: Change[];
  rehearsed: RehearsedState;
  /** By what a decision for more pages may know it again, each in words. */
  known: { knownBy: KnownBy; what: string; words: string }[];
  /** What rehearsing it showed, where it is at fault, and the pictures of that. */
  fault: string | null;
  evidencePictures: Evidence | null;
  /** The address of what it goes with, under that one's rule. */
  goesWith: string | null;
}

/** What was decided for more pages than this. */
export interface WideShown {
  id: number;
  sentence: string;
  spared: readonly string[];
  /** What came of it on this page. */
  here: string;
}

/** A rehearsal as a screen tells it, each exception with the treatment as it is called. */
export type ShownRehearsal = Omit<Rehearsal, 'plan' | 'exceptions'> & {
  exceptions: (Exception & { label: string })[];
};

/** What rehearsing says of a rule: it does no harm; it does; it did, and has become something weaker, or nothing. */
export type RehearsedState = 'not yet' | 'holds' | 'breaks' | 'weakened' | 'excepted' | 'does nothing';

export interface TreatView {
  plan: Plan;
  own: boolean;
  /** Null until the plan has been rehearsed. */
  rehearsal: ShownRehearsal | null;
  /** The user's own plan without what rehearsing found at fault; null where there is no such thing. */
  withoutFaults: Plan | null;
  /** What the user decided over the recommendation; none while the recommended plan is followed. */
  decisions: OwnDecision[];
  /** What is recommended. */
  recommended: Plan;
  /** What was decided for the page's family and site, each as a sentence, and what came of it here. */
  wide: WideShown[];
  /** The family that the page is of; '' for none. */
  family: string;
  /** What the capture does not hold, and what that keeps from being done; null where it holds all. */
  missing: string | null;
  /** What became of the user's own plan when the page was captured again; null once it was seen. */
  rebound: Rebound | null;
  rows: TreatRow[];
  /** The headline as is. */
  headlineMs: number | null;
  headline: HeadlineKey;
  emptyPaint: string | null;
  caveats: string[];
  foldState: 'none' | 'proved' | 'not proved';
  /** Null where it has no images. */
  lighter: LighterView | null;
}

export async function treatView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<TreatView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const now = await planFor(queries, pageId, page);
  const { plan, own, fold, next, recommended, wide, rehearsal } = now;
  const evidence = await evidenceOf(queries, pageId, now.rehearsalKey);
  const scene = sceneFor(page, fold, next);
  const treated = applyPlan(scene, plan);
  const { map } = mapOf(page, fold);
  const scriptOf = ({ match }: PlanRule) => page.assets.scripts.find((one) => sameMatch(one.match, match));
  const chosen = choicesOf(scene, plan);
  const ahead = ({ kind, match }: PlanRule) =>
    kind === 'next' ? next.find((one) => one.url === matchText(match)) : undefined;
  const offersFor = (rule: PlanRule): Offer[] => {
    if (isLone(rule.kind)) return loneOffers(scene, rule.kind, rule.match);
    const script = rule.kind === 'script' ? scriptOf(rule) : undefined;
    if (script) return scriptOffers(scene, script, chosen);
    const style = page.assets.styles.find((one) => sameMatch(one.match, rule.match));
    return style ? styleOffers(scene, style, chosen) : [];
  };
  return {
    plan,
    own,
    rehearsal: rehearsal && shownRehearsal(rehearsal),
    recommended,
    decisions: own ? ownDecisions(plan, recommended) : [],
    wide: wide.decisions.map((one) => shownDecision(one, wide.outcomes)),
    family: (await findPage(queries, pageId))?.family ?? '',
    missing: missingSentence(missingFiles(page.assets)),
    rebound: own ? await reboundOf(queries, pageId) : null,
    withoutFaults: own && rehearsal && faultsOf(rehearsal).length ? rehearsal.plan : null,
    headlineMs: map.headlineMs,
    headline: headlineOfSpreads(page.measurement.spreads),
    emptyPaint: emptyPaintOf(page.measurement),
    caveats: caveatsOf(page.measurement),
    lighter: await lighterView(queries, pageId, page, scene, plan),
    foldState: fold ? (fold.proved || fold.accepted ? 'proved' : 'not proved') : 'none',
    rows: plan.rules.map((rule): TreatRow => {
      const asset = map.assets.find((one) => one.url === matchText(rule.match));
      const script = scriptOf(rule);
      return {
        rule,
        label: script && script.element.url === null ? script.name : ruleLabel(rule, scene.embeds),
        wireBytes: asset?.wireBytes ?? ahead(rule)?.wireBytes ?? null,
        party: asset?.party ?? partyOf(matchText(rule.match), page.capture.documentUrl),
        hold: asset?.hold ?? null,
        start: startOf(
          rule,
          script,
          page.assets.styles.find((one) => sameMatch(one.match, rule.match)),
          scene.images.find((one) => one.url === matchText(rule.match)),
          scene.embeds.find((one) => one.url === matchText(rule.match)),
          scene.fonts.find((one) => one.url === matchText(rule.match)),
        ),
        evidence: asset?.evidence ?? null,
        brings: asset ? broughtBy(map.assets, asset.url) : [],
        treatmentLabel: treatmentLabel(rule.kind, rule.treatment),
        offers: offersFor(rule),
        notApplied: treated.notApplied.find((one) => one.ruleId === rule.id)?.why ?? null,
        changes: treated.changes.filter((change) => change.ruleId === rule.id),
        rehearsed: rehearsedState(rule, own, rehearsal),
        known: knownAs(scene, rule),
        fault: rehearsal?.exceptions.find((one) => one.ruleId === rule.id)?.evidence ?? null,
        evidencePictures: evidence.get(rule.id) ?? null,
        goesWith: goesWithIn(plan, rule),
      };
    }),
  };
}

/** What an asset without a treatment of its own goes with, under the switch of that one's rule. */
function goesWithIn(plan: Plan, { match, treatment }: PlanRule): string | null {
  if (treatment !== 'as-authored') return null;
  const bringer = activeRules(plan).find((one) => one.together?.some((other) => sameMatch(other, match)));
  return bringer ? matchText(bringer.match) : null;
}

/** More names than these are not offered: of a library with hundreds each one would do. */
const MOST_DEFINED = 3;

function knownAs(scene: Scene, { kind, match }: PlanRule): TreatRow['known'] {
  return KNOWN_BY.flatMap((knownBy) =>
    keysOf(scene, kind, match, knownBy)
      .slice(0, MOST_DEFINED)
      .map((what) => ({ knownBy, what, words: capital(knownWords(knownBy, what)) })),
  );
}

function shownDecision(decision: WideDecision, outcomes: readonly DecisionOutcome[]): WideShown {
  const { id, spared } = decision;
  const outcome = outcomes.find((one) => one.decisionId === id)!;
  const [refused] = outcome.refused;
  const done = outcome.ruleIds.length;
  const here = outcome.spared
    ? 'This page is left alone.'
    : [
        done ? `${done} ${done === 1 ? 'rule' : 'rules'} of this page.` : '',
        refused ? `Refused here: ${refused.why}.` : done ? '' : 'This page has nothing like it.',
      ]
        .filter(Boolean)
        .join(' ');
  return { id, sentence: capital(wideDecisionSentence(decision)), spared, here };
}

/** Where an asset starts from, before anything is done to it. */
function startOf(
  rule: PlanRule,
  script: PageScript | undefined,
  style: PageStyle | undefined,
  image: PageImage | undefined,
  embed: PageEmbed | undefined,
  font: PageFont | undefined,
): string {
  if (rule.kind === 'font') return 'found in CSS';
  if (rule.kind === 'font-file') return font?.smaller ? bytes(font.smaller.bytes) : 'not in the page';
  if (rule.kind === 'host') return rule.treatment === 'hint-out' ? 'hinted at' : 'found late';
  if (rule.kind === 'next') return 'on the next page';
  if (rule.kind === 'data') return 'asked by a script';
  if (rule.kind === 'embed') return embed ? placeWords(embed.aboveFold) : 'not in the page';
  if (rule.kind === 'image-file') return image?.lighter ? bytes(image.lighter.bytes) : 'not in the page';
  if (rule.kind === 'image') return image ? imageStart(image) : 'not in the page';
  if (style?.element.printOnly) return 'for print';
  if (rule.kind === 'stylesheet') return 'render-blocking';
  if (!script) return 'not in the page';
  const { async, defer, module, url } = script.element;
  if (url === null) return module ? 'inline module' : 'inline';
  if (async) return 'async';
  return module ? 'module' : defer ? 'deferred' : 'parser-blocking';
}

function imageStart({ behind, elements, aboveFold, isLargest }: PageImage): string {
  if (behind !== null) return 'found in CSS';
  if (elements.every((one) => one.attributes['loading'] === 'lazy')) return 'lazy';
  if (isLargest) return 'largest paint';
  return placeWords(aboveFold);
}

function placeWords(aboveFold: boolean | null): string {
  if (aboveFold === null) return 'place unknown';
  return aboveFold ? 'on first screen' : 'further down';
}

function shownRehearsal({ plan, exceptions, ...rest }: Rehearsal): ShownRehearsal {
  const kindOf = (id: string) => plan.rules.find((rule) => rule.id === id)!.kind;
  return {
    ...rest,
    exceptions: exceptions.map((one) => ({
      ...one,
      label: treatmentLabel(kindOf(one.ruleId), one.treatment),
    })),
  };
}

function rehearsedState(rule: PlanRule, own: boolean, rehearsal: Rehearsal | null): RehearsedState {
  const fault = rehearsal?.exceptions.some((one) => one.ruleId === rule.id);
  if (fault && own) return 'breaks';
  if (fault) return rule.treatment === 'as-authored' ? 'excepted' : 'weakened';
  if (!rule.on || rule.treatment === 'as-authored') return 'does nothing';
  if (rehearsal === null) return 'not yet';
  return rehearsal.gaveUp ? 'breaks' : 'holds';
}
